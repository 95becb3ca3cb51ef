<script lang="ts">
	import { createVirtualizer } from '@tanstack/svelte-virtual';
	import { tick, untrack } from 'svelte';
	import { get } from 'svelte/store';
	import type { Intention } from '$core/edits';
	import type { TableView } from '$core/views';
	import CellEditor from './CellEditor.svelte';
	import { applyIntention, say } from '../frame/client.svelte';
	import GridHead from './GridHead.svelte';
	import Nick from '../frame/Nick.svelte';
	import { onAction } from '../frame/keys';
	import { chosenText, pastedCells, valuesIn } from './clipboard';
	import { headWidth, inSight, leftsOf, widthOf, type Arranged } from './columns';
	import { Focus, stepOf } from './focus.svelte';
	import { Rows } from './rows.svelte';
	import SnagMark from '../frame/SnagMark.svelte';

	/**
	 * A kind as rows of 28 px, only those in sight drawn. A cell at a time has the focus and is edited in place; with
	 * Shift a block is chosen, copied, and pasted over.
	 */
	let {
		slug,
		table,
		arranged,
		onfold,
		query,
		sort,
		onsort,
		selected,
		start,
		ids = false,
		open,
		plan,
		locked = null,
		picked = $bindable({ from: 0, to: 0, column: 0 })
	}: {
		slug: string;
		table: TableView;
		/** The columns that are shown, in order, and under which titles. */
		arranged: Arranged;
		/** Folds a group away, or out again. */
		onfold: (title: string) => void;
		/** What the address asks of the table, for the rows that come later. */
		query: string;
		sort: string[];
		onsort: (path: string, more: boolean) => void;
		selected: string | null;
		/** Place of the record that the address names; -1 for none. */
		start: number;
		/** Whether cells show the ids that they hold, and not the names of what these refer to. */
		ids?: boolean;
		open: (id: string) => void;
		/** Shows a plan before it is applied. */
		plan: (intention: Intention) => void;
		/** Why nothing can be edited here; null where it can. */
		locked?: string | null;
		/** The rows and the column that are chosen. */
		picked?: { from: number; to: number; column: number };
	} = $props();

	const ROW = 28;
	const rows = new Rows();
	const begin = () => rows.start(`/p/${slug}/api/rows/${encodeURIComponent(table.kind)}`, query, table);
	// The first rows come with the page itself, before any script of it runs.
	untrack(begin);
	$effect.pre(() => {
		void [slug, query, table];
		untrack(begin);
	});

	let view = $state<HTMLDivElement>();
	const focus = new Focus();
	const at = $derived(focus.at);
	const block = $derived(focus.block);
	const several = $derived(focus.several);
	let editing = $state(false);
	let left = $state(0);
	let wide = $state(1200);
	let dragging = false;

	const virtual = createVirtualizer<HTMLDivElement, HTMLDivElement>({
		count: untrack(() => table.matching),
		getScrollElement: () => view ?? null,
		estimateSize: () => ROW,
		initialRect: { width: 1200, height: 640 },
		overscan: 8
	});
	$effect(() => {
		const count = table.matching;
		if (view) get(virtual).setOptions({ count, getScrollElement: () => view ?? null });
	});
	// The record that the address names is brought into sight when the page comes with it.
	let shown = -1;
	$effect(() => {
		if (!view || start < 0 || start === shown) return;
		shown = start;
		const place = start;
		untrack(() => {
			if (at.row === place) return;
			focus.put(place, at.column);
			get(virtual).scrollToIndex(place, { align: 'auto' });
		});
	});
	$effect(() => {
		if (at.row < table.matching) return;
		focus.put(Math.max(0, table.matching - 1), at.column);
	});

	const byPath = $derived(new Map(table.columns.map((column, index) => [column.path, { column, index }])));
	const shownColumns = $derived(
		arranged.paths.flatMap((path, nth) => {
			const known = byPath.get(path);
			return known ? [{ ...known, nth }] : [];
		})
	);
	const widths = $derived(shownColumns.map(({ column }) => widthOf(column)));
	const head = $derived(headWidth(table));
	const lefts = $derived(leftsOf(widths, head));
	const total = $derived(head + widths.reduce((sum, next) => sum + next, 0));
	/** What stays in sight at the left: the name and the pinned columns. */
	const pins = $derived(shownColumns.slice(0, arranged.pinned));
	const fixed = $derived(lefts[arranged.pinned] ?? total);
	const seen = $derived.by(() => {
		const [from, to] = inSight(lefts, widths, arranged.pinned, [left + fixed, left + wide]);
		return shownColumns.slice(from, to + 1);
	});

	$effect(() => {
		picked = { from: block.top, to: block.bottom, column: at.column };
	});
	const pad = (cell: string, most: number) => {
		if (most === 0 || cell === '') return '';
		const digits = cell.split('.')[1]?.length ?? -1;
		return '\u2007'.repeat(Math.max(0, most - Math.max(0, digits))) + (digits < 0 ? '\u2008' : '');
	};
	function bring(column: number) {
		if (!view || column < arranged.pinned) return;
		const from = lefts[column]! - fixed;
		if (from < view.scrollLeft) view.scrollLeft = from;
		else if (lefts[column]! + widths[column]! > view.scrollLeft + view.clientWidth)
			view.scrollLeft = lefts[column]! + widths[column]! - view.clientWidth;
	}

	function go(row: number, column: number, extend: boolean) {
		focus.go(row, column, { rows: table.matching, columns: shownColumns.length }, extend);
		get(virtual).scrollToIndex(focus.at.row);
		bring(focus.at.column);
	}

	async function edit() {
		if (at.column < 0 || !rows.at(at.row)) return;
		if (locked) return say(locked);
		get(virtual).scrollToIndex(at.row);
		bring(at.column);
		await tick();
		editing = true;
	}

	async function endEdit() {
		editing = false;
		await tick();
		view?.focus({ preventScroll: true });
	}

	async function set(field: string, value: string, expected: string | null): Promise<boolean> {
		const row = rows.at(at.row);
		if (!row) return false;
		const takeBack = rows.put(at.row, byPath.get(field)!.index, value);
		const intention = { do: 'set' as const, kind: table.kind, id: row.id, field, value, expected };
		const done = await applyIntention(slug, intention);
		if (!done) takeBack();
		return done;
	}

	async function copyOut() {
		const text = await chosenText(rows, block, shownColumns);
		try {
			await navigator.clipboard.writeText(text);
			const count = valuesIn(block);
			say(count > 1 ? `Copied ${count} values.` : 'Copied the value.');
		} catch {
			say('Your browser does not allow this page to use the clipboard.', { bad: true });
		}
	}

	async function pasteOver(text: string) {
		if (at.column < 0 || text === '') return;
		if (locked) return say(locked);
		const cells = await pastedCells(rows, block, shownColumns, table.matching, text);
		if (cells.length === 0) say('These values are already there.');
		else plan({ do: 'cells', kind: table.kind, cells });
	}

	function onkeydown(event: KeyboardEvent) {
		if (event.target !== view || event.altKey) return;
		const page = Math.max(1, Math.floor((view?.clientHeight ?? 300) / ROW) - 2);
		const step = stepOf(event, page);
		const row = rows.at(at.row);
		if (event.key === 'Enter' && row && !event.ctrlKey && !event.metaKey) open(row.id);
		else if (step && table.matching > 0) go(at.row + step[0], at.column + step[1], event.shiftKey);
		else if (event.key === 'Escape' && several) focus.letGo();
		else return;
		event.preventDefault();
		event.stopPropagation();
	}

	function press(event: PointerEvent, row: number, column: number) {
		if (event.button !== 0) return;
		focus.put(row, column, event.shiftKey);
		dragging = true;
		view?.focus({ preventScroll: true });
	}

	$effect(() =>
		onAction('edit', () => {
			if (document.activeElement === view) void edit();
		})
	);
	// An open ticket has the key first and passes it on while the focus is here.
	$effect(() => {
		const grid = view;
		const begin = () => void edit();
		grid?.addEventListener('editcell', begin);
		return () => grid?.removeEventListener('editcell', begin);
	});
	const editor = $derived(shownColumns[at.column]);
	const editorPlace = $derived(
		editing && editor
			? `left: ${lefts[at.column]! + (at.column < arranged.pinned ? left : 0)}px; top: ${at.row * ROW}px; max-width: 340px; width: ${Math.max(224, widths[at.column]!)}px`
			: ''
	);
</script>

<svelte:window onpointerup={() => (dragging = false)} />
<div
	bind:this={view}
	bind:clientWidth={wide}
	class="plate relative mt-3 min-h-0 flex-1 overflow-auto outline-none select-none"
	role="grid"
	aria-label={table.plural}
	aria-rowcount={table.matching + 1}
	aria-colcount={shownColumns.length + 1}
	aria-multiselectable="true"
	aria-activedescendant={table.matching > 0
		? `cell-${at.row}-${rows.at(at.row) ? at.column : -1}`
		: undefined}
	tabindex="0"
	{onkeydown}
	onscroll={(event) => (left = event.currentTarget.scrollLeft)}
	oncopy={(event) => {
		if (event.target !== view) return;
		event.preventDefault();
		void copyOut();
	}}
	onpaste={(event) => {
		if (event.target !== view) return;
		event.preventDefault();
		void pasteOver(event.clipboardData?.getData('text/plain') ?? '');
	}}
>
	{#snippet cellOf(
		row: NonNullable<ReturnType<Rows['at']>>,
		place: number,
		{ column, index, nth }: (typeof shownColumns)[number]
	)}
		{@const cell = row.cells[index] ?? ''}
		{@const mine = row.changed.includes(index)}
		{@const taken = cell === '' ? row.taken[index] : undefined}
		<!-- svelte-ignore a11y_interactive_supports_focus (the grid has the focus and handles the keys) -->
		<div
			role="gridcell"
			id="cell-{place}-{nth}"
			aria-colindex={nth + 2}
			aria-selected={focus.has(place, nth)}
			class="absolute top-0 flex h-full items-center px-2 group-hover:bg-wash {column.numeric && !column.coded
				? 'justify-end font-mono'
				: ''} {mine ? 'mine-bar text-copper' : ''} {place === at.row && nth === at.column
				? 'outline-2 -outline-offset-2 outline-brass'
				: several && focus.has(place, nth)
					? 'chosen'
					: ''}"
			style="left: {lefts[nth]}px; width: {widths[nth]}px"
			onpointerdown={(event) => press(event, place, nth)}
			onpointerenter={() => {
				if (dragging) focus.put(place, nth, true);
			}}
			ondblclick={() => void edit()}
		>
			{#if taken !== undefined}
				<span
					class="truncate text-steam italic {column.reference ? 'font-mono' : ''}"
					title="Inherited from another record: {taken}"
					>{taken}{#if column.numeric}{pad(taken, column.places)}{/if}</span
				>
			{:else}
				{@const name = ids ? undefined : row.shown[index]}
				<span
					class="truncate {column.reference && name === undefined ? 'font-mono' : ''}"
					title={name === undefined ? undefined : column.coded ? name : cell}
					>{name ?? cell}{#if column.numeric && !column.coded}{pad(cell, column.places)}{/if}</span
				>
			{/if}
		</div>
	{/snippet}
	<GridHead
		{table}
		{arranged}
		{shownColumns}
		{seen}
		{widths}
		{lefts}
		{head}
		{fixed}
		{total}
		{sort}
		{onsort}
		{onfold}
	/>
	<div class="relative" style="height: {$virtual.getTotalSize()}px; width: {total}px">
		<!-- The rows in sight take over from those that leave: nothing is made anew while one scrolls. -->
		<!-- eslint-disable-next-line svelte/require-each-key -->
		{#each $virtual.getVirtualItems() as item}
			{@const row = rows.at(item.index)}
			<div
				role="row"
				id="row-{item.index}"
				aria-rowindex={item.index + 2}
				aria-selected={row !== undefined && selected === `${table.kind}/${row.id}`}
				class="group absolute left-0 {row !== undefined && selected === `${table.kind}/${row.id}`
					? 'bg-wash'
					: ''}"
				style="transform: translateY({item.start}px); height: {ROW}px; width: {total}px"
			>
				{#if row}
					<div
						class="sticky left-0 z-10 h-full border-r border-line {selected === `${table.kind}/${row.id}`
							? 'bg-wash'
							: 'bg-porcelain'}"
						style="width: {fixed}px"
						role="presentation"
					>
						<!-- svelte-ignore a11y_click_events_have_key_events, a11y_interactive_supports_focus (as above) -->
						<div
							role="rowheader"
							id="cell-{item.index}--1"
							class="absolute left-0 flex h-full cursor-pointer items-center gap-2 px-3 group-hover:bg-wash {row.mine
								? 'mine-bar'
								: ''} {item.index === at.row && at.column < 0
								? 'outline-2 -outline-offset-2 outline-brass'
								: focus.has(item.index, -1) && several
									? 'chosen'
									: ''}"
							style="width: {head}px"
							onclick={() => {
								focus.put(item.index, -1);
								open(row.id);
							}}
						>
							{#if table.named}<span class="truncate {row.mine ? 'text-copper' : ''}"
									>{row.name ?? '—'}<Nick on={{ kind: table.kind, record: row.id }} /></span
								>{/if}
							<code class="truncate text-[12px] {table.named ? 'ml-auto text-steam' : 'flex-1'}"
								>{row.id}</code
							>
							{#if row.snag}<SnagMark severity={row.snag} />{/if}
						</div>
						{#each pins as entry (entry.column.path)}{@render cellOf(row, item.index, entry)}{/each}
					</div>
					{#each seen as entry (entry.column.path)}{@render cellOf(row, item.index, entry)}{/each}
				{:else}
					<div
						role="rowheader"
						id="cell-{item.index}--1"
						class="sticky left-0 flex h-full items-center px-3 text-steam"
						style="width: {head}px"
					>
						…
					</div>
				{/if}
			</div>
		{/each}
		{#if editing && editor && rows.at(at.row)}
			{#key `${at.row} ${at.column}`}
				<CellEditor
					{slug}
					kind={table.kind}
					id={rows.at(at.row)!.id}
					path={editor.column.path}
					style={editorPlace}
					{set}
					close={() => void endEdit()}
				/>
			{/key}
		{/if}
	</div>
</div>
