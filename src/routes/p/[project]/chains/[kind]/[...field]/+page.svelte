<script lang="ts">
	import { tick } from 'svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { withTicket } from '$ui/frame/address';
	import CellEditor from '$ui/table/CellEditor.svelte';
	import { applyIntention } from '$ui/frame/client.svelte';
	import { onAction } from '$ui/frame/keys';

	let { data } = $props();
	const chains = $derived(data.chains);
	const slug = $derived(data.project.slug);
	const [ACROSS, DOWN, WIDE, HIGH] = [188, 34, 150, 26];

	const deepest = $derived(Math.max(0, ...chains.steps.map(({ left }) => left)));
	const rows = $derived(Math.max(0, ...chains.steps.map(({ place }) => place)) + 1);
	const x = (left: number) => 12 + (deepest - left) * ACROSS;
	const y = (place: number) => 12 + place * DOWN;
	const byId = $derived(new Map(chains.steps.map((step) => [step.id, step])));
	const order = $derived([...chains.steps].sort((a, b) => a.place - b.place || b.left - a.left));

	let at = $state('');
	let editing = $state(false);
	let dragged = $state<string | null>(null);
	let over = $state<string | null>(null);
	let root = $state<HTMLDivElement>();
	const here = $derived(byId.get(at) ?? order[0]);

	async function focus(id: string) {
		at = id;
		await tick();
		root?.querySelector<SVGElement>(`[data-step="${CSS.escape(id)}"]`)?.focus();
	}

	function onkeydown(event: KeyboardEvent) {
		if (!here || editing) return;
		const place = order.indexOf(here);
		const next =
			event.key === 'ArrowRight'
				? here.to
				: event.key === 'ArrowLeft'
					? order.find(({ to }) => to === here.id)?.id
					: event.key === 'ArrowDown'
						? order[place + 1]?.id
						: event.key === 'ArrowUp'
							? order[place - 1]?.id
							: undefined;
		if (event.key === 'Enter')
			void goto(withTicket(page.url, chains.kind, here.id), { keepFocus: true, noScroll: true });
		else if (next) void focus(next);
		else if (!event.key.startsWith('Arrow')) return;
		event.preventDefault();
	}

	const set = (field: string, value: string, expected: string | null) =>
		applyIntention(slug, { do: 'set', kind: chains.kind, id: here!.id, field, value, expected });

	/** A step that was dragged onto another leads to that from now on. */
	function drop() {
		const [id, to] = [dragged, over];
		dragged = over = null;
		if (!id || !to || id === to) return;
		const step = byId.get(id)!;
		if (step.to === to) return;
		at = id;
		void applyIntention(slug, {
			do: 'set',
			kind: chains.kind,
			id,
			field: chains.field,
			value: to,
			expected: step.to ?? step.loose ?? ''
		});
	}

	$effect(() =>
		onAction('edit', () => {
			if (here && root?.contains(document.activeElement)) editing = true;
		})
	);
	const say = (step: (typeof order)[number]) =>
		`${step.name}, ${step.circle ? `leads back to ${step.to}` : step.to ? `leads to ${byId.get(step.to)?.name ?? step.to}` : step.loose ? `refers to ${step.loose}, which does not exist` : 'the end'}${step.changed ? ', changed by me' : ''}`;
</script>

<svelte:head><title>{chains.fieldTitle} · {chains.title} · Kettle Dial</title></svelte:head>
<svelte:window onpointerup={drop} />

<div class="flex h-full flex-col px-5 py-4">
	<div class="flex flex-wrap items-center gap-3">
		<h1>{chains.title}: {chains.fieldTitle.toLowerCase()}</h1>
		{#if chains.others.length > 1}
			<select
				class="box"
				aria-label="Other chains"
				value={`${chains.kind}/${chains.field}`}
				onchange={(event) => void goto(`/p/${slug}/chains/${event.currentTarget.value}`)}
			>
				{#each chains.others as other (other.kind + other.field)}<option
						value={`${other.kind}/${other.field}`}>{other.title}</option
					>{/each}
			</select>
		{/if}
		<a class="follow" href="/p/{slug}/tables/{chains.kind}">as a table</a>
		<span class="text-steam" role="status">{chains.steps.length} in chains, {chains.alone} by themselves</span
		>
	</div>
	<p class="mt-1 text-steam">
		From left to right. <kbd>e</kbd> sets the next record, arrow keys move, Enter opens it; or drag it onto another.
	</p>
	{#if chains.steps.length === 0}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">No record leads to another yet.</p>
			<p class="mt-3"><a class="press" href="/p/{slug}/tables/{chains.kind}">Set one in the table</a></p>
		</div>
	{:else}
		<!-- svelte-ignore a11y_no_static_element_interactions (the steps inside have the focus) -->
		<div class="plate relative mt-3 min-h-0 flex-1 overflow-auto" bind:this={root} {onkeydown}>
			<svg
				width={x(0) + WIDE + 40}
				height={y(rows) + 12}
				role="tree"
				aria-label="{chains.fieldTitle} of {chains.title.toLowerCase()}"
			>
				{#each chains.steps as step (step.id)}
					{@const target = step.to === null ? undefined : byId.get(step.to)}
					{#if target && !step.circle}
						<path
							d="M{x(step.left) + WIDE} {y(step.place) + HIGH / 2}C{x(step.left) + WIDE + 22} {y(step.place) +
								HIGH / 2} {x(target.left) - 22} {y(target.place) + HIGH / 2} {x(target.left)} {y(
								target.place
							) +
								HIGH / 2}"
							fill="none"
							stroke={step.changed ? 'var(--copper)' : 'var(--steam)'}
							stroke-width={step.changed ? 2 : 1}
						/>
					{:else if step.circle || step.loose}
						<text
							x={x(step.left) + WIDE + 5}
							y={y(step.place) + 17}
							font-size="11"
							fill={step.loose ? 'var(--scald)' : 'var(--saffron)'}
							>{step.loose ? `✕ ${step.loose}` : `↺ ${step.to}`}</text
						>
					{/if}
				{/each}
				{#each order as step (step.id)}
					<g
						role="treeitem"
						aria-selected={here?.id === step.id}
						aria-label={say(step)}
						data-step={step.id}
						tabindex={here?.id === step.id ? 0 : -1}
						class="cursor-pointer outline-none"
						transform="translate({x(step.left)} {y(step.place)})"
						onfocus={() => (at = step.id)}
						onpointerdown={(event) => {
							event.preventDefault();
							dragged = step.id;
							void focus(step.id);
						}}
						onpointerenter={() => (over = dragged ? step.id : null)}
						onpointerleave={() => (over = null)}
					>
						<rect
							width={WIDE}
							height={HIGH}
							rx="6"
							fill={over === step.id && dragged !== step.id ? 'var(--wash)' : 'var(--porcelain)'}
							stroke={here?.id === step.id ? 'var(--brass)' : 'var(--line)'}
							stroke-width={here?.id === step.id ? 2 : 1}
						/>
						{#if step.changed}<rect width="3" height={HIGH} rx="1.5" fill="var(--copper)" />{/if}
						<text x="9" y="17" font-size="13" fill={step.changed ? 'var(--copper)' : 'var(--rim)'}
							>{step.name.length > 19 ? `${step.name.slice(0, 18)}…` : step.name}</text
						>
					</g>
				{/each}
			</svg>
			{#if editing && here}
				{#key here.id}
					<CellEditor
						{slug}
						kind={chains.kind}
						id={here.id}
						path={chains.field}
						style="left: {x(here.left)}px; top: {y(here.place) + HIGH + 2}px; max-width: 340px"
						{set}
						close={() => {
							editing = false;
							void focus(here.id);
						}}
					/>
				{/key}
			{/if}
		</div>
	{/if}
</div>
