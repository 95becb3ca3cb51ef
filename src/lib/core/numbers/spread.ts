import { numberOf } from '../facts';

/** The values that a field inherits all records of a kind. */
export interface Spread {
	/** Records with a number there. */
	count: number;
	min: number;
	max: number;
	/** Different values, ascending; thinned out evenly where there are more than can be distinguished. */
	values: number[];
	/** Of each of them, how many records have a smaller one. */
	below: number[];
}

/** Different values that are kept. */
const MOST = 400;

/** The spread of written values; null where fewer than two are numbers or all but a few are not. */
export function spreadOf(written: readonly string[]): Spread | null {
	const filled = written.filter((value) => value.trim() !== '');
	return spreadOfNumbers(Float64Array.from(filled, numberOf));
}

/** The spread of numbers, in which NaN stands for filled values that are none; null as above. */
function spreadOfNumbers(filled: Float64Array): Spread | null {
	let finite = 0;
	const sorted = new Float64Array(filled.length);
	for (const value of filled) if (Number.isFinite(value)) sorted[finite++] = value;
	return spreadOfSorted(sorted.subarray(0, finite).sort(), filled.length);
}

/** The spread of ascending numbers out of so many filled values; null as above. */
export function spreadOfSorted(sorted: Float64Array, filled: number): Spread | null {
	if (sorted.length < 2 || sorted.length < filled * 0.9) return null;
	const values: number[] = [];
	const below: number[] = [];
	for (let at = 0; at < sorted.length; at++)
		if (at === 0 || sorted[at] !== sorted[at - 1]) {
			values.push(sorted[at]!);
			below.push(at);
		}
	const step = Math.max(1, values.length / MOST);
	const kept = Array.from({ length: Math.ceil(values.length / step) }, (_, nth) => Math.floor(nth * step));
	if (kept.at(-1) !== values.length - 1) kept.push(values.length - 1);
	return {
		count: sorted.length,
		min: sorted[0]!,
		max: sorted.at(-1)!,
		values: kept.map((at) => values[at]!),
		below: kept.map((at) => below[at]!)
	};
}

/** Share of the values that are smaller, plus half of those that are equal: 0 to 1. Near enough where values were thinned out. */
export function rankOf({ values, below, count }: Spread, value: number): number {
	let at = 0;
	while (at < values.length && values[at]! < value) at++;
	const smaller = at < values.length ? below[at]! : count;
	const equal = values[at] === value ? (below[at + 1] ?? count) - smaller : 0;
	return (smaller + equal / 2) / count;
}

/** How many of ascending numbers are smaller than a value, or, with `over`, smaller or equal. */
export function placeIn(sorted: Float64Array, value: number, over: boolean): number {
	let [low, high] = [0, sorted.length];
	while (low < high) {
		const middle = (low + high) >> 1;
		if (sorted[middle]! < value || (over && sorted[middle] === value)) low = middle + 1;
		else high = middle;
	}
	return low;
}

/** The same as `rankOf` over ascending numbers, exactly. */
export const rankIn = (sorted: Float64Array, value: number): number =>
	sorted.length === 0
		? 0
		: (placeIn(sorted, value, false) + placeIn(sorted, value, true)) / 2 / sorted.length;
