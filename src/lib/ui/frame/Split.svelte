<script lang="ts">
	import type { Snippet } from 'svelte';

	/** The page, and beside it the ticket of what is selected; the edge between them can be moved. */
	let { open, children, side }: { open: boolean; children: Snippet; side: Snippet } = $props();
	const LEAST = 440;
	const MOST = 860;
	let width = $state(560);
	let dragging = false;

	const keep = (next: number) => (width = Math.min(MOST, Math.max(LEAST, next)));

	function onkeydown(event: KeyboardEvent) {
		if (event.key === 'ArrowLeft') keep(width + 24);
		else if (event.key === 'ArrowRight') keep(width - 24);
		else return;
		event.preventDefault();
	}
</script>

<div class="flex min-h-0 min-w-0 flex-1">
	<main class="min-w-0 flex-1 overflow-auto">{@render children()}</main>
	{#if open}
		<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions (a separator that moves is a control) -->
		<div
			role="separator"
			aria-orientation="vertical"
			aria-label="Width of the ticket"
			aria-valuenow={width}
			aria-valuemin={LEAST}
			aria-valuemax={MOST}
			tabindex="0"
			class="w-1.5 shrink-0 cursor-col-resize border-l border-line bg-porcelain hover:bg-wash"
			{onkeydown}
			onpointerdown={(event) => {
				dragging = true;
				event.currentTarget.setPointerCapture(event.pointerId);
			}}
			onpointermove={(event) => dragging && keep(window.innerWidth - event.clientX)}
			onpointerup={() => (dragging = false)}
		></div>
		<aside
			class="min-w-0 shrink-0 bg-porcelain"
			style="width: {width}px; max-width: 62vw"
			aria-label="Ticket"
		>
			{@render side()}
		</aside>
	{/if}
</div>
