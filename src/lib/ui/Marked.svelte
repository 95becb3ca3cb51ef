<script lang="ts">
	import { fold } from '$core/search';

	/** A text cut around the first place that answers the query, with what answers set apart. */
	let { text, query, room = 90 }: { text: string; query: string; room?: number } = $props();

	interface Piece {
		text: string;
		hit: boolean;
	}

	const words = $derived(
		[...new Set(fold(query).split(/\s+/))].filter((word) => word !== '').sort((a, b) => b.length - a.length)
	);

	/** Places that answer. Folding may change lengths; where it does, nothing is marked. */
	const pieces = $derived.by((): Piece[] => {
		const folded = fold(text);
		if (folded.length !== text.length)
			return [{ text: text.length > room ? `${text.slice(0, room)}…` : text, hit: false }];
		const marks: [number, number][] = [];
		for (const word of words) {
			const at = folded.indexOf(word);
			if (at >= 0 && !marks.some(([from, to]) => at < to && at + word.length > from))
				marks.push([at, at + word.length]);
		}
		marks.sort((a, b) => a[0] - b[0]);
		const first = marks[0]?.[0] ?? 0;
		const from = first > room * 0.6 ? Math.max(0, text.lastIndexOf(' ', first - room * 0.3) + 1) : 0;
		const to = Math.min(text.length, from + room);
		const list: Piece[] = from > 0 ? [{ text: '…', hit: false }] : [];
		let at = from;
		for (const [start, end] of marks) {
			if (start < at || end > to) continue;
			list.push({ text: text.slice(at, start), hit: false }, { text: text.slice(start, end), hit: true });
			at = end;
		}
		list.push({ text: `${text.slice(at, to)}${to < text.length ? '…' : ''}`, hit: false });
		return list.filter((piece) => piece.text !== '');
	});
</script>

{#each pieces as piece, at (at)}{#if piece.hit}<mark class="bg-brass/30 text-rim">{piece.text}</mark
		>{:else}{piece.text}{/if}{/each}
