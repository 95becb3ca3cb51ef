<script lang="ts">
	import { counted, either } from '$core/wording';
	import MentionList from '$ui/ticket/MentionList.svelte';
	import Nick from '$ui/frame/Nick.svelte';
	import { page } from '$app/state';
	import { withParameters, withTicket } from '$ui/frame/address';
	import AroundGraph from '$ui/ticket/AroundGraph.svelte';
	import { arrowKeys } from '$ui/frame/move';

	let { data } = $props();
	const around = $derived(data.around);
	const linkTo = (kind: string, id: string) => withTicket(page.url, kind, id);
	const sides = $derived([
		{
			title: 'Used by',
			nodes: around.nodes.filter((node) => node.far < 0).map((node) => ({ ...node, far: -node.far }))
		},
		{ title: 'Names', nodes: around.nodes.filter((node) => node.far > 0) }
	]);
	const farOf = $derived(new Map(around.nodes.map((node) => [node.place, Math.abs(node.far)])));
	/** The fields by which a record hangs on the one a step nearer. */
	const fieldOf = (place: number) => [
		...new Set(
			around.edges
				.filter(({ from, to }) => {
					const other = from === place ? to : to === place ? from : null;
					return other !== null && farOf.get(other)! < farOf.get(place)!;
				})
				.map((edge) => edge.field.toLowerCase())
		)
	];

	const files = (count: number) => `${counted(count, 'file')}`;
	/** How far what is said here goes. */
	const safety = $derived.by(() => {
		const { files: closed, faulty } = around.unseen;
		if (closed + faulty > 0)
			return [
				'All tables, scripts and texts that could be read were checked.',
				...(closed > 0 ? [`${files(closed)} could not be checked, such as pictures and sounds.`] : []),
				...(faulty > 0 ? [`${files(faulty)} could not be read completely.`] : [])
			].join(' ');
		return around.mentions.count === 0 && around.nodes.every(({ far }) => far >= 0)
			? 'Every file of the game and its mods was checked: removing it breaks no other record.'
			: 'Every file of the game and its mods was checked.';
	});
</script>

<svelte:head><title>Connections of {around.name} · Kettle Dial</title></svelte:head>
<div class="px-6 py-5">
	<p class="text-steam">{around.kindTitle} <code>{around.id}</code></p>
	<div class="flex flex-wrap items-baseline gap-4">
		<h1>Connections of {around.name}</h1>
		<span class="flex items-center gap-1" role="group" aria-label="How many steps">
			{#each [1, 2, 3, 4] as depth (depth)}
				<a
					class="grid h-7 w-8 place-items-center rounded-full border {data.depth === depth
						? 'border-rim bg-rim text-porcelain'
						: 'border-line hover:bg-wash'}"
					aria-current={data.depth === depth ? 'true' : undefined}
					href={withParameters(page.url, { depth: String(depth) })}>{depth}</a
				>
			{/each}
			<span class="ml-1 text-steam">{either(data.depth, 'step', 'steps')}</span>
		</span>
	</div>
	{#if around.nodes.length === 1}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">
				{around.mentions.count === 0
					? 'Nothing refers to it, and it refers to nothing.'
					: 'No record refers to it, and it refers to none.'}
			</p>
			<p class="mt-1 text-steam" data-testid="unseen">{safety}</p>
			<p class="mt-3"><a class="press" href={linkTo(around.kind, around.id)}>Open its ticket</a></p>
		</div>
	{:else}
		<!-- svelte-ignore a11y_no_noninteractive_tabindex (a region that scrolls must be reachable by keyboard) -->
		<div
			class="plate mt-3 max-h-[52vh] overflow-auto p-2"
			role="region"
			aria-label="Graph"
			tabindex="0"
			{@attach arrowKeys}
		>
			<AroundGraph {around} {linkTo} />
		</div>
		{#if around.more}<p class="mt-2 text-steam">
				Too many to draw; the nearest {around.nodes.length - 1} are shown. Use fewer steps, or the list on the ticket.
			</p>{/if}
		<p class="mt-3 text-steam" data-testid="unseen">{safety}</p>
		<div class="mt-4 grid grid-cols-2 gap-8" {@attach arrowKeys}>
			{#each sides as side (side.title)}
				<section>
					<h2>{side.title} {side.nodes.length}</h2>
					{#if side.nodes.length === 0}<p class="text-steam">Nothing.</p>{/if}
					<ul>
						{#each side.nodes as node (node.place)}
							<li
								class="flex items-baseline gap-2 border-b border-line/60 py-1"
								style="padding-left: {(node.far - 1) * 18}px"
							>
								<a class="follow" data-move href={linkTo(node.kind, node.id)}
									>{node.name}<Nick on={{ kind: node.kind, record: node.id }} /></a
								>
								<code class="text-[12px] text-steam">{node.id}</code>
								<span class="ml-auto text-[12px] text-steam"
									>{node.kindTitle}, {fieldOf(node.place).join(', ')}</span
								>
							</li>
						{/each}
					</ul>
				</section>
			{/each}
		</div>
	{/if}
	{#if around.mentions.count > 0}
		<section class="mt-6">
			<h2>In scripts and texts {around.mentions.count}</h2>
			<MentionList slug={data.project.slug} mentions={around.mentions} />
		</section>
	{/if}
</div>
