<script lang="ts">
	import { page } from '$app/state';
	import { targetKey, type NoteTarget } from '$core/guide';
	import { nicknamesIn } from './nicknames';

	/** The nickname that people gave a thing, beside its name; nothing where there is none. */
	let { on }: { on: NoteTarget } = $props();
	const nickname = $derived(nicknamesIn(page.data.notes).get(targetKey(on)));
</script>

{#if nickname}<span class="ml-1 font-sans italic" data-nickname>“{nickname}”</span>{/if}
