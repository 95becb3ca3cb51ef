// Two sides of a scenario held against each other, seed by seed.
import { bin, deviation, extent, mean, quantile, sum } from 'd3-array';
import { randomLcg } from 'd3-random';
import type { Pairs } from './outcomes';

/** An estimate with the interval that holds it in 95 of 100 cases. */
export interface Estimate {
	value: number;
	low: number;
	high: number;
}

/** How the numbers of one side lie. */
export interface Side {
	mean: number;
	deviation: number;
	median: number;
	/** The numbers below which a tenth and nine tenths lie. */
	tenth: number;
	ninth: number;
}

/** One outcome on both sides. */
export interface Compared {
	name: string;
	/** Plays that both sides have. */
	count: number;
	base: Side;
	mine: Side;
	/** Mine less base, on average. */
	difference: Estimate;
	/** Plays in which mine has more, less, or the same. */
	more: number;
	less: number;
	same: number;
	/** How many plays of each side lie between two numbers, the first of which counts. */
	bins: { from: number; to: number; base: number; mine: number }[];
}

/** Samples that are drawn, and bars of a chart. */
const SAMPLES = 2000;
const BARS = 24;
/** Numbers that are drawn in one step, between which others may go first. */
const DRAWN = 400_000;
/** From how many numbers on their mean lies as the normal distribution says, as near as can be shown. */
const MANY = 5000;
/** How many deviations of a normal distribution hold 95 of 100. */
const NORMAL = 1.96;
/** Where drawing starts: the same numbers always give the same interval. */
const SEED = 0.5;

/**
 * The mean with its interval by the bootstrap (Efron and Tibshirani, An Introduction to the Bootstrap, 1993): the mean of
 * many samples drawn with replacement; of differences of pairs it is the paired bootstrap. Of many numbers, by the normal
 * distribution. In steps.
 * @param numbers at least one
 */
export function* meanSteps(numbers: Float64Array): Generator<void, Estimate> {
	const value = mean(numbers)!;
	const count = numbers.length;
	if (count > MANY) {
		const half = (NORMAL * deviation(numbers)!) / Math.sqrt(count);
		return { value, low: value - half, high: value + half };
	}
	const draw = randomLcg(SEED);
	const means = new Float64Array(SAMPLES);
	let drawn = 0;
	for (let nth = 0; nth < SAMPLES; nth++) {
		let all = 0;
		for (let at = 0; at < count; at++) all += numbers[Math.floor(draw() * count)]!;
		means[nth] = all / count;
		if ((drawn += count) < DRAWN) continue;
		drawn = 0;
		yield;
	}
	return { value, low: quantile(means, 0.025)!, high: quantile(means, 0.975)! };
}

function sideOf(numbers: Float64Array): Side {
	const at = (share: number) => quantile(numbers, share)!;
	return {
		mean: mean(numbers)!,
		deviation: deviation(numbers) ?? 0,
		median: at(0.5),
		tenth: at(0.1),
		ninth: at(0.9)
	};
}

/** Bars that both sides share; whole numbers of a small range have one each. */
function binsOf({ base, mine }: Pairs): Compared['bins'] {
	const [low, high] = extent([...base, ...mine]) as [number, number];
	const isWhole = [...base, ...mine].every(Number.isInteger) && high - low < BARS;
	const edges = isWhole
		? Array.from({ length: high - low + 2 }, (_, nth) => low + nth)
		: bin<number, number>()
				.thresholds(BARS)([low, high])
				.flatMap(({ x0, x1 }, nth) => (nth === 0 ? [x0!, x1!] : [x1!]));
	const count = (numbers: Float64Array) => {
		const counts = new Array<number>(edges.length - 1).fill(0);
		for (const number of numbers) {
			let at = edges.length - 2;
			while (at > 0 && number < edges[at]!) at--;
			counts[at]!++;
		}
		return counts;
	};
	const [bases, mines] = [count(base), count(mine)];
	return bases.map((number, nth) => ({
		from: edges[nth]!,
		to: edges[nth + 1]!,
		base: number,
		mine: mines[nth]!
	}));
}

/** What an outcome is on both sides; null where they share no play. In steps. */
export function* compareSteps(name: string, pairs: Pairs): Generator<void, Compared | null> {
	const { base, mine, seeds } = pairs;
	if (seeds.length === 0) return null;
	const differences = mine.map((number, at) => number - base[at]!);
	return {
		name,
		count: seeds.length,
		base: sideOf(base),
		mine: sideOf(mine),
		difference: yield* meanSteps(differences),
		more: sum(differences, (number) => Number(number > 0)),
		less: sum(differences, (number) => Number(number < 0)),
		same: sum(differences, (number) => Number(number === 0)),
		bins: binsOf(pairs)
	};
}
