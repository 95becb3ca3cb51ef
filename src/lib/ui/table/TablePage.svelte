<script lang="ts">
	import { Popover } from 'bits-ui';
	import type { Snippet } from 'svelte';
	import { goto } from '$app/navigation';
	import { refresh } from '$ui/frame/refresh';
	import { page } from '$app/state';
	import type { Intention } from '$core/edits';
	import type { SavedView, TablePageView } from '$core/views';
	import { makePause } from '$ui/frame/pause';
	import { asked } from '$ui/frame/asked';
	import { rowsQuery, viewQuery, withConditions, withParameters } from '$ui/frame/address';
	import ChangeMany from '$ui/table/ChangeMany.svelte';
	import { post, say } from '$ui/frame/client.svelte';
	import { counted, numbered } from '$core/wording';
	import { arrange } from '$ui/table/columns';
	import ColumnChoice from '$ui/table/ColumnChoice.svelte';
	import ConditionForm from '$ui/table/ConditionForm.svelte';
	import { follows } from '$ui/frame/follows.svelte';
	import { keepTable } from '$ui/table/recent';
	import Grid from '$ui/table/Grid.svelte';
	import { X } from '$ui/frame/icons';
	import IntoFile from '$ui/ticket/IntoFile.svelte';
	import NoteOn from '$ui/frame/NoteOn.svelte';
	import { onAction } from '$ui/frame/keys';
	import PlanDialog from '$ui/plan/PlanDialog.svelte';

	/** The rows of a kind, with what narrows, orders and changes them. */
	let {
		slug,
		rows: data,
		title,
		head,
		hint = 'Only rows with… or speed > 20'
	}: {
		slug: string;
		rows: TablePageView;
		/** What the page is called, where that is not the kind. */
		title?: string;
		/** Above the rows, in place of the kind and the way to others. */
		head?: Snippet;
		/** What the box for a filter shows while it is empty. */
		hint?: string;
	} = $props();
	const table = $derived(data.table);
	/** What the page was last asked for: its marks and the next address go by this, its rows by what is there. */
	const whither = $derived(asked());
	const filter = $derived(whither.searchParams.get('filter') ?? '');
	const where = $derived(whither.searchParams.getAll('where'));
	const listIn = (name: string) => (whither.searchParams.get(name) ?? '').split(',').filter(Boolean);
	const sort = $derived(listIn('sort'));
	const wish = $derived({
		cols: listIn('cols'),
		pin: listIn('pin'),
		grouped: whither.searchParams.has('grouped'),
		folded: whither.searchParams.getAll('fold')
	});
	const arranged = $derived(arrange(table, wish));
	const columns = $derived(arranged.paths);
	/** What the rows that are here were asked for with. */
	const here = $derived({
		where: page.url.searchParams.getAll('where'),
		filter: page.url.searchParams.get('filter') ?? '',
		sort: (page.url.searchParams.get('sort') ?? '').split(',').filter(Boolean),
		as: data.asOf.at?.id ?? null
	});
	const query = $derived(rowsQuery(here));

	$effect(() => keepTable(slug, { kind: table.kind, title: table.plural }));

	const pause = makePause();
	let plan = $state<Intention | null>(null);
	let changing = $state<{ ids: string[]; field: string } | null>(null);
	let picked = $state({ from: 0, to: 0, column: -1 });
	let naming = $state('');
	let saved = $state(false);

	const address = (changes: Record<string, string | null>) => withParameters(whither, changes);
	const go = (changes: Record<string, string | null>) =>
		void goto(address(changes), { replaceState: true, keepFocus: true, noScroll: true });

	const goWhere = (next: string[], more: Record<string, string | null> = {}) =>
		void goto(withConditions(whither, next, more), { replaceState: true, keepFocus: true, noScroll: true });

	function typed(event: Event) {
		const value = (event.currentTarget as HTMLInputElement).value;
		pause.after(() => go({ filter: value }), 100);
	}
	function keep(event: KeyboardEvent) {
		const box = event.currentTarget as HTMLInputElement;
		if (event.key !== 'Enter' || box.value.trim() === '') return;
		event.preventDefault();
		pause.stop();
		goWhere([...where.filter((one) => one !== box.value.trim()), box.value.trim()], { filter: null });
		box.value = '';
	}
	const toggle = (condition: string) =>
		goWhere(where.includes(condition) ? where.filter((one) => one !== condition) : [...where, condition]);

	/** One column after the other: up, down, as it was; with Shift beside the others. */
	function onsort(path: string, more: boolean) {
		const others = more ? sort.filter((one) => one !== path && one !== `-${path}`) : [];
		const next = sort.includes(path) ? [`-${path}`] : sort.includes(`-${path}`) ? [] : [path];
		go({ sort: [...others, ...next].join(',') || null });
	}

	function onfold(title: string) {
		const next = new URL(whither);
		const folded = wish.folded.includes(title)
			? wish.folded.filter((one) => one !== title)
			: [...wish.folded, title];
		next.searchParams.delete('fold');
		for (const one of folded) next.searchParams.append('fold', one);
		void goto(next.pathname + next.search, { replaceState: true, keepFocus: true, noScroll: true });
	}

	/** The ids of the rows that are chosen; null where they cannot be told. */
	async function chosenIds(): Promise<string[] | null> {
		if (picked.to <= picked.from) return [];
		const some = rowsQuery(here, {
			from: String(picked.from),
			count: String(picked.to - picked.from + 1)
		});
		const answer = await fetch(`/p/${slug}/api/rows/${encodeURIComponent(table.kind)}${some}`);
		if (answer.ok) return ((await answer.json()) as { rows: { id: string }[] }).rows.map(({ id }) => id);
		say('The selected rows could not be loaded. Try again.', { bad: true });
		return null;
	}

	/** Why nothing can be edited here; null where it can. */
	const locked = $derived(
		data.asOf.at && `These are the values as of ${data.asOf.at.title}. Choose “all layers” to edit.`
	);
	let moving = $state<string[] | null>(null);
	async function change() {
		if (locked) return say(locked);
		const field = columns[Math.max(0, picked.column)] ?? table.columns[0]?.path;
		if (!field) return;
		const ids = await chosenIds();
		if (ids) changing = { ids, field };
	}
	$effect(() => onAction('many', () => void change()));

	async function saveView(name: string, query: string | null) {
		await post<SavedView[]>(`/p/${slug}/api/views`, { kind: table.kind, name, query });
		await refresh();
		say(query === null ? `The view “${name}” was deleted.` : `Saved as “${name}”.`);
		naming = '';
		saved = false;
	}
</script>

<svelte:head><title>{title ?? table.plural} · Kettle Dial</title></svelte:head>

<div class="flex h-full flex-col px-4 py-3">
	<div class="flex flex-wrap items-center gap-x-3 gap-y-2">
		{#if head}{@render head()}{:else}
			<h1 class="flex items-center gap-1 leading-8">{table.plural}<NoteOn on={{ kind: table.kind }} /></h1>
			<label
				><span class="sr-only">Other tables</span>
				<select
					class="box max-w-48"
					value={table.kind}
					onchange={(event) => void goto(`/p/${slug}/tables/${event.currentTarget.value}`)}
				>
					{#each data.kinds as kind (kind.kind)}<option value={kind.kind}
							>{kind.title} ({kind.records})</option
						>{/each}
				</select>
			</label>
			<a class="follow" href="/p/{slug}/guide/{encodeURIComponent(table.kind)}">its field guide</a>
		{/if}
		{#if data.asOf.layers.length > 1}
			<label class="flex items-center gap-1.5 text-steam"
				>as of
				<select
					class="box max-w-36"
					value={data.asOf.at?.id ?? ''}
					onchange={({ currentTarget }) => go({ as: currentTarget.value })}
				>
					<option value="">all layers</option>
					{#each data.asOf.layers as layer (layer.id)}<option value={layer.id}>{layer.title}</option>{/each}
				</select></label
			>
		{/if}
		<span class="ml-auto flex items-center gap-2">
			{#if table.files && picked.to > picked.from && !data.asOf.at}
				<Popover.Root
					bind:open={
						() => moving !== null,
						(open) => void (open ? chosenIds().then((ids) => (moving = ids)) : (moving = null))
					}
				>
					<Popover.Trigger class="press">Into another file</Popover.Trigger>
					<Popover.Portal>
						<Popover.Content sideOffset={4} align="end" class="plate z-40 w-96 p-3 shadow-lg">
							<IntoFile
								kind={table.kind}
								ids={moving ?? []}
								others={table.files}
								plan={(intention) => {
									moving = null;
									plan = intention;
								}}
							/>
						</Popover.Content>
					</Popover.Portal>
				</Popover.Root>
			{/if}
			{#if !data.asOf.at}<button class="press" onclick={() => void change()} title="Key: w"
					>Change many</button
				>{/if}
			<ColumnChoice {table} {wish} ids={whither.searchParams.has('ids')} choose={go} />
			<Popover.Root bind:open={saved}>
				<Popover.Trigger class="press"
					>Views{data.views.length > 0 ? ` (${data.views.length})` : ''}</Popover.Trigger
				>
				<Popover.Portal>
					<Popover.Content sideOffset={4} align="end" class="plate z-40 w-72 p-3 shadow-lg">
						{#each data.views as view (view.name)}
							<p class="flex items-center gap-2 py-0.5">
								<a class="follow min-w-0 flex-1 truncate" href="{whither.pathname}?{view.query}"
									>{view.name}</a
								>
								<button
									class="rounded p-0.5 hover:bg-wash"
									aria-label="Delete the view {view.name}"
									onclick={() => void saveView(view.name, null)}><X size={14} /></button
								>
							</p>
						{:else}<p class="text-steam">No saved views yet.</p>{/each}
						<form
							class="mt-2 flex gap-2 border-t border-line pt-2"
							onsubmit={(event) => {
								event.preventDefault();
								if (naming.trim() !== '') void saveView(naming.trim(), viewQuery(whither));
							}}
						>
							<input
								class="box min-w-0 flex-1"
								bind:value={naming}
								placeholder="this view, as…"
								aria-label="Name of the view"
							/><button class="press">Save</button>
						</form>
					</Popover.Content>
				</Popover.Portal>
			</Popover.Root>
		</span>
	</div>
	<div class="mt-2 flex flex-wrap items-center gap-2">
		<input
			class="box w-64"
			placeholder={hint}
			title="Words, or a condition: speed 10 to 20 · wheel is a, b · name has oak · wheel is empty · refers to x · used by nothing · in layer y. Press Enter to keep it."
			aria-label="Filter the rows"
			defaultValue={filter}
			{@attach follows(() => filter)}
			oninput={typed}
			onkeydown={keep}
			data-testid="filter"
		/>
		<ConditionForm {table} add={(condition) => goWhere([...where, condition])} />
		{#each data.asOf.at ? [] : ['changed by me', 'has snags'] as condition (condition)}
			{#if !where.includes(condition)}<button
					class="rounded-full border border-dashed border-steam px-2.5 py-0.5 text-[13px] text-steam hover:text-rim"
					onclick={() => toggle(condition)}>{condition}</button
				>{/if}
		{/each}
		{#each table.conditions as condition (condition.text)}
			<span
				class="flex items-center gap-1 rounded-full border border-rim py-0.5 pr-1 pl-2.5 text-[13px]"
				data-testid="condition"
				>{condition.words}<button
					class="rounded-full p-0.5 hover:bg-wash"
					aria-label="Without the condition {condition.words}"
					onclick={() => goWhere(where.filter((one) => one !== condition.text))}><X size={13} /></button
				></span
			>
		{/each}
		{#each table.faults as fault (fault)}<p class="w-full text-scald" role="alert" data-testid="table-fault">
				{fault}
			</p>{/each}
		{#each table.taken as { id, none } (id)}
			<span
				class="mine-bar flex items-center gap-2 rounded-full border border-line py-0.5 pr-1 pl-2.5 text-[13px]"
				data-testid="taken"
				>{none ? 'nothing removed as' : 'removed:'} <code class="text-copper">{id}</code><button
					class="rounded-full px-1.5 hover:bg-wash"
					onclick={() => (plan = { do: 'back', kind: table.kind, id })}>restore</button
				></span
			>
		{/each}
		<span class="text-steam" role="status"
			>{table.matching === table.total
				? counted(table.total, 'row')
				: `${numbered(table.matching)} of ${counted(table.total, 'row')}`}{picked.to > picked.from
				? `, ${picked.to - picked.from + 1} chosen`
				: ''}</span
		>
		{#if table.limit}
			<span
				class="ml-auto flex items-center gap-2 text-[12px] {table.total > table.limit
					? 'text-scald'
					: 'text-steam'}"
			>
				<meter
					class="w-24"
					min="0"
					max={table.limit}
					high={table.limit * 0.9}
					value={Math.min(table.total, table.limit)}
					aria-label="Rows that are taken"
				></meter>room for {table.limit}
			</span>
		{/if}
	</div>
	{#if data.asOf.at}
		<p class="mt-2 border-l-4 border-brass bg-wash px-3 py-1" role="note" data-testid="as-of">
			The game as it is up to {data.asOf.at.title}: layers after it are left out, and nothing can be edited.
			<a class="follow" href={address({ as: null })}>Show all layers</a>
		</p>
	{/if}
	{#if table.matching === 0}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">{table.total === 0 ? 'This table is empty.' : 'No rows match.'}</p>
			{#if table.total > 0}<p class="mt-3">
					<a class="press" href={withConditions(whither, [], { filter: null })}>Show all rows</a>
				</p>{/if}
		</div>
	{:else}
		{#key table.kind}
			<Grid
				{slug}
				{table}
				{arranged}
				{onfold}
				{query}
				{sort}
				{onsort}
				selected={whither.searchParams.get('ticket')}
				start={data.at}
				ids={whither.searchParams.has('ids')}
				bind:picked
				{locked}
				plan={(intention) => (plan = intention)}
				open={(id) =>
					void goto(address({ ticket: `${table.kind}/${id}` }), { keepFocus: true, noScroll: true })}
			/>
		{/key}
	{/if}
</div>
<PlanDialog {slug} bind:intention={plan} />
{#if changing}<ChangeMany
		{slug}
		{table}
		field={changing.field}
		ids={changing.ids}
		all={table.matching}
		query={here}
		layers={data.layers}
		done={(intention) => {
			changing = null;
			if (intention) plan = intention;
		}}
	/>{/if}
