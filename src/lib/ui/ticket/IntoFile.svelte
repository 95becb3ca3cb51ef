<script lang="ts">
	import type { Intention } from '$core/edits';

	/** Asks for the file that records go into; one that is not there yet is made. */
	let {
		kind,
		ids,
		from,
		others,
		plan
	}: {
		kind: string;
		ids: string[];
		from?: string | undefined;
		/** Paths of the files that the game reads with theirs. */
		others: readonly string[];
		plan: (intention: Intention) => void;
	} = $props();

	const list = $props.id();
	let into = $state('');
	function submit(event: SubmitEvent) {
		event.preventDefault();
		if (into.trim() === '') return;
		plan({ do: 'put', kind, ids, into: into.trim(), ...(from === undefined ? {} : { from }) });
	}
</script>

<form class="flex items-center gap-2" onsubmit={submit}>
	<input
		class="box min-w-0 flex-1 font-mono"
		bind:value={into}
		{list}
		placeholder={from ?? others[0] ?? ''}
		aria-label="Path of the other file"
	/>
	<datalist id={list}>
		{#each others as other (other)}<option value={other}></option>{/each}
	</datalist>
	<button class="press main" disabled={into.trim() === ''}>Preview changes</button>
</form>
<p class="mt-1 text-[12px] text-steam">A new file is created if needed.</p>
