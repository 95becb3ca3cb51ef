<script lang="ts">
	import { extent } from 'd3-array';
	import { scaleLinear } from 'd3-scale';
	import type { ScenarioOutcome, ScenarioSweep } from '$core/views';

	/** What an outcome is over values of one field, with the interval of each mean; where base and mine are, is marked. */
	let { sweep, outcome }: { sweep: ScenarioSweep; outcome: ScenarioOutcome } = $props();

	const WIDTH = 520;
	const HEIGHT = 170;
	const LEFT = 44;
	const BELOW = 22;
	const points = $derived(
		sweep.points.flatMap(({ value, means }) => {
			const mean = means[outcome.name];
			return mean ? [{ at: value, ...mean }] : [];
		})
	);
	const x = $derived(
		scaleLinear(
			extent([...points.map(({ at }) => at), ...[sweep.base, sweep.mine].filter((one) => one !== null)]) as [
				number,
				number
			],
			[LEFT, WIDTH - 12]
		)
	);
	const y = $derived(
		scaleLinear(extent(points.flatMap(({ low, high }) => [low, high])) as [number, number], [
			HEIGHT - BELOW - 6,
			8
		]).nice(4)
	);
	const path = (of: (point: (typeof points)[number]) => number, all = points) =>
		all.map((point, nth) => `${nth === 0 ? 'M' : 'L'}${x(point.at)} ${y(of(point))}`).join('');
	const band = $derived(
		`${path(({ high }) => high)}${path(({ low }) => low, [...points].reverse()).replace('M', 'L')}Z`
	);
	const marks = $derived(
		[
			{ at: sweep.base, name: 'base' },
			{ at: sweep.mine, name: 'mine' }
		].filter((one): one is { at: number; name: string } => one.at !== null)
	);
</script>

{#if points.length > 1}
	<svg
		viewBox="0 0 {WIDTH} {HEIGHT}"
		class="w-full max-w-[560px] overflow-visible"
		role="img"
		aria-label="{outcome.title} over {sweep.title}"
	>
		{#each y.ticks(4) as tick (tick)}
			<line x1={LEFT} x2={WIDTH - 12} y1={y(tick)} y2={y(tick)} class="stroke-line" />
			<text x={LEFT - 6} y={y(tick) + 4} text-anchor="end" class="fill-steam font-mono text-[11px]"
				>{y.tickFormat(4)(tick)}</text
			>
		{/each}
		{#each x.ticks(8) as tick (tick)}
			<text x={x(tick)} y={HEIGHT - 6} text-anchor="middle" class="fill-steam font-mono text-[11px]"
				>{x.tickFormat(8)(tick)}</text
			>
		{/each}
		{#each marks as { at, name } (name)}
			<line
				x1={x(at)}
				x2={x(at)}
				y1="8"
				y2={HEIGHT - BELOW}
				class={name === 'mine' ? 'stroke-brass' : 'stroke-steam'}
				stroke-dasharray="3 3"
			/>
			<text x={x(at) + 4} y={name === 'mine' ? 18 : 32} class="fill-steam text-[11px]">{name}</text>
		{/each}
		<path d={band} class="fill-brass" opacity="0.25" />
		<path d={path(({ value }) => value)} class="fill-none stroke-rim" stroke-width="1.5" />
		{#each points as { at, value } (at)}
			<circle cx={x(at)} cy={y(value)} r="2.5" class="fill-rim" />
		{/each}
	</svg>
{/if}
