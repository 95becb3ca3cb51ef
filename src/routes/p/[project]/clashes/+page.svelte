<script lang="ts">
	import { counted } from '$core/wording';
	import type { Intention } from '$core/edits';
	import type { ClashView } from '$core/views';
	import { settledStep } from '$core/layers';
	import PlanDialog from '$ui/plan/PlanDialog.svelte';
	import ClashCard from '$ui/project/ClashCard.svelte';

	/** What two or more layers change, and what is to count. */
	let { data } = $props();

	let chosen = $state<Record<string, string>>({});
	let plan = $state<Intention | null>(null);
	const keyOf = ({ kind, record, field }: ClashView) => `${kind}\n${record}\n${field}`;

	const FILTERS = [
		['open', 'To decide'],
		['mine', 'With my mod'],
		['breaks', 'With a snag'],
		['differs', 'Different values'],
		['all', 'All']
	] as const;
	/** Clashes of which only one layer truly changes the value, and another one wins. */
	const byRule = $derived(
		data.clashes.filter((clash) => clash.rule !== null && clash.rule !== clash.values.at(-1)!.value)
	);
	const settled = $derived(
		data.clashes.flatMap((clash) => {
			const value = chosen[keyOf(clash)];
			const expected = clash.values.at(-1)!.value;
			return value === undefined || clash.kind === null || clash.field === null || value === expected
				? []
				: [{ kind: clash.kind, id: clash.record, field: clash.field, value, expected }];
		})
	);

	function choose(clash: ClashView, value: string | undefined): void {
		if (value === undefined) delete chosen[keyOf(clash)];
		else chosen[keyOf(clash)] = value;
	}
	function rule(): void {
		for (const clash of byRule) chosen[keyOf(clash)] = clash.rule!;
	}
	function preview(): void {
		plan = settledStep(settled, `Settle ${counted(settled.length, 'value')} that several layers change`);
	}
</script>

<svelte:head><title>What several layers change · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-5xl px-6 py-5">
	<p class="text-steam"><a class="follow" href="/p/{data.slug}/setup">Set up</a></p>
	<h1>What several layers change</h1>
	<p class="mt-1 text-steam">The last layer wins. What you choose instead goes into your mod, as one step.</p>
	<nav class="mt-3 flex flex-wrap gap-2" aria-label="Show">
		{#each FILTERS as [only, title] (only)}
			<a
				class="press {data.only === only ? 'main' : ''}"
				aria-current={data.only === only ? 'page' : undefined}
				href="?only={only}">{title} {data.counts[only].toLocaleString('en')}</a
			>
		{/each}
	</nav>
	{#if data.clashes.length === 0}
		<div class="plate mt-4 p-6">
			{#if data.layers.filter(({ owner }) => owner !== 'game').length < 2}
				<p class="font-semibold">There is only one layer over the game.</p>
				<p class="text-steam">
					Add an expansion or another mod in Set up, and what both change is listed here.
				</p>
			{:else}
				<p class="font-semibold">
					{data.only === 'open' ? 'Nothing is left to decide.' : 'Nothing of this sort.'}
				</p>
			{/if}
		</div>
	{:else}
		<p class="mt-4 flex flex-wrap items-center gap-3">
			<button class="press main" disabled={settled.length === 0} onclick={preview}
				>Preview {settled.length > 0 ? counted(settled.length, 'change') : 'changes'}</button
			>
			{#if byRule.length > 0}<button class="press" onclick={rule}
					>Choose the only change in {counted(byRule.length, 'place')}</button
				>{/if}
			{#if Object.keys(chosen).length > 0}<button class="press slight" onclick={() => (chosen = {})}
					>Clear all choices</button
				>{/if}
		</p>
		<ul class="mt-3 space-y-2">
			{#each data.clashes as clash (keyOf(clash))}
				<ClashCard
					slug={data.slug}
					{clash}
					layers={data.layers}
					chosen={chosen[keyOf(clash)]}
					choose={(value) => choose(clash, value)}
				/>
			{/each}
		</ul>
		{#if data.counts[data.only] > data.shown}<p class="mt-3 text-steam">
				{(data.counts[data.only] - data.shown).toLocaleString('en')} more are not shown.
			</p>{/if}
	{/if}
</div>
<PlanDialog slug={data.slug} bind:intention={plan} onapplied={() => (chosen = {})} />
