<script lang="ts">
	/** A sentence of the core, with what is between backticks set apart as an id or a path. */
	let { text }: { text: string } = $props();
</script>

{#each text.split('`') as part, nth (nth)}{#if nth % 2}<code class="rounded bg-wash px-1">{part}</code
		>{:else}{part}{/if}{/each}
