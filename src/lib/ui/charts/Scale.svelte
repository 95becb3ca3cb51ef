<script lang="ts">
	import { scaleLinear } from 'd3-scale';
	import { rankOf, type Spread } from '$core/numbers';

	/** Where a value stands among all records of its kind: a tick each, the base's in ink, mine in copper. */
	let {
		spread,
		base,
		mine,
		before = null,
		title,
		unit
	}: {
		spread: Spread;
		base: number | null;
		mine: number | null;
		/** What the base said in the version before. */
		before?: number | null;
		title: string;
		unit: string | null;
	} = $props();

	const WIDTH = 124;
	const x = $derived(
		scaleLinear(
			[
				Math.min(spread.min, ...[base, mine, before].map((value) => value ?? spread.min)),
				Math.max(spread.max, ...[base, mine, before].map((value) => value ?? spread.max))
			],
			[3, WIDTH - 3]
		)
	);
	const figure = (value: number) => `${value}${unit ? ` ${unit}` : ''}`;
	const share = $derived(Math.round(rankOf(spread, mine ?? base ?? spread.min) * 100));
	const said = $derived(
		`${title} from ${figure(spread.min)} to ${figure(spread.max)} over ${spread.count} records` +
			(before === null ? '' : `; before ${figure(before)}`) +
			(base === null ? '' : `; base ${figure(base)}`) +
			(mine === null ? '' : `; mine ${figure(mine)}`) +
			`; higher than ${share} % of all`
	);
</script>

<svg width={WIDTH} height="20" role="img" aria-label={said}>
	<title>{said}</title>
	<path d="M3 14H{WIDTH - 3}" stroke="var(--steam)" stroke-width="0.75" />
	{#each spread.values as value (value)}
		<path d="M{x(value)} 10.5V14" stroke="var(--steam)" stroke-width="0.75" />
	{/each}
	{#if before !== null && before !== base}<path
			d="M{x(before)} 6V17"
			stroke="var(--rim)"
			stroke-width="1.5"
			stroke-dasharray="2 1.5"
		/>{/if}
	{#if base !== null}<path d="M{x(base)} 5V17" stroke="var(--rim)" stroke-width="2" />{/if}
	{#if mine !== null && mine !== base}
		<path d="M{x(mine)} 3V17" stroke="var(--copper)" stroke-width="2.5" />
		<circle cx={x(mine)} cy="3.5" r="2.5" fill="var(--copper)" />
	{/if}
</svg>
