<script lang="ts">
	import type { AroundView } from '$core/views';

	/** Who leads to a record and where it leads, in columns by steps: what names it on the left, what it names on the right. */
	let { around, linkTo }: { around: AroundView; linkTo: (kind: string, id: string) => string } = $props();

	const STEP = 210;
	const ROW = 34;
	const BOX = 164;

	type Node = AroundView['nodes'][number] & { x: number; y: number };

	const layout = $derived.by(() => {
		const columns = [...new Set(around.nodes.map((node) => node.far))].sort((a, b) => a - b);
		const tallest = Math.max(
			...columns.map((column) => around.nodes.filter((node) => node.far === column).length)
		);
		const nodes: Node[] = columns.flatMap((column, nth) => {
			const list = around.nodes.filter((node) => node.far === column);
			const top = ((tallest - list.length) * ROW) / 2;
			return list.map((node, at) => ({ ...node, x: nth * STEP + 8, y: top + at * ROW + 8 }));
		});
		return { nodes, width: (columns.length - 1) * STEP + BOX + 16, height: tallest * ROW + 16 };
	});
	const byPlace = $derived(new Map(layout.nodes.map((node) => [node.place, node])));
	let over = $state<number | null>(null);

	function path(from: Node, to: Node): string {
		const [left, right] = from.x <= to.x ? [from, to] : [to, from];
		const y = [left.y + 12, right.y + 12];
		if (left.x === right.x)
			return `M${left.x + BOX} ${y[0]}C${left.x + BOX + 30} ${y[0]} ${left.x + BOX + 30} ${y[1]} ${left.x + BOX} ${y[1]}`;
		const middle = (left.x + BOX + right.x) / 2;
		return `M${left.x + BOX} ${y[0]}C${middle} ${y[0]} ${middle} ${y[1]} ${right.x} ${y[1]}`;
	}
	const short = (text: string) => (text.length > 24 ? `${text.slice(0, 23)}…` : text);
</script>

<svg
	width={layout.width}
	height={layout.height}
	role="group"
	aria-label="What refers to {around.name} on the left; what it refers to on the right"
>
	{#each around.edges as edge, at (at)}
		{@const from = byPlace.get(edge.from)}
		{@const to = byPlace.get(edge.to)}
		{#if from && to}
			<path
				d={path(from, to)}
				fill="none"
				stroke={over === edge.from || over === edge.to ? 'var(--brass)' : 'var(--steam)'}
				stroke-width={over === edge.from || over === edge.to ? 2 : 1}
				opacity={over === null || over === edge.from || over === edge.to ? 0.8 : 0.25}
				><title>{from.name} refers to {to.name} as its {edge.field.toLowerCase()}</title></path
			>
		{/if}
	{/each}
	{#each layout.nodes as node (node.place)}
		<a
			data-move
			href={linkTo(node.kind, node.id)}
			onfocus={() => (over = node.place)}
			onblur={() => (over = null)}
			onmouseenter={() => (over = node.place)}
			onmouseleave={() => (over = null)}
			aria-label="{node.kindTitle} {node.name}, used by {node.uses}"
		>
			<rect
				x={node.x}
				y={node.y}
				width={BOX}
				height="25"
				rx="7"
				fill={node.far === 0 ? 'var(--rim)' : 'var(--porcelain)'}
				stroke="var(--rim)"
			/>
			<text
				x={node.x + 9}
				y={node.y + 17}
				font-size="12.5"
				fill={node.far === 0 ? 'var(--porcelain)' : 'var(--rim)'}>{short(node.name)}</text
			>
			<title>{node.kindTitle} {node.name} ({node.id}), used by {node.uses}</title>
		</a>
	{/each}
</svg>
