<script lang="ts">
	import { max } from 'd3-array';
	import { scaleLinear } from 'd3-scale';
	import type { ScenarioOutcome } from '$core/views';

	/** How often each number came out on both sides: the game without my mod above the line, mine below it. */
	let { outcome }: { outcome: ScenarioOutcome } = $props();

	const WIDTH = 520;
	const HALF = 58;
	const AXIS = 18;
	const bins = $derived(outcome.bins);
	const x = $derived(scaleLinear([bins[0]!.from, bins.at(-1)!.to], [0, WIDTH]));
	const most = $derived(max(bins, ({ base, mine }) => Math.max(base, mine)) ?? 1);
	const y = $derived(scaleLinear([0, most], [0, HALF]));
	/** Bars of one whole number each are named in their middle. */
	const isWhole = $derived(bins.every(({ from, to }) => Number.isInteger(from) && to - from === 1));
	const marks = $derived(
		isWhole
			? bins
					.filter((_, nth) => nth % Math.ceil(bins.length / 12) === 0)
					.map(({ from }) => ({ at: x(from + 0.5), text: String(from) }))
			: x.ticks(6).map((value) => ({ at: x(value), text: x.tickFormat(6)(value) }))
	);
	const middle = $derived({
		base: x(outcome.base.mean + (isWhole ? 0.5 : 0)),
		mine: x(outcome.mine.mean + (isWhole ? 0.5 : 0))
	});
	const said = (number: number) => number.toLocaleString('en', { maximumFractionDigits: 2 });
</script>

<svg
	viewBox="0 0 {WIDTH} {2 * HALF + AXIS}"
	class="w-full max-w-[560px] overflow-visible"
	role="img"
	aria-label="{outcome.title}: mean {said(outcome.base.mean)} without your mod, {said(
		outcome.mine.mean
	)} with it"
>
	{#each bins as { from, to, base, mine } (from)}
		<rect
			x={x(from) + 0.5}
			width={Math.max(1, x(to) - x(from) - 1)}
			y={HALF - y(base)}
			height={y(base)}
			class="fill-steam"
			opacity="0.55"
		/>
		<rect
			x={x(from) + 0.5}
			width={Math.max(1, x(to) - x(from) - 1)}
			y={HALF + AXIS}
			height={y(mine)}
			class="fill-brass"
		/>
	{/each}
	<line x1="0" x2={WIDTH} y1={HALF} y2={HALF} class="stroke-line" />
	<line x1="0" x2={WIDTH} y1={HALF + AXIS} y2={HALF + AXIS} class="stroke-line" />
	{#each marks as { at, text } (text)}
		<text x={at} y={HALF + AXIS - 5} text-anchor="middle" class="fill-steam font-mono text-[11px]"
			>{text}</text
		>
	{/each}
	<line x1={middle.base} x2={middle.base} y1="0" y2={HALF} class="stroke-rim" stroke-dasharray="3 3" />
	<line
		x1={middle.mine}
		x2={middle.mine}
		y1={HALF + AXIS}
		y2={2 * HALF + AXIS}
		class="stroke-rim"
		stroke-dasharray="3 3"
	/>
</svg>
