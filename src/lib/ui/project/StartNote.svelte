<script lang="ts">
	/** What would come of a part of a game's start. */
	let { look }: { look: { ok: boolean; said: string } | null } = $props();
</script>

{#if look}<p class="mt-1 text-[13px] break-words {look.ok ? 'text-steam' : 'text-scald'}" role="status">
		{look.said}
	</p>{/if}
