<script lang="ts">
	import type { Column, TableView } from '$core/views';
	import type { Arranged } from './columns';

	/** The heads of a table's columns: what they are called, how their values are distributed, by which it is ordered, in which groups. */
	let {
		table,
		arranged,
		shownColumns,
		seen,
		widths,
		lefts,
		head,
		fixed,
		total,
		sort,
		onsort,
		onfold
	}: {
		table: TableView;
		arranged: Arranged;
		shownColumns: { column: Column; nth: number }[];
		/** Those in sight behind the pinned ones. */
		seen: { column: Column; nth: number }[];
		widths: number[];
		lefts: number[];
		/** Width of the name's column, of all that stays in sight, and of everything. */
		head: number;
		fixed: number;
		total: number;
		sort: string[];
		onsort: (path: string, more: boolean) => void;
		onfold: (title: string) => void;
	} = $props();

	const height = $derived(arranged.bands.length > 0 ? 66 : 46);
	const mark = (path: string) => {
		const place = sort.findIndex((one) => one === path || one === `-${path}`);
		if (place < 0) return '';
		return ` ${sort[place]!.startsWith('-') ? '↓' : '↑'}${sort.length > 1 ? place + 1 : ''}`;
	};
	const aria = (path: string) =>
		sort.includes(path) ? 'ascending' : sort.includes(`-${path}`) ? 'descending' : 'none';
</script>

{#snippet columnHead({ column, nth }: (typeof shownColumns)[number])}
	<div
		role="columnheader"
		aria-sort={aria(column.path)}
		aria-colindex={nth + 2}
		class="absolute bottom-0 flex h-[46px] flex-col justify-center px-2 {column.numeric && !column.coded
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
		{#if column.ticks}
			<svg class="mt-0.5" width="70" height="10" aria-hidden="true">
				<path d="M2 8H68" stroke="var(--steam)" stroke-width="0.75" />
				{#each column.ticks as place (place)}
					<path d="M{2 + place * 66} 3V8" stroke="var(--steam)" stroke-width="0.75" />
				{/each}
			</svg>
		{/if}
	</div>
{/snippet}
<div
	role="row"
	aria-rowindex="1"
	class="sticky top-0 z-20 border-b border-rim bg-porcelain text-[12px]"
	style="width: {total}px; height: {height}px"
>
	<div
		class="sticky left-0 z-10 h-full border-r border-line bg-porcelain"
		style="width: {fixed}px"
		role="presentation"
	>
		<div
			role="columnheader"
			aria-sort={aria('name')}
			class="absolute bottom-0 left-0 flex h-[46px] items-center gap-1 px-3"
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
		{#each shownColumns.slice(0, arranged.pinned) as entry (entry.column.path)}{@render columnHead(
				entry
			)}{/each}
	</div>
	{#each arranged.bands as band (band.title)}
		<button
			tabindex="-1"
			class="absolute top-0 h-5 truncate border-b border-l border-line px-2 text-left text-steam hover:bg-wash hover:text-rim"
			style="left: {lefts[band.from]}px; width: {(lefts[band.from + band.count] ?? total) -
				lefts[band.from]!}px"
			aria-expanded={band.hidden === 0}
			title={band.hidden > 0 ? `Show all of ${band.title || 'the others'}` : 'Collapse to its first column'}
			onclick={() => onfold(band.title)}
			>{band.title || 'Others'}{band.hidden > 0 ? ` +${band.hidden}` : ''}</button
		>
	{/each}
	{#each seen as entry (entry.column.path)}{@render columnHead(entry)}{/each}
</div>
