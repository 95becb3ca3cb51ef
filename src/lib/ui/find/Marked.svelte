<script lang="ts">
	import { fold } from '$core/search';

	/** A text cut around the first place that answers the query, with what answers set apart. */
	let { text, query, room = 90 }: { text: string; query: string; room?: number } = $props();

	const words = $derived(
		[...new Set(fold(query).split(/\s+/))].filter((word) => word !== '').sort((a, b) => b.length - a.length)
	);

	/** What is before the first place that answers, and each such place with what is after it. */
	interface Cut {
		lead: string;
		marks: { hit: string; after: string }[];
	}

	/** Folding may change lengths; where it does, nothing is marked. */
	const cut = $derived.by((): Cut => {
		const folded = fold(text);
		if (folded.length !== text.length)
			return { lead: text.length > room ? `${text.slice(0, room)}…` : text, marks: [] };
		const places: [number, number][] = [];
		for (const word of words) {
			const at = folded.indexOf(word);
			if (at >= 0 && !places.some(([from, to]) => at < to && at + word.length > from))
				places.push([at, at + word.length]);
		}
		places.sort((a, b) => a[0] - b[0]);
		const first = places[0]?.[0] ?? 0;
		const from = first > room * 0.6 ? Math.max(0, text.lastIndexOf(' ', first - room * 0.3) + 1) : 0;
		const to = Math.min(text.length, from + room);
		const within = places.filter(([start, end]) => start >= from && end <= to);
		const end = to < text.length ? '…' : '';
		const upTo = (nth: number) => within[nth]?.[0] ?? to;
		return {
			lead: `${from > 0 ? '…' : ''}${text.slice(from, upTo(0))}${within.length === 0 ? end : ''}`,
			marks: within.map(([start, stop], nth) => ({
				hit: text.slice(start, stop),
				after: `${text.slice(stop, upTo(nth + 1))}${nth === within.length - 1 ? end : ''}`
			}))
		};
	});
</script>

{cut.lead}{#each cut.marks as { hit, after }, at (at)}<mark class="bg-brass/30 text-rim">{hit}</mark
	>{after}{/each}
