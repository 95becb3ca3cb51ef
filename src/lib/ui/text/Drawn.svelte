<script lang="ts">
	import type { Piece } from '$core/text';
	import { drawn, drawnText, type TextLook } from '$core/words';
	import { counted } from '$core/wording';
	import Pieces from './Pieces.svelte';

	/** A text as the game draws it: nothing where that is just what is written. */
	let { text, look, label }: { text: string; look: TextLook; label: string } = $props();

	const shown = $derived(drawn(text, look));
	const whole = $derived(shown.cut ? drawn(text, { ...look, lines: null }) : shown);
	const plain = $derived(
		!shown.cut &&
			look.width === null &&
			drawnText(shown) === text &&
			shown.lines.every((line) => line.every(isPlain))
	);
	const isPlain = ({ shows, colour, from }: Piece) => shows.length === 0 && !colour && !from;
	/** The room on the screen, as wide as the game's. */
	const room = $derived(
		look.width === null
			? ''
			: typeof look.width === 'number'
				? `width: calc(${look.width}ch + 18px)`
				: `width: ${look.width.pixels + 18}px; font-size: ${look.width.size}px`
	);
	const font = $derived(
		look.width === null
			? ''
			: typeof look.width === 'number' || look.width.font === 'mono'
				? 'font-mono'
				: look.width.font === 'serif'
					? 'font-title'
					: ''
	);
</script>

{#if text !== '' && !plain}
	<figure class="my-1" data-testid="drawn">
		<figcaption class="sr-only">{label}, in the game</figcaption>
		<div
			class="max-w-full overflow-x-auto game-screen rounded border border-line px-2 py-1 leading-5 whitespace-pre {font}"
			style={room}
		>
			{#each shown.lines as line, nth (nth)}<div class="min-h-5"><Pieces pieces={line} /></div>{/each}
		</div>
		{#if shown.cut}<p class="text-[12px] text-scald" role="status">
				Cut off: {counted(whole.lines.length - shown.lines.length, 'line')} more than the game has room for.
			</p>{/if}
	</figure>
{/if}
