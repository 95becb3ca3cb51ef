<script lang="ts">
	import type { Intention } from '$core/edits';
	import type { Ticket } from '$core/views';
	import { applyIntention } from './client.svelte';

	/** Where a record stands in its file: moved up and down, or into another file that the game reads with it. */
	let { slug, ticket, plan }: { slug: string; ticket: Ticket; plan: (intention: Intention) => void } =
		$props();

	const place = $derived(ticket.place!);
	let into = $state('');
	let asked = $state(false);
	const move = (to: number) =>
		void applyIntention(slug, { do: 'move', kind: ticket.kind, id: ticket.id, to: to - 1 });
	function submit(event: SubmitEvent) {
		event.preventDefault();
		if (into.trim() === '') return;
		plan({ do: 'put', from: place.path, ids: [ticket.id], into: into.trim() });
	}
</script>

<div class="mt-1 flex flex-wrap items-center gap-2" data-testid="place">
	<span
		>Number {place.nth} of {place.count} in <code>{place.path}</code>{place.shown === null
			? ''
			: `; the game shows it as number ${place.shown}`}</span
	>
	{#if place.free}
		<button class="press" disabled={place.nth === 1} onclick={() => move(place.nth - 1)}>Up</button>
		<button class="press" disabled={place.nth === place.count} onclick={() => move(place.nth + 1)}
			>Down</button
		>
		<button class="press" disabled={place.nth === 1} onclick={() => move(1)}>To the top</button>
		<button class="press" disabled={place.nth === place.count} onclick={() => move(place.count)}
			>To the end</button
		>
	{/if}
	{#if place.apart}
		<button class="press" aria-expanded={asked} onclick={() => (asked = !asked)}>Into another file</button>
	{/if}
</div>
{#if asked}
	<form class="mt-2 flex items-center gap-2" onsubmit={submit}>
		<input
			class="box min-w-0 flex-1 font-mono"
			bind:value={into}
			list="files-of-{ticket.kind}"
			placeholder={place.path}
			aria-label="Path of the other file"
		/>
		<datalist id="files-of-{ticket.kind}">
			{#each place.others as other (other)}<option value={other}></option>{/each}
		</datalist>
		<button class="press main" disabled={into.trim() === ''}>Show the plan</button>
	</form>
	<p class="mt-1 text-[12px] text-steam">A file that is not there yet is made.</p>
{/if}
