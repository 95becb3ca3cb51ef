<script lang="ts">
	import { onMount } from 'svelte';
	import { goto } from '$app/navigation';
	import { counted, numbered } from '$core/wording';
	import type { TableEntry } from '$core/views';
	import Nick from '$ui/frame/Nick.svelte';
	import { withParameters } from '$ui/frame/address';
	import { asked } from '$ui/frame/asked';
	import { arrowKeys } from '$ui/frame/move';
	import { makePause } from '$ui/frame/pause';
	import { recentTables } from '$ui/table/recent';

	/** All tables: searched, ordered, by folder. */
	let { data } = $props();
	const slug = $derived(data.project.slug);
	const pause = makePause();
	let recent = $state<{ kind: string; title: string }[]>([]);
	onMount(() => {
		recent = recentTables(slug);
	});

	const keep = { replaceState: true, keepFocus: true, noScroll: true };
	const typed = (event: Event) => {
		const { value } = event.currentTarget as HTMLInputElement;
		pause.after(() => void goto(withParameters(asked(), { q: value }), keep), 120);
	};
	const ORDERS = [
		['folder', 'By folder'],
		['records', 'Most records'],
		['name', 'By name'],
		['changed', 'Changed by me']
	] as const;
	/** Rows under the folder that they share; one group where the order is another. */
	const groups = $derived.by(() => {
		if (data.sort !== 'folder') return [{ folder: null, kinds: data.kinds }];
		// They come by folder already.
		return data.kinds.reduce<{ folder: string | null; kinds: TableEntry[] }[]>((found, kind) => {
			const last = found.at(-1);
			if (last?.folder === kind.folder) last.kinds.push(kind);
			else found.push({ folder: kind.folder, kinds: [kind] });
			return found;
		}, []);
	});
</script>

{#snippet row(kind: TableEntry)}
	<a
		data-move
		href="/p/{slug}/tables/{encodeURIComponent(kind.kind)}"
		class="grid grid-cols-[minmax(140px,1.2fr)_110px_90px_minmax(0,1.6fr)] items-baseline gap-x-3 px-4 py-1.5 hover:bg-wash"
	>
		<span class="truncate font-semibold">{kind.title}<Nick on={{ kind: kind.kind }} /></span><span
			class="text-right font-mono text-steam">{numbered(kind.records)}</span
		><span class="text-copper">{kind.mine > 0 ? `${numbered(kind.mine)} mine` : ''}</span><code
			class="truncate text-[12px] text-steam"
			title={kind.files}>{kind.files}{kind.inferred ? ' (detected)' : ''}</code
		>
	</a>
{/snippet}

<svelte:head><title>Tables · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-5xl px-6 py-6">
	<h1>Tables</h1>
	{#if data.all === 0}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">No file of this game could be read as data yet.</p>
			<p class="mt-3 flex gap-3">
				<a class="press main" href="/p/{slug}/first">See what was understood</a>
				<a class="press" href="/p/{slug}/setup">See all files</a>
			</p>
		</div>
	{:else}
		<div class="mt-3 flex flex-wrap items-center gap-3">
			<input
				class="box w-64"
				placeholder="Only tables with…"
				aria-label="Only tables with"
				value={data.q}
				oninput={typed}
			/>
			<label class="flex items-center gap-1.5 text-steam"
				>Order
				<select
					class="box"
					value={data.sort}
					onchange={(event) => void goto(withParameters(asked(), { sort: event.currentTarget.value }), keep)}
				>
					{#each ORDERS as [name, title] (name)}<option value={name}>{title}</option>{/each}
				</select></label
			>
			<label class="flex items-center gap-1.5"
				><input
					type="checkbox"
					class="accent-(--copper)"
					checked={data.mine}
					disabled={data.changed === 0 && !data.mine}
					onchange={(event) =>
						void goto(withParameters(asked(), { mine: event.currentTarget.checked ? 'yes' : '' }), keep)}
				/>only changed by me ({data.changed})</label
			>
			<span class="ml-auto text-steam">{counted(data.passing, 'table')}</span>
		</div>
		{#if recent.length > 0 && data.q === ''}
			<p class="mt-2 flex flex-wrap gap-x-3 text-steam">
				Recent:
				{#each recent as one (one.kind)}<a
						class="follow"
						href="/p/{slug}/tables/{encodeURIComponent(one.kind)}">{one.title}</a
					>{/each}
			</p>
		{/if}
		<div role="group" aria-label="Tables" {@attach arrowKeys}>
			{#each groups as group (group.folder)}
				{#if group.folder !== null}<h2 class="mt-4 mb-1 font-mono text-[13px] font-normal text-steam">
						{group.folder === '' ? 'in the game’s own folder' : `${group.folder}/`}
					</h2>{/if}
				<div class="plate divide-y divide-line/60 {group.folder === null ? 'mt-4' : ''}">
					{#each group.kinds as kind (kind.kind)}{@render row(kind)}{/each}
				</div>
			{/each}
			{#if data.passing === 0}<p class="plate mt-4 p-4 text-steam">
					No table matches. <button
						class="follow"
						onclick={() => void goto(withParameters(asked(), { q: '', mine: '' }), keep)}>Show all</button
					>
				</p>{/if}
			{#if data.passing > data.kinds.length}<p class="mt-2 text-steam">
					The first {data.kinds.length} of {numbered(data.passing)} are listed; search for the others.
				</p>{/if}
			{#if data.singles.length > 0}
				<details class="mt-4">
					<summary class="cursor-pointer text-steam"
						>{counted(data.singles.length, 'file', 'files')} with a few settings each, which nothing refers to</summary
					>
					<div class="plate mt-1 divide-y divide-line/60">
						{#each data.singles as kind (kind.kind)}{@render row(kind)}{/each}
					</div>
				</details>
			{/if}
		</div>
	{/if}
</div>
