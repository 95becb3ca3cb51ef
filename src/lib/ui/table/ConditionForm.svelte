<script lang="ts">
	import { Popover } from 'bits-ui';
	import { inConditionWords, type Condition } from '$core/query';
	import type { TableView } from '$core/views';

	/** A condition put together by clicking; it becomes the same words that can be typed. */
	let { table, add }: { table: TableView; add: (condition: string) => void } = $props();

	let open = $state(false);
	let field = $state('');
	let way = $state('has');
	let a = $state('');
	let b = $state('');

	const column = $derived(table.columns.find(({ path }) => path === field) ?? table.columns[0]);
	const ways = $derived<[string, string][]>([
		...(column?.numeric
			? ([
					['between', 'lies between'],
					['>', 'is above'],
					['<', 'is below']
				] as [string, string][])
			: ([['has', 'has the text']] as [string, string][])),
		['one', 'is one of'],
		['other', 'is not one of'],
		['empty', 'is empty'],
		['filled', 'is filled']
	]);
	$effect(() => {
		if (!ways.some(([one]) => one === way)) way = ways[0]![0];
	});

	const condition = $derived.by((): Condition | null => {
		if (!column) return null;
		const own = column.path;
		const [x, y] = [Number(a), Number(b)];
		const list = a
			.split(',')
			.map((part) => part.trim())
			.filter(Boolean);
		switch (way) {
			case 'between':
				return a === '' || b === '' || Number.isNaN(x + y)
					? null
					: { is: 'between', field: own, low: x, high: y };
			case '>':
			case '<':
				return a === '' || Number.isNaN(x) ? null : { is: 'compare', field: own, by: way, value: x };
			case 'one':
			case 'other':
				return list.length === 0 ? null : { is: 'one', field: own, values: list, not: way === 'other' };
			case 'empty':
			case 'filled':
				return { is: 'filled', field: own, not: way === 'empty' };
			default:
				return a.trim() === '' ? null : { is: 'has', field: own, text: a.trim() };
		}
	});
</script>

<Popover.Root bind:open>
	<Popover.Trigger
		class="rounded-full border border-dashed border-steam px-2.5 py-0.5 text-[13px] text-steam hover:text-rim"
		>Add a filter…</Popover.Trigger
	>
	<Popover.Portal>
		<Popover.Content sideOffset={4} class="plate z-40 w-80 p-3 shadow-lg">
			<form
				class="space-y-2"
				onsubmit={(event) => {
					event.preventDefault();
					if (!condition) return;
					add(inConditionWords(condition));
					[a, b, open] = ['', '', false];
				}}
			>
				<div class="flex gap-2">
					<select class="box min-w-0 flex-1" bind:value={field} aria-label="Field of the condition">
						{#each table.columns as one (one.path)}<option value={one.path}>{one.title}</option>{/each}
					</select>
					<select class="box" bind:value={way} aria-label="Condition">
						{#each ways as [one, title] (one)}<option value={one}>{title}</option>{/each}
					</select>
				</div>
				{#if way !== 'empty' && way !== 'filled'}
					<div class="flex items-center gap-2">
						<input class="box min-w-0 flex-1 font-mono" bind:value={a} aria-label="Value of the condition" />
						{#if way === 'between'}<span class="text-steam">and</span><input
								class="box min-w-0 flex-1 font-mono"
								bind:value={b}
								aria-label="Second value of the condition"
							/>{/if}
					</div>
				{/if}
				{#if column?.range}<p class="text-[12px] text-steam">
						{column.title} goes from {column.range[0]} to {column.range[1]}.
					</p>{/if}
				<button class="press main" disabled={!condition}>Only these</button>
			</form>
		</Popover.Content>
	</Popover.Portal>
</Popover.Root>
