<script lang="ts">
	import { applyIntention } from '../frame/client.svelte';

	/** Moves an item of a list up or down, repeats it, takes it out: the order counts in some lists. */
	let {
		slug,
		kind,
		id,
		path,
		last
	}: { slug: string; kind: string; id: string; path: string; last: boolean } = $props();

	const item = $derived(/^(.*)\[(\d+)\]$/.exec(path)!);
	const list = $derived(item[1]!);
	const at = $derived(Number(item[2]));
	type Change = { how: 'copy' | 'remove' } | { how: 'move'; to: number };
	const change = (wish: Change) => applyIntention(slug, { do: 'item', kind, id, list, at, change: wish });
</script>

<span class="invisible ml-1 inline-flex gap-0.5 text-steam group-focus-within:visible group-hover:visible">
	<button
		class="rounded px-1 hover:bg-wash"
		disabled={at === 0}
		aria-label="{path} further up"
		onclick={() => void change({ how: 'move', to: at - 1 })}>↑</button
	>
	<button
		class="rounded px-1 hover:bg-wash"
		disabled={last}
		aria-label="{path} further down"
		onclick={() => void change({ how: 'move', to: at + 1 })}>↓</button
	>
	<button
		class="rounded px-1 hover:bg-wash"
		aria-label="Add a copy of {path}"
		onclick={() => void change({ how: 'copy' })}>+</button
	>
	<button
		class="rounded px-1 hover:bg-wash"
		aria-label="Remove {path}"
		onclick={() => void change({ how: 'remove' })}>×</button
	>
</span>
