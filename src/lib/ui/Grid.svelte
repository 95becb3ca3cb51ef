<script lang="ts">
	import Nick from './Nick.svelte';
	import { createVirtualizer } from '@tanstack/svelte-virtual';
	import { onMount } from 'svelte';
	import { get } from 'svelte/store';
	import type { TableRow, TableView } from '$core/views';
	import SnagMark from './SnagMark.svelte';

	/** A kind as rows of 28 px, only those in sight drawn; the first column stays, a row opens its ticket. */
	let {
		table,
		rows,
		sort,
		onsort,
		selected,
		open
	}: {
		table: TableView;
		rows: TableRow[];
		sort: string;
		onsort: (path: string) => void;
		selected: string | null;
		open: (id: string) => void;
	} = $props();

	const ROW = 28;
	let view = $state<HTMLDivElement>();
	let at = $state(0);
	const virtual = createVirtualizer<HTMLDivElement, HTMLDivElement>({
		count: 0,
		getScrollElement: () => view ?? null,
		estimateSize: () => ROW,
		overscan: 12
	});

	$effect(() => {
		const count = rows.length;
		if (view) get(virtual).setOptions({ count, getScrollElement: () => view ?? null });
	});
	// A row that the address names is brought into sight, once.
	onMount(() => {
		const named = rows.findIndex((row) => selected === `${table.kind}/${row.id}`);
		if (named < 0) return;
		at = named;
		get(virtual).scrollToIndex(named, { align: 'center' });
	});
	$effect(() => {
		if (at >= rows.length) at = Math.max(0, rows.length - 1);
	});

	const width = (column: TableView['columns'][number], index: number) => {
		const longest = Math.max(
			column.title.length + (column.unit ? column.unit.length + 1 : 0) + 2,
			...rows.slice(0, 300).map((row) => row.cells[index]!.length)
		);
		return Math.min(260, Math.max(48, longest * 8 + 18));
	};
	const widths = $derived(table.columns.map(width));
	const head = $derived(table.named ? 232 : 200);
	const total = $derived(head + widths.reduce((sum, next) => sum + next, 0));
	/** Digits behind the point that a column is padded to, so that points stand below each other. */
	const places = $derived(
		table.columns.map((column, index) =>
			column.numeric ? Math.max(0, ...rows.map((row) => row.cells[index]!.split('.')[1]?.length ?? 0)) : 0
		)
	);
	const pad = (cell: string, most: number) => {
		if (most === 0 || cell === '') return '';
		const digits = cell.split('.')[1]?.length ?? -1;
		return '\u2007'.repeat(most - Math.max(0, digits)) + (digits < 0 ? '\u2008' : '');
	};
	const mark = (path: string) => (sort === path ? ' ↑' : sort === `-${path}` ? ' ↓' : '');
	const aria = (path: string) => (sort === path ? 'ascending' : sort === `-${path}` ? 'descending' : 'none');

	function onkeydown(event: KeyboardEvent) {
		const page = Math.max(1, Math.floor((view?.clientHeight ?? 300) / ROW) - 2);
		const steps: Record<string, number> = {
			ArrowDown: 1,
			ArrowUp: -1,
			PageDown: page,
			PageUp: -page,
			Home: -Infinity,
			End: Infinity
		};
		const step = steps[event.key];
		const row = rows[at];
		if (event.key === 'Enter' && row) open(row.id);
		else if (step !== undefined && rows.length > 0) {
			at = Math.max(0, Math.min(rows.length - 1, at + step));
			get(virtual).scrollToIndex(at);
		} else return;
		event.preventDefault();
	}
</script>

<div
	bind:this={view}
	class="plate relative mt-3 min-h-0 flex-1 overflow-auto"
	role="grid"
	aria-label={table.plural}
	aria-rowcount={rows.length + 1}
	aria-colcount={table.columns.length + 1}
	aria-activedescendant={rows[at] ? `row-${at}` : undefined}
	tabindex="0"
	{onkeydown}
>
	<div
		role="row"
		aria-rowindex="1"
		class="sticky top-0 z-20 flex border-b border-rim bg-porcelain text-[12px]"
		style="width: {total}px"
	>
		<div
			role="columnheader"
			aria-sort={aria('name')}
			class="sticky left-0 z-10 flex h-8 shrink-0 items-center gap-1 border-r border-line bg-porcelain px-3"
			style="width: {head}px"
		>
			<button tabindex="-1" class="font-semibold" onclick={() => onsort(table.named ? 'name' : 'id')}
				>{table.named ? 'Name' : table.key}{mark(table.named ? 'name' : 'id')}</button
			>
			{#if table.named}<button tabindex="-1" class="ml-auto text-steam" onclick={() => onsort('id')}
					>{table.key}{mark('id')}</button
				>{/if}
		</div>
		{#each table.columns as column, index (column.path)}
			<div
				role="columnheader"
				aria-sort={aria(column.path)}
				class="flex h-8 shrink-0 items-center px-2 {column.numeric ? 'justify-end' : ''}"
				style="width: {widths[index]}px"
			>
				<button
					tabindex="-1"
					class="truncate font-semibold"
					title={column.path}
					onclick={() => onsort(column.path)}
					>{column.title}{#if column.unit}<span class="ml-1 font-normal text-steam">{column.unit}</span
						>{/if}{mark(column.path)}</button
				>
			</div>
		{/each}
	</div>
	<div class="relative" style="height: {$virtual.getTotalSize()}px; width: {total}px">
		{#each $virtual.getVirtualItems() as item (item.key)}
			{@const row = rows[item.index]}
			{#if row}
				<!-- svelte-ignore a11y_click_events_have_key_events, a11y_interactive_supports_focus (the grid has the focus and handles the keys) -->
				<div
					role="row"
					id="row-{item.index}"
					aria-rowindex={item.index + 2}
					aria-selected={selected === `${table.kind}/${row.id}`}
					class="group absolute left-0 flex cursor-pointer {item.index === at
						? 'outline-1 -outline-offset-1 outline-brass'
						: ''}"
					style="transform: translateY({item.start}px); height: {ROW}px; width: {total}px"
					onclick={() => {
						at = item.index;
						open(row.id);
					}}
				>
					<div
						role="rowheader"
						class="sticky left-0 z-10 flex shrink-0 items-center gap-2 border-r border-line px-3 group-hover:bg-wash {selected ===
						`${table.kind}/${row.id}`
							? 'bg-wash'
							: 'bg-porcelain'} {row.mine ? 'mine-bar' : ''}"
						style="width: {head}px"
					>
						{#if table.named}<span class="truncate {row.mine ? 'text-copper' : ''}"
								>{row.name ?? '—'}<Nick on={{ kind: table.kind, record: row.id }} /></span
							>{/if}
						<code class="truncate text-[12px] {table.named ? 'ml-auto text-steam' : 'flex-1'}">{row.id}</code>
						{#if row.snag}<SnagMark severity={row.snag} />{/if}
					</div>
					{#each row.cells as cell, index (index)}
						{@const mine = row.changed.includes(index)}
						<div
							role="gridcell"
							class="flex shrink-0 items-center px-2 group-hover:bg-wash {selected ===
							`${table.kind}/${row.id}`
								? 'bg-wash'
								: ''} {table.columns[index]!.numeric ? 'justify-end font-mono' : ''} {mine
								? 'mine-bar text-copper'
								: ''}"
							style="width: {widths[index]}px"
						>
							<span class="truncate {table.columns[index]!.reference ? 'font-mono' : ''}"
								>{cell}{#if table.columns[index]!.numeric}{pad(cell, places[index]!)}{/if}</span
							>
						</div>
					{/each}
				</div>
			{/if}
		{/each}
	</div>
</div>
