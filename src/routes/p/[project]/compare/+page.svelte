<script lang="ts">
	import Nick from '$ui/frame/Nick.svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import type { Intention } from '$core/edits';
	import { counted } from '$core/wording';
	import { withTicket } from '$ui/frame/address';
	import { X } from '$ui/frame/icons';
	import PlanDialog from '$ui/plan/PlanDialog.svelte';
	import RecordBox from '$ui/pickers/RecordBox.svelte';

	let { data } = $props();
	const { columns, rows, missing } = $derived(data.comparison);
	const keys = $derived(columns.map((column) => column.key));
	let all = $state(false);
	/** Fields that are chosen to be copied, and from which column. */
	let chosen = $state<Record<string, number>>({});
	let chosenTarget = $state('');
	let plan = $state<Intention | null>(null);

	const shown = $derived(all ? rows : rows.filter((row) => row.differs));
	const same = $derived(rows.filter((row) => !row.differs).length);
	const targets = $derived(columns.filter((column) => column.effective));
	const target = $derived(targets.find((column) => column.key === chosenTarget) ?? targets[0]);
	const count = $derived(Object.keys(chosen).length);

	const address = (list: string[]) => {
		const next = new URL(page.url);
		next.searchParams.delete('with');
		for (const key of list) next.searchParams.append('with', key);
		return next.pathname + next.search;
	};
	const go = (list: string[]) => void goto(address(list), { keepFocus: true, noScroll: true });

	function choose(path: string, column: number) {
		if (chosen[path] === column) {
			chosen = Object.fromEntries(Object.entries(chosen).filter(([field]) => field !== path));
		} else chosen = { ...chosen, [path]: column };
	}

	function copy() {
		if (!target) return;
		const values = Object.entries(chosen).flatMap(([field, column]) => {
			const value = rows.find((row) => row.path === field)?.cells[column];
			return value === null || value === undefined || columns[column]?.key === target.key
				? []
				: [{ field, value }];
		});
		if (values.length === 0) return;
		const from = [...new Set(Object.values(chosen).map((column) => columns[column]?.name ?? ''))].join(
			' and '
		);
		plan = { do: 'fill', kind: target.kind, id: target.id, values, from };
	}
</script>

<svelte:head><title>Side by side · Kettle Dial</title></svelte:head>
<div class="px-6 py-5">
	<div class="flex flex-wrap items-center gap-3">
		<h1>Side by side</h1>
		{#if columns.length < data.most}
			<RecordBox
				slug={data.project.slug}
				kind={columns[0]?.kind ?? ''}
				label="Add another record"
				pick={(kind, id) => go([...keys, `${kind}/${id}`])}
			/>
		{/if}
		{#if columns.length > 1}
			<label class="flex items-center gap-1.5"
				><input type="checkbox" class="accent-(--rim)" bind:checked={all} />also show {counted(same, 'field')} with
				the same value</label
			>
		{/if}
	</div>
	{#if missing.length > 0}<p class="mt-2 text-scald" role="alert">
			Not found: {missing.join(', ')}.
			<a class="follow" href={address(keys)}>Continue without</a>
		</p>{/if}
	{#if columns.length < 2}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">
				{columns.length === 0
					? 'Choose two to six records to compare.'
					: `What is ${columns[0]!.name} to be compared with?`}
			</p>
			<p class="mt-1 text-steam">Type a name above, or choose another layer or version of the same record.</p>
			{#each columns as column (column.key)}
				<p class="mt-3 flex flex-wrap gap-2">
					{#each column.sources.filter((source) => source.key !== column.key) as source (source.key)}
						<a class="press" href={address([...keys, source.key])}>{column.name}, {source.title}</a>
					{/each}
				</p>
			{/each}
		</div>
	{:else}
		<div class="plate mt-3 w-max max-w-full overflow-auto">
			<table class="text-left">
				<thead class="sticky top-0 bg-porcelain">
					<tr class="border-b border-rim align-top">
						<th class="w-44 px-4 py-2 font-normal text-steam">Field</th>
						{#each columns as column (column.key)}
							<th class="min-w-40 px-3 py-2 font-normal">
								<span class="flex items-start gap-1"
									><a class="follow font-semibold" href={withTicket(page.url, column.kind, column.id)}
										>{column.name}<Nick on={{ kind: column.kind, record: column.id }} /></a
									>
									<a
										class="ml-auto rounded-full p-0.5 hover:bg-wash"
										href={address(keys.filter((key) => key !== column.key))}
										aria-label="Remove {column.name}"><X size={14} /></a
									></span
								>
								<select
									class="mt-0.5 h-6 max-w-48 rounded border border-line bg-porcelain text-[12px] {column.mine
										? 'text-copper'
										: 'text-steam'}"
									aria-label="{column.name}: from which layer or version"
									value={column.key}
									onchange={(event) =>
										go(keys.map((key) => (key === column.key ? event.currentTarget.value : key)))}
								>
									{#each column.sources as source (source.key)}<option value={source.key}
											>{source.title}</option
										>{/each}
								</select>
							</th>
						{/each}
					</tr>
				</thead>
				<tbody>
					{#each shown as row (row.path)}
						<tr class="border-b border-line/60">
							<th scope="row" class="px-4 py-1 font-normal" title={row.path}
								>{row.unit ? `${row.title} ` : row.title}{#if row.unit}<span
										class="ml-1 text-[12px] text-steam">{row.unit}</span
									>{/if}</th
							>
							{#each row.cells as cell, at (at)}
								<td class="p-0.5">
									{#if cell === null}<span class="px-2 text-steam">—</span>
									{:else}
										<button
											class="w-full max-w-72 truncate rounded border px-2 py-0.5 font-mono {row.numeric
												? 'text-right'
												: 'text-left'} {chosen[row.path] === at
												? 'border-copper text-copper'
												: 'border-transparent hover:border-steam'} {row.differs ? '' : 'text-steam'}"
											aria-pressed={chosen[row.path] === at}
											title={cell}
											onclick={() => choose(row.path, at)}>{cell || 'nothing'}</button
										>
									{/if}
								</td>
							{/each}
						</tr>
					{/each}
				</tbody>
			</table>
			{#if shown.length === 0}<p class="px-4 py-3">They are the same in every field.</p>{/if}
		</div>
		{#if targets.length > 0}
			<div class="mt-3 flex flex-wrap items-center gap-3">
				<span class="text-steam"
					>{count === 0 ? 'Click values to choose what to copy.' : `${count} chosen`}</span
				>
				<label class="flex items-center gap-2"
					>into <select
						class="box"
						value={target?.key}
						onchange={(event) => (chosenTarget = event.currentTarget.value)}
					>
						{#each targets as column (column.key)}<option value={column.key}>{column.name}</option>{/each}
					</select></label
				>
				<button class="press main" disabled={count === 0} onclick={copy}>Preview changes</button>
			</div>
		{/if}
	{/if}
</div>
<PlanDialog slug={data.project.slug} bind:intention={plan} onapplied={() => (chosen = {})} />
