import { derived, effectiveColumn, type Stack, type Table } from '../stack';
import { spreadOfSorted, type Spread } from './spread';

/** The numbers of a column, ascending, and how many of its cells are filled. */
export interface Sorted {
	numbers: Float64Array;
	filled: number;
}

/** Rows that may change before sorting again is as fast. */
const FEW = 500;

/** First place in ascending numbers that is not below a value. */
function placeIn(numbers: Float64Array, value: number): number {
	let [low, high] = [0, numbers.length];
	while (low < high) {
		const middle = (low + high) >> 1;
		if (numbers[middle]! < value) low = middle + 1;
		else high = middle;
	}
	return low;
}

function sortColumn(table: Table, column: Int32Array): Sorted {
	const numbers = new Float64Array(column.length);
	let [filled, finite] = [0, 0];
	for (let row = 0; row < column.length; row++) {
		if (column[row]! <= 0) continue;
		filled++;
		const number = table.pool.number(column[row]!);
		if (Number.isFinite(number)) numbers[finite++] = number;
	}
	return { numbers: numbers.slice(0, finite).sort(), filled };
}

/** The numbers of a column in order; after a change of few rows only these are taken out and put in. */
export const sortedColumn = (table: Table, path: string): Sorted =>
	derived(
		table,
		`sorted ${path}`,
		() => sortColumn(table, effectiveColumn(table, path)),
		(old, changed, since) => {
			// What one record inherits changes with another.
			if (table.guide.inherits) return sortColumn(table, effectiveColumn(table, path));
			const [before, now] = [since.columns.get(path), table.column(path)];
			if (before === now) return old;
			if (!before || changed.length > FEW || before.length !== now.length) return sortColumn(table, now);
			let { filled } = old;
			const [out, into]: [number[], number[]] = [[], []];
			for (const row of changed) {
				filled += Number(now[row]! > 0) - Number(before[row]! > 0);
				const [was, is] = [before[row]!, now[row]!].map((text) => (text > 0 ? table.pool.number(text) : NaN));
				if (Number.isFinite(was)) out.push(was!);
				if (Number.isFinite(is)) into.push(is!);
			}
			// Most columns say in the rows that changed what they said before.
			const [gone, come] = [Float64Array.from(out).sort(), Float64Array.from(into).sort()];
			if (gone.length === come.length && gone.every((value, at) => value === come[at]))
				return filled === old.filled ? old : { numbers: old.numbers, filled };
			const numbers = new Float64Array(old.numbers.length - out.length + into.length);
			let [from, to, nth] = [0, 0, 0];
			const copy = (end: number) => {
				numbers.set(old.numbers.subarray(from, end), to);
				to += end - from;
				from = end;
			};
			const add = (limit: number) => {
				for (; nth < come.length && come[nth]! <= limit; nth++) {
					const place = placeIn(old.numbers, come[nth]!);
					if (place > from) copy(place);
					numbers[to++] = come[nth]!;
				}
			};
			for (const value of gone) {
				add(value);
				const place = placeIn(old.numbers, value);
				if (place > from) copy(place);
				from++;
			}
			add(Infinity);
			copy(old.numbers.length);
			return { numbers, filled };
		}
	);

/** The spread of a field over all records of a kind; null as in `spreadOf`. Computed once for the same rows. */
export const columnSpread = (table: Table, path: string): Spread | null =>
	derived(table, `spread ${path}`, () => {
		const { numbers, filled } = sortedColumn(table, path);
		return spreadOfSorted(numbers, filled);
	});

/** Computes all spreads of the large kinds, step by step, so that the first ticket of each opens at once. */
export function* spreadSteps(stack: Stack, large: number): Generator<void, void> {
	for (const table of stack.tables.values()) {
		if (table.count < large) continue;
		for (const path of table.columns) {
			columnSpread(table, path);
			yield;
		}
	}
}
