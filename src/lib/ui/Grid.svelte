<script lang="ts">
	import { createVirtualizer } from '@tanstack/svelte-virtual';
	import { tick, untrack } from 'svelte';
	import { get } from 'svelte/store';
	import type { Intention } from '$core/edits';
	import type { TableView } from '$core/views';
	import CellEditor from './CellEditor.svelte';
	import { applyIntention, say } from './client.svelte';
	import Nick from './Nick.svelte';
	import { onAction } from './keys';
	import { Rows } from './rows.svelte';
	import SnagMark from './SnagMark.svelte';

	/**
	 * A kind as rows of 28 px, only those in sight drawn. A cell at a time has the focus and is edited in place; with
	 * Shift a block is chosen, copied, and pasted over.
	 */
	let {
		slug,
		table,
		columns,
		query,
		sort,
		onsort,
		selected,
		start,
		open,
		plan,
		picked = $bindable({ from: 0, to: 0, column: 0 })
	}: {
		slug: string;
		table: TableView;
		/** Paths of the columns that are shown, in order. */
		columns: string[];
		/** What the address asks of the table, for the rows that come later. */
		query: string;
		sort: string[];
		onsort: (path: string, more: boolean) => void;
		selected: string | null;
		/** Place of the record that the address names; -1 for none. */
		start: number;
		open: (id: string) => void;
		/** Shows a plan before it is applied. */
		plan: (intention: Intention) => void;
		/** The rows and the column that are chosen. */
		picked?: { from: number; to: number; column: number };
	} = $props();

	const ROW = 28;
	const rows = new Rows();
	$effect.pre(() => {
		const [address, asked, view] = [`/p/${slug}/api/rows/${encodeURIComponent(table.kind)}`, query, table];
		untrack(() => rows.start(address, asked, view));
	});

	let view = $state<HTMLDivElement>();
	let at = $state({ row: 0, column: -1 });
	let anchor = $state({ row: 0, column: -1 });
	let editing = $state(false);
	let left = $state(0);
	let wide = $state(1200);
	let dragging = false;

	const virtual = createVirtualizer<HTMLDivElement, HTMLDivElement>({
		count: 0,
		getScrollElement: () => view ?? null,
		estimateSize: () => ROW,
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
			at = { row: place, column: at.column };
			anchor = at;
			get(virtual).scrollToIndex(place, { align: 'auto' });
		});
	});
	$effect(() => {
		if (at.row < table.matching) return;
		at = { row: Math.max(0, table.matching - 1), column: at.column };
		anchor = at;
	});

	const byPath = $derived(new Map(table.columns.map((column, index) => [column.path, { column, index }])));
	const shownColumns = $derived(columns.flatMap((path) => byPath.get(path) ?? []));
	const width = ({ title, unit, letters, bars }: TableView['columns'][number]) =>
		Math.min(
			280,
			Math.max(bars ? 84 : 52, Math.max(title.length + (unit ? unit.length + 1 : 0) + 2, letters) * 8 + 18)
		);
	const widths = $derived(shownColumns.map(({ column }) => width(column)));
	const head = $derived(table.named ? 232 : 200);
	const lefts = $derived.by(() => {
		let sum = head;
		return widths.map((own) => (sum += own) - own);
	});
	const total = $derived(head + widths.reduce((sum, next) => sum + next, 0));
	/** The columns that can be seen, and one more at both ends. */
	const seen = $derived.by(() => {
		let from = lefts.findIndex((own, index) => own + widths[index]! > left + head);
		if (from < 0) from = 0;
		let to = from;
		while (to < lefts.length && lefts[to]! < left + wide) to++;
		return shownColumns
			.slice(Math.max(0, from - 1), to + 1)
			.map((entry, nth) => ({ ...entry, nth: Math.max(0, from - 1) + nth }));
	});

	const block = $derived({
		top: Math.min(at.row, anchor.row),
		bottom: Math.max(at.row, anchor.row),
		first: Math.min(at.column, anchor.column),
		last: Math.max(at.column, anchor.column)
	});
	$effect(() => {
		picked = { from: block.top, to: block.bottom, column: at.column };
	});
	const several = $derived(block.bottom > block.top || block.last > block.first);
	const inBlock = (row: number, column: number) =>
		row >= block.top && row <= block.bottom && column >= block.first && column <= block.last;

	const pad = (cell: string, most: number) => {
		if (most === 0 || cell === '') return '';
		const digits = cell.split('.')[1]?.length ?? -1;
		return '\u2007'.repeat(Math.max(0, most - Math.max(0, digits))) + (digits < 0 ? '\u2008' : '');
	};
	const mark = (path: string) => {
		const place = sort.findIndex((one) => one === path || one === `-${path}`);
		if (place < 0) return '';
		return ` ${sort[place]!.startsWith('-') ? '↓' : '↑'}${sort.length > 1 ? place + 1 : ''}`;
	};
	const aria = (path: string) =>
		sort.includes(path) ? 'ascending' : sort.includes(`-${path}`) ? 'descending' : 'none';

	function bring(column: number) {
		if (!view || column < 0) return;
		const from = lefts[column]! - head;
		if (from < view.scrollLeft) view.scrollLeft = from;
		else if (lefts[column]! + widths[column]! > view.scrollLeft + view.clientWidth)
			view.scrollLeft = lefts[column]! + widths[column]! - view.clientWidth;
	}

	function go(row: number, column: number, extend: boolean) {
		at = {
			row: Math.max(0, Math.min(table.matching - 1, row)),
			column: Math.max(-1, Math.min(shownColumns.length - 1, column))
		};
		if (!extend) anchor = at;
		get(virtual).scrollToIndex(at.row);
		bring(at.column);
	}

	async function edit() {
		if (at.column < 0 || !rows.at(at.row)) return;
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
		rows.put(at.row, byPath.get(field)!.index, value);
		return applyIntention(slug, { do: 'set', kind: table.kind, id: row.id, field, value, expected });
	}

	/** The chosen block as lines of cells; with nothing chosen but a row, its id. */
	async function chosen(): Promise<string> {
		const list = await rows.between(block.top, block.bottom);
		const order = shownColumns.slice(Math.max(0, block.first), block.last + 1);
		return list
			.map((row) =>
				[
					...(block.first < 0 ? [row?.id ?? ''] : []),
					...order.map(({ index }) => row?.cells[index] ?? '')
				].join('\t')
			)
			.join('\n');
	}

	async function copyOut() {
		const text = await chosen();
		try {
			await navigator.clipboard.writeText(text);
			const count = (block.bottom - block.top + 1) * (block.last - Math.max(0, block.first) + 1);
			say(count > 1 ? `Copied ${count} values.` : 'Copied the value.');
		} catch {
			say('The browser does not let this page write to the clipboard.', { bad: true });
		}
	}

	/** Values from the clipboard over the cells from the chosen one on; one value alone fills the whole block. */
	async function pasteOver(text: string) {
		const lines = text
			.replace(/\r?\n$/, '')
			.split(/\r?\n/)
			.map((line) => line.split('\t'));
		if (at.column < 0 || text === '') return;
		const alone = lines.length === 1 && lines[0]!.length === 1;
		const height = alone ? block.bottom - block.top + 1 : lines.length;
		const across = alone ? block.last - block.first + 1 : Math.max(...lines.map((line) => line.length));
		const bottom = Math.min(table.matching - 1, block.top + height - 1);
		const list = await rows.between(block.top, bottom);
		const cells = list.flatMap((row, y) =>
			Array.from({ length: across }, (_, x) => {
				const entry = shownColumns[block.first + x];
				const value = alone ? lines[0]![0]! : lines[y]?.[x];
				return row && entry && value !== undefined && row.cells[entry.index] !== value
					? [{ id: row.id, field: entry.column.path, value }]
					: [];
			}).flat()
		);
		if (cells.length === 0) say('These values stand there already.');
		else plan({ do: 'cells', kind: table.kind, cells });
	}

	function onkeydown(event: KeyboardEvent) {
		if (event.target !== view || event.altKey) return;
		const control = event.ctrlKey || event.metaKey;
		const page = Math.max(1, Math.floor((view?.clientHeight ?? 300) / ROW) - 2);
		const steps: Record<string, [number, number]> = {
			ArrowDown: [control ? Infinity : 1, 0],
			ArrowUp: [control ? -Infinity : -1, 0],
			ArrowRight: [0, control ? Infinity : 1],
			ArrowLeft: [0, control ? -Infinity : -1],
			PageDown: [page, 0],
			PageUp: [-page, 0],
			Home: control ? [-Infinity, -Infinity] : [-Infinity, 0],
			End: control ? [Infinity, Infinity] : [Infinity, 0]
		};
		const step = steps[event.key];
		const row = rows.at(at.row);
		if (event.key === 'Enter' && row && !control) open(row.id);
		else if (step && table.matching > 0) go(at.row + step[0], at.column + step[1], event.shiftKey);
		else if (event.key === 'Escape' && several) anchor = at;
		else return;
		event.preventDefault();
		event.stopPropagation();
	}

	function press(event: PointerEvent, row: number, column: number) {
		if (event.button !== 0) return;
		at = { row, column };
		if (!event.shiftKey) anchor = at;
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
			? `left: ${lefts[at.column]}px; top: ${at.row * ROW}px; max-width: 340px; width: ${Math.max(224, widths[at.column]!)}px`
			: ''
	);
</script>

<svelte:window onpointerup={() => (dragging = false)} />
<div
	bind:this={view}
	bind:clientWidth={wide}
	class="plate relative mt-3 min-h-0 flex-1 overflow-auto select-none"
	role="grid"
	aria-label={table.plural}
	aria-rowcount={table.matching + 1}
	aria-colcount={shownColumns.length + 1}
	aria-multiselectable="true"
	aria-activedescendant={table.matching > 0 ? `cell-${at.row}-${at.column}` : undefined}
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
	<div
		role="row"
		aria-rowindex="1"
		class="sticky top-0 z-20 border-b border-rim bg-porcelain text-[12px]"
		style="width: {total}px; height: 46px"
	>
		<div
			role="columnheader"
			aria-sort={aria('name')}
			class="sticky left-0 z-10 flex h-full items-center gap-1 border-r border-line bg-porcelain px-3"
			style="width: {head}px"
		>
			<button
				tabindex="-1"
				class="font-semibold"
				onclick={(event) => onsort(table.named ? 'name' : 'id', event.shiftKey)}
				>{table.named ? 'Name' : table.key}{mark(table.named ? 'name' : 'id')}</button
			>
			{#if table.named}<button
					tabindex="-1"
					class="ml-auto text-steam"
					onclick={(event) => onsort('id', event.shiftKey)}>{table.key}{mark('id')}</button
				>{/if}
		</div>
		{#each seen as { column, nth } (column.path)}
			<div
				role="columnheader"
				aria-sort={aria(column.path)}
				aria-colindex={nth + 2}
				class="absolute top-0 flex h-full flex-col justify-center px-2 {column.numeric
					? 'items-end'
					: 'items-start'}"
				style="left: {lefts[nth]}px; width: {widths[nth]}px"
				title="{column.path}{column.meaning ? `: ${column.meaning}` : ''}{column.range
					? ` (${column.range[0]} to ${column.range[1]})`
					: ''}. Shift adds it to the order."
			>
				<button
					tabindex="-1"
					class="max-w-full truncate font-semibold {column.unused ? 'text-steam line-through' : ''}"
					onclick={(event) => onsort(column.path, event.shiftKey)}
					>{column.title}{#if column.unit}<span class="ml-1 font-normal text-steam">{column.unit}</span
						>{/if}{mark(column.path)}</button
				>
				{#if column.bars}
					<svg class="mt-0.5" width="70" height="12" aria-hidden="true">
						{#each column.bars as height, bar (bar)}<rect
								x={bar * 5}
								y={12 - height * 12}
								width="4"
								height={Math.max(height > 0 ? 1 : 0, height * 12)}
								fill="var(--rim)"
								opacity="0.45"
							/>{/each}
					</svg>
				{/if}
			</div>
		{/each}
	</div>
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
					<!-- svelte-ignore a11y_click_events_have_key_events, a11y_interactive_supports_focus (the grid has the focus and handles the keys) -->
					<div
						role="rowheader"
						id="cell-{item.index}--1"
						class="sticky left-0 z-10 flex h-full cursor-pointer items-center gap-2 border-r border-line px-3 group-hover:bg-wash {selected ===
						`${table.kind}/${row.id}`
							? 'bg-wash'
							: 'bg-porcelain'} {row.mine ? 'mine-bar' : ''} {item.index === at.row && at.column < 0
							? 'outline-2 -outline-offset-2 outline-brass'
							: inBlock(item.index, -1) && several
								? 'chosen'
								: ''}"
						style="width: {head}px"
						onclick={() => {
							at = { row: item.index, column: -1 };
							anchor = at;
							open(row.id);
						}}
					>
						{#if table.named}<span class="truncate {row.mine ? 'text-copper' : ''}"
								>{row.name ?? '—'}<Nick on={{ kind: table.kind, record: row.id }} /></span
							>{/if}
						<code class="truncate text-[12px] {table.named ? 'ml-auto text-steam' : 'flex-1'}">{row.id}</code>
						{#if row.snag}<SnagMark severity={row.snag} />{/if}
					</div>
					{#each seen as { column, index, nth } (column.path)}
						{@const cell = row.cells[index] ?? ''}
						{@const mine = row.changed.includes(index)}
						<!-- svelte-ignore a11y_interactive_supports_focus (as above) -->
						<div
							role="gridcell"
							id="cell-{item.index}-{nth}"
							aria-colindex={nth + 2}
							aria-selected={inBlock(item.index, nth)}
							class="absolute top-0 flex h-full items-center px-2 group-hover:bg-wash {column.numeric
								? 'justify-end font-mono'
								: ''} {mine ? 'mine-bar text-copper' : ''} {item.index === at.row && nth === at.column
								? 'outline-2 -outline-offset-2 outline-brass'
								: several && inBlock(item.index, nth)
									? 'chosen'
									: ''}"
							style="left: {lefts[nth]}px; width: {widths[nth]}px"
							onpointerdown={(event) => press(event, item.index, nth)}
							onpointerenter={() => {
								if (dragging) at = { row: item.index, column: nth };
							}}
							ondblclick={() => void edit()}
						>
							<span class="truncate {column.reference ? 'font-mono' : ''}"
								>{cell}{#if column.numeric}{pad(cell, column.places)}{/if}</span
							>
						</div>
					{/each}
				{:else}
					<div class="sticky left-0 flex h-full items-center px-3 text-steam" style="width: {head}px">…</div>
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
