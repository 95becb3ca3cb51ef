<script lang="ts">
	import { scaleLinear } from 'd3-scale';
	import type { RangesView } from '$core/views';

	/** Ranges over one or two axes as a field: each rule a box with edges to drag, hatched where several lie, dotted where none. */
	let {
		ranges,
		chosen = $bindable(),
		change
	}: {
		ranges: RangesView;
		chosen: string | null;
		change: (id: string, next: [number, number][]) => void;
	} = $props();

	const WIDTH = 620;
	const LEFT = 46;
	const TOP = 8;
	const flat = $derived(ranges.axes.length === 1);
	const height = $derived(flat ? Math.max(120, ranges.bands.length * 22) : 400);
	const x = $derived(scaleLinear([ranges.axes[0]!.low, ranges.axes[0]!.high], [LEFT, WIDTH - 10]));
	const y = $derived(
		flat
			? scaleLinear([0, ranges.bands.length], [TOP, height])
			: scaleLinear([ranges.axes[1]!.low, ranges.axes[1]!.high], [height, TOP])
	);

	interface Drag {
		id: string;
		axis: 0 | 1;
		end: 0 | 1;
		ranges: [number, number][];
	}
	let drag = $state<Drag | null>(null);
	let svg = $state<SVGSVGElement>();

	const rangesFor = (band: RangesView['bands'][number]) => (drag?.id === band.id ? drag.ranges : band.ranges);
	function box(cell: [number, number][], row: number) {
		const [left, right] = [x(cell[0]![0]), x(cell[0]![1])];
		const [a, b] = flat ? [y(row), y(row + 1)] : [y(cell[1]![1]), y(cell[1]![0])];
		return { left, top: a + (flat ? 2 : 0), width: right - left, height: b - a - (flat ? 4 : 0) };
	}
	function begin(event: PointerEvent, id: string, axis: 0 | 1, end: 0 | 1) {
		(event.currentTarget as Element).setPointerCapture(event.pointerId);
		chosen = id;
		drag = {
			id,
			axis,
			end,
			ranges: ranges.bands.find((band) => band.id === id)!.ranges.map(([from, to]) => [from, to])
		};
	}
	function move(event: PointerEvent) {
		if (!drag || !svg) return;
		const place = svg.getBoundingClientRect();
		const axis = ranges.axes[drag.axis]!;
		const raw = drag.axis === 0 ? x.invert(event.clientX - place.left) : y.invert(event.clientY - place.top);
		const step = axis.whole ? 1 : (axis.high - axis.low) / 200;
		const value = Math.min(axis.high, Math.max(axis.low, Math.round(raw / step) * step));
		const range = drag.ranges[drag.axis]!;
		// An edge stops before it meets the other.
		if (drag.end === 0 ? value < range[1] : value > range[0]) range[drag.end] = Number(value.toFixed(4));
	}
	function end() {
		if (drag) change(drag.id, drag.ranges);
		drag = null;
	}
	const said = (band: RangesView['bands'][number]) =>
		`${band.name}: ${rangesFor(band)
			.map(([from, to], axis) => `${ranges.axes[axis]!.title} ${from} to ${to}`)
			.join(', ')}`;
</script>

<svg
	bind:this={svg}
	width={WIDTH}
	height={height + 36}
	role="group"
	aria-label="What the rules cover"
	class="plate"
>
	<defs>
		<pattern id="twice" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"
			><path d="M0 0V7" stroke="var(--saffron)" stroke-width="2.5" /></pattern
		>
		<pattern id="open" width="8" height="8" patternUnits="userSpaceOnUse"
			><circle cx="2" cy="2" r="1" fill="var(--steam)" /></pattern
		>
	</defs>
	{#if !flat}
		{#each ranges.open as cell, at (at)}
			{@const b = box(cell, 0)}
			<rect x={b.left} y={b.top} width={b.width} height={b.height} fill="url(#open)" />
		{/each}
	{/if}
	{#each ranges.bands as band, row (band.id)}
		{@const b = box(rangesFor(band), row)}
		<g>
			<!-- svelte-ignore a11y_click_events_have_key_events (the list beside it is the way by keyboard) -->
			<rect
				x={b.left}
				y={b.top}
				width={Math.max(0, b.width)}
				height={Math.max(0, b.height)}
				role="button"
				tabindex="-1"
				aria-label={said(band)}
				fill={band.mine ? 'var(--copper)' : 'var(--rim)'}
				fill-opacity={band.id === chosen ? 0.22 : 0.07}
				stroke={band.id === chosen ? 'var(--brass)' : band.mine ? 'var(--copper)' : 'var(--rim)'}
				stroke-width={band.id === chosen ? 2 : 1}
				onclick={() => (chosen = band.id)}><title>{said(band)}</title></rect
			>
			<text
				x={b.left + 5}
				y={b.top + 14}
				font-size="12"
				fill={band.mine ? 'var(--copper)' : 'var(--rim)'}
				pointer-events="none"
				>{b.width > 7 * band.name.length
					? band.name
					: b.width > 24
						? `${band.name.slice(0, Math.floor(b.width / 8))}…`
						: ''}</text
			>
		</g>
	{/each}
	{#if !flat}
		{#each ranges.twice as cell, at (at)}
			{@const b = box(cell.ranges, 0)}
			<rect x={b.left} y={b.top} width={b.width} height={b.height} fill="url(#twice)" pointer-events="none" />
		{/each}
	{/if}
	{#each ranges.bands as band, row (band.id)}
		{#if band.id === chosen}
			{@const b = box(rangesFor(band), row)}
			{#each [0, 1] as const as side (side)}
				<rect
					role="presentation"
					x={(side === 0 ? b.left : b.left + b.width) - 4}
					y={b.top}
					width="8"
					height={Math.max(0, b.height)}
					fill="var(--brass)"
					fill-opacity="0.6"
					style="cursor: ew-resize"
					onpointerdown={(event) => begin(event, band.id, 0, side)}
					onpointermove={move}
					onpointerup={end}
				/>
				{#if !flat}
					<rect
						role="presentation"
						x={b.left}
						y={(side === 1 ? b.top : b.top + b.height) - 4}
						width={Math.max(0, b.width)}
						height="8"
						fill="var(--brass)"
						fill-opacity="0.6"
						style="cursor: ns-resize"
						onpointerdown={(event) => begin(event, band.id, 1, side)}
						onpointermove={move}
						onpointerup={end}
					/>
				{/if}
			{/each}
		{/if}
	{/each}
	{#each x.ticks(8) as tick (tick)}
		<path d="M{x(tick)} {height}v5" stroke="var(--steam)" />
		<text x={x(tick)} y={height + 17} font-size="11" text-anchor="middle" fill="var(--steam)">{tick}</text>
	{/each}
	<text x={WIDTH - 10} y={height + 31} font-size="12" text-anchor="end" fill="var(--rim)"
		>{ranges.axes[0]!.title}{ranges.axes[0]!.unit ? `, ${ranges.axes[0]!.unit}` : ''}</text
	>
	{#if !flat}
		{#each y.ticks(6) as tick (tick)}
			<path d="M{LEFT} {y(tick)}h-5" stroke="var(--steam)" />
			<text x={LEFT - 8} y={y(tick) + 4} font-size="11" text-anchor="end" fill="var(--steam)">{tick}</text>
		{/each}
		<text
			transform="translate(14 {height / 2}) rotate(-90)"
			font-size="12"
			text-anchor="middle"
			fill="var(--rim)">{ranges.axes[1]!.title}{ranges.axes[1]!.unit ? `, ${ranges.axes[1]!.unit}` : ''}</text
		>
	{/if}
</svg>
