<script lang="ts">
	import NoteOn from '$ui/NoteOn.svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { withParameters } from '$ui/address';
	import Grid from '$ui/Grid.svelte';
	import { arrange } from '$core/numbers';

	let { data } = $props();
	const table = $derived(data.table);
	const filter = $derived(page.url.searchParams.get('filter') ?? '');
	const only = $derived(page.url.searchParams.get('only') === 'mine');
	const sort = $derived(page.url.searchParams.get('sort') ?? '');
	let timer: ReturnType<typeof setTimeout> | undefined;

	const rows = $derived(table.matching === null ? arrange(table, { filter, sort, only }) : table.rows);
	const matching = $derived(table.matching ?? rows.length);

	const address = (changes: Record<string, string | null>) => withParameters(page.url, changes);
	const go = (changes: Record<string, string | null>) =>
		void goto(address(changes), { replaceState: true, keepFocus: true, noScroll: true });

	function typed(event: Event) {
		const value = (event.currentTarget as HTMLInputElement).value;
		clearTimeout(timer);
		timer = setTimeout(() => go({ filter: value }), 100);
	}
</script>

<svelte:head><title>{table.plural} · Kettle Dial</title></svelte:head>

<div class="flex h-full flex-col px-4 py-3">
	<div class="flex flex-wrap items-center gap-3">
		<h1 class="flex items-center gap-1 leading-8">{table.plural}<NoteOn on={{ kind: table.kind }} /></h1>
		<label
			><span class="sr-only">Other tables</span>
			<select
				class="box"
				value={table.kind}
				onchange={(event) => void goto(`/p/${data.project.slug}/tables/${event.currentTarget.value}`)}
			>
				{#each data.kinds as kind (kind.kind)}<option value={kind.kind}>{kind.title} ({kind.records})</option
					>{/each}
			</select>
		</label>
		<a class="follow" href="/p/{data.project.slug}/guide/{encodeURIComponent(table.kind)}"
			>what its fields mean</a
		>
		<input
			class="box w-72"
			placeholder="Only rows with… or speed>20"
			aria-label="Filter the rows"
			value={filter}
			oninput={typed}
			data-testid="filter"
		/>
		<label class="flex items-center gap-1.5"
			><input
				type="checkbox"
				class="accent-(--copper)"
				checked={only}
				onchange={(event) => go({ only: event.currentTarget.checked ? 'mine' : null })}
			/>only mine</label
		>
		<span class="text-steam" role="status"
			>{matching === table.total ? `${matching} rows` : `${matching} of ${table.total} rows`}{rows.length <
			matching
				? `, the first ${rows.length} shown`
				: ''}{table.limit ? `, room for ${table.limit}` : ''}</span
		>
	</div>
	{#if rows.length === 0}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">{table.total === 0 ? 'This table is empty.' : 'No row is like this.'}</p>
			{#if table.total > 0}<p class="mt-3">
					<a class="press" href={address({ filter: null, only: null })}>Show all rows</a>
				</p>{/if}
		</div>
	{:else}
		<Grid
			{table}
			{rows}
			{sort}
			onsort={(path) => go({ sort: sort === path ? `-${path}` : sort === `-${path}` ? null : path })}
			selected={page.url.searchParams.get('ticket')}
			open={(id) =>
				void goto(address({ ticket: `${table.kind}/${id}` }), { keepFocus: true, noScroll: true })}
		/>
	{/if}
</div>
