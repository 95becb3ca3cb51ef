<script lang="ts" module>
	/** References beyond which only those of the kind that is looked at are drawn. */
	export const MANY_ARCS = 60;
</script>

<script lang="ts">
	import { scaleSqrt } from 'd3-scale';
	import type { GuideIndexView } from '$core/views';

	/** Which kinds refer to which: one arc for each pair, beside the list of kinds, whose rows it begins and ends at. */
	let {
		kinds,
		edges,
		row,
		over
	}: {
		kinds: GuideIndexView['kinds'];
		edges: GuideIndexView['edges'];
		/** Height of a row in the list. */
		row: number;
		/** The kind that is looked at. */
		over: string | null;
	} = $props();

	const WIDTH = 300;
	const place = $derived(new Map(kinds.map(({ kind }, at) => [kind, at])));
	const reach = $derived(scaleSqrt([0, Math.max(1, kinds.length - 1)], [18, WIDTH - 30]));
	const y = (kind: string) => (place.get(kind) ?? 0) * row + row / 2;

	function path(from: string, to: string): string {
		if (from === to) return `M6 ${y(from) - 5}c26 -8 26 18 0 10`;
		const away = reach(Math.abs(place.get(from)! - place.get(to)!));
		return `M6 ${y(from)}C${away} ${y(from)} ${away} ${y(to)} 10 ${y(to)}`;
	}
	const shown = $derived(edges.length > MANY_ARCS ? edges.filter((edge) => lit(edge)) : edges);
	const lit = (edge: { from: string; to: string }) =>
		over !== null && (edge.from === over || edge.to === over);
</script>

<svg width={WIDTH} height={kinds.length * row} role="img" aria-label="Which kinds refer to which">
	<defs>
		<marker id="arc-end" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto"
			><path d="M0 0L8 4L0 8Z" fill="context-stroke" /></marker
		>
	</defs>
	{#if shown.length < edges.length && over === null}
		<text x="16" y={row / 2 + 4} fill="var(--steam)" font-size="12"
			>Point at a kind to see its references.</text
		>
	{/if}
	{#each shown as edge (edge.from + '\n' + edge.to)}
		<path
			d={path(edge.from, edge.to)}
			fill="none"
			stroke={lit(edge) ? (edge.from === over ? 'var(--brass)' : 'var(--verdigris)') : 'var(--steam)'}
			stroke-width={Math.min(4, 0.8 + edge.fields.length * 0.6)}
			stroke-dasharray={edge.sure < 0.9 ? '4 3' : undefined}
			opacity={over === null ? 0.7 : lit(edge) ? 1 : 0.15}
			marker-end="url(#arc-end)"
			><title>{edge.from} refers to {edge.to} by {edge.fields.join(', ')}</title></path
		>
	{/each}
</svg>
