<script lang="ts">
	import type { Severity } from '$core/checks';

	/** The shape of a snag: an octagon blocks, a triangle warns, a circle is a note. Never told by colour alone. */
	let { severity }: { severity: Severity } = $props();
	const words = { blocks: 'Blocks', warns: 'Warns', note: 'Note' };
</script>

<svg width="16" height="16" viewBox="0 0 16 16" role="img" aria-label={words[severity]} class="shrink-0">
	{#if severity === 'blocks'}
		<path d="M5 1h6l4 4v6l-4 4H5l-4-4V5z" fill="var(--scald)" />
		<path d="M4.5 8h7" stroke="var(--porcelain)" stroke-width="2" />
	{:else if severity === 'warns'}
		<path d="M8 1.5 15 14.5H1z" fill="var(--saffron)" />
		<path d="M8 6v4M8 11.5v1.5" stroke="var(--porcelain)" stroke-width="1.6" />
	{:else}
		<circle cx="8" cy="8" r="6" fill="none" stroke="var(--steam)" stroke-width="1.8" />
		<circle cx="8" cy="8" r="2" fill="var(--steam)" />
	{/if}
</svg>
