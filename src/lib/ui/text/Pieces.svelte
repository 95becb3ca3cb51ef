<script lang="ts">
	import type { Piece } from '$core/text';

	/** Pieces of a text, each as the game shows it. */
	let { pieces }: { pieces: readonly Piece[] } = $props();

	const LOOK = { strong: 'font-bold', emphasis: 'italic', small: 'text-[11px]' };
</script>

{#each pieces as { text, shows, colour, from }, nth (nth)}<span
		class="{shows.map((one) => LOOK[one]).join(' ')} {from === 'value'
			? 'underline decoration-dotted underline-offset-2'
			: ''}"
		title={from === 'value' ? 'A value that the game puts in here' : undefined}
		style:color={colour}>{text}</span
	>{/each}
