<script lang="ts">
	import type { Intention } from '$core/edits';
	import type { Ticket } from '$core/views';
	import IntoFile from './IntoFile.svelte';
	import { applyIntention } from '../frame/client.svelte';

	/** Where a record is in its file: moved up and down, or into another file that the game reads with it. */
	let {
		slug,
		kind,
		id,
		place,
		plan
	}: {
		slug: string;
		kind: string;
		id: string;
		place: Ticket['places'][number];
		plan: (intention: Intention) => void;
	} = $props();

	let asked = $state(false);
	const move = (to: number) =>
		void applyIntention(slug, { do: 'move', kind, id, to: to - 1, file: place.path });
</script>

<div class="mt-1 flex flex-wrap items-center gap-1 text-[13px]" data-testid="place">
	<span class="mr-2"
		>Number {place.nth} of {place.count} in <code>{place.path}</code>{place.shown === null
			? ''
			: `; the game shows it as number ${place.shown}`}</span
	>
	{#if place.free}
		<button
			class="rounded px-1.5 hover:bg-wash disabled:opacity-40"
			disabled={place.nth === 1}
			onclick={() => move(place.nth - 1)}>Up</button
		>
		<button
			class="rounded px-1.5 hover:bg-wash disabled:opacity-40"
			disabled={place.nth === place.count}
			onclick={() => move(place.nth + 1)}>Down</button
		>
		<button
			class="rounded px-1.5 hover:bg-wash disabled:opacity-40"
			disabled={place.nth === 1}
			onclick={() => move(1)}>First</button
		>
		<button
			class="rounded px-1.5 hover:bg-wash disabled:opacity-40"
			disabled={place.nth === place.count}
			onclick={() => move(place.count)}>Last</button
		>
	{/if}
	{#if place.apart}
		<button
			class="rounded px-1.5 hover:bg-wash disabled:opacity-40"
			aria-expanded={asked}
			onclick={() => (asked = !asked)}>Into another file</button
		>
	{/if}
</div>
{#if asked}
	<div class="mt-2"><IntoFile {kind} ids={[id]} from={place.path} others={place.others} {plan} /></div>
{/if}
