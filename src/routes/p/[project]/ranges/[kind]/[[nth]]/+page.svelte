<script lang="ts">
	import { page } from '$app/state';
	import type { Intention } from '$core/edits';
	import { withTicket } from '$ui/frame/address';
	import { arrowKeys } from '$ui/frame/move';
	import PlanDialog from '$ui/plan/PlanDialog.svelte';
	import RangeField from '$ui/charts/RangeField.svelte';

	let { data } = $props();
	const ranges = $derived(data.ranges);
	let plan = $state<Intention | null>(null);
	let chosen = $state<string | null>(null);
	const band = $derived(ranges.bands.find(({ id }) => id === chosen) ?? null);
	const area = (list: [number, number][][]) =>
		list.reduce((sum, cell) => sum + cell.reduce((size, [from, to]) => size * (to - from), 1), 0);
	const whole = $derived(ranges.axes.reduce((size, { low, high }) => size * (high - low), 1));
	const share = (list: [number, number][][]) => `${Math.round((area(list) / Math.max(1e-9, whole)) * 100)} %`;

	function change(id: string, next: [number, number][]) {
		const old = ranges.bands.find((one) => one.id === id)!.ranges;
		const values = ranges.axes.flatMap(({ from, to }, axis) => [
			...(next[axis]![0] === old[axis]![0] ? [] : [{ field: from, value: String(next[axis]![0]) }]),
			...(next[axis]![1] === old[axis]![1] ? [] : [{ field: to, value: String(next[axis]![1]) }])
		]);
		if (values.length > 0) plan = { do: 'fill', kind: ranges.kind, id, values, from: '' };
	}
	function typed(axis: number, end: 0 | 1, text: string) {
		if (!band || text.trim() === '' || !Number.isFinite(Number(text))) return;
		change(
			band.id,
			band.ranges.map((range, at): [number, number] =>
				at !== axis ? range : end === 0 ? [Number(text), range[1]] : [range[0], Number(text)]
			)
		);
	}
	const said = (cell: [number, number][]) =>
		cell.map(([from, to], axis) => `${ranges.axes[axis]!.title.toLowerCase()} ${from} to ${to}`).join(', ');
</script>

<svelte:head><title>{ranges.title}: ranges · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-6xl px-6 py-5">
	<p class="text-steam">
		<a class="follow" href="/p/{data.project.slug}/tables/{ranges.kind}">{ranges.title}</a> ·
		<a class="follow" href="/p/{data.project.slug}/guide/{ranges.kind}">Field guide</a>
	</p>
	<h1>{ranges.title}: what is covered</h1>
	<p class="mt-1 text-steam">
		{ranges.bands.length} rules over {ranges.axes.map(({ from, to }) => `${from} to ${to}`).join(' and ')}.
		{ranges.open.length === 0
			? 'There are no gaps.'
			: `${share(ranges.open)} ${ranges.fallback ? `falls to ${ranges.fallback}` : 'is not covered'}.`}
		{ranges.twice.length === 0
			? 'Nothing is covered twice.'
			: `${share(ranges.twice.map((cell) => cell.ranges))} is covered more than once: the first rule wins there.`}
	</p>
	<div class="mt-3 flex flex-wrap items-start gap-5">
		<RangeField {ranges} bind:chosen {change} />
		<div class="min-w-60 flex-1">
			{#if band}
				<h2 class="flex items-baseline gap-3">
					{band.name}
					<a class="follow text-[12px] font-normal" href={withTicket(page.url, ranges.kind, band.id)}
						>Open its ticket</a
					>
				</h2>
				{#each ranges.axes as axis, at (axis.from)}
					<div class="mt-2 flex items-center gap-2">
						<span class="w-24 text-steam">{axis.title}{axis.unit ? `, ${axis.unit}` : ''}</span>
						<input
							class="box w-20 text-right font-mono"
							aria-label="{axis.from} of {band.id}"
							value={band.ranges[at]![0]}
							onchange={(event) => typed(at, 0, event.currentTarget.value)}
						/>
						to
						<input
							class="box w-20 text-right font-mono"
							aria-label="{axis.to} of {band.id}"
							value={band.ranges[at]![1]}
							onchange={(event) => typed(at, 1, event.currentTarget.value)}
						/>
					</div>
				{/each}
			{:else}
				<p class="text-steam">Choose a rule in the drawing or in the list, or drag one of its edges.</p>
			{/if}
			<h2 class="mt-5">Rules, in the order that counts</h2>
			<ol class="mt-1 max-h-72 overflow-auto" {@attach arrowKeys}>
				{#each ranges.bands as one (one.id)}
					<li>
						<button
							data-move
							class="flex w-full gap-3 rounded px-2 py-0.5 text-left hover:bg-wash {one.id === chosen
								? 'bg-wash'
								: ''} {one.mine ? 'mine-bar' : ''}"
							onclick={() => (chosen = one.id)}
							><span class="min-w-28 {one.mine ? 'text-copper' : ''}">{one.name}</span><span
								class="text-[12px] text-steam">{said(one.ranges)}</span
							></button
						>
					</li>
				{/each}
			</ol>
			{#if ranges.twice.length > 0}
				<h2 class="mt-5">Covered more than once</h2>
				<ul class="mt-1">
					{#each ranges.twice.slice(0, 12) as cell (said(cell.ranges))}
						<li class="text-[12px]">
							{said(cell.ranges)}: {cell.over.map((nth) => ranges.bands[nth]!.id).join(', ')}
						</li>
					{/each}
				</ul>
			{/if}
			{#if ranges.open.length > 0}
				<h2 class="mt-5">{ranges.fallback ? `Falls to ${ranges.fallback}` : 'Not covered'}</h2>
				<ul class="mt-1">
					{#each ranges.open.slice(0, 12) as cell (said(cell))}<li class="text-[12px]">
							{said(cell)}
						</li>{/each}
				</ul>
			{/if}
		</div>
	</div>
</div>
<PlanDialog slug={data.project.slug} bind:intention={plan} />
