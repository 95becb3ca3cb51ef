<script lang="ts">
	import { Down, Plus, Up, X } from '../frame/icons';

	/** Moves an item of a list up or down, adds a copy of it, removes it. */
	let {
		label,
		first,
		last,
		ordered = true,
		copy = null,
		move,
		remove
	}: {
		/** How the item is called: `Abilities 2`. */
		label: string;
		first: boolean;
		last: boolean;
		/** Whether the order of the items is theirs to change. */
		ordered?: boolean;
		copy?: (() => void) | null;
		move: (by: -1 | 1) => void;
		remove: () => void;
	} = $props();
</script>

<span
	class="inline-flex shrink-0 gap-0.5 text-steam opacity-40 group-focus-within/item:opacity-100 group-hover/item:opacity-100"
>
	{#if ordered}
		<button
			class="rounded p-0.5 hover:bg-wash disabled:opacity-30"
			disabled={first}
			aria-label="Move {label} up"
			title="Move up"
			data-move-up
			onclick={() => move(-1)}><Up size={14} /></button
		>
		<button
			class="rounded p-0.5 hover:bg-wash disabled:opacity-30"
			disabled={last}
			aria-label="Move {label} down"
			title="Move down"
			data-move-down
			onclick={() => move(1)}><Down size={14} /></button
		>
	{/if}
	{#if copy}
		<button
			class="rounded p-0.5 hover:bg-wash"
			aria-label="Add a copy of {label}"
			title="Add a copy"
			onclick={copy}><Plus size={14} /></button
		>
	{/if}
	<button class="rounded p-0.5 hover:bg-wash" aria-label="Remove {label}" title="Remove" onclick={remove}
		><X size={14} /></button
	>
</span>
