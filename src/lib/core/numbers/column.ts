import { derived, type Stack, type Table } from '../stack';
import { spreadOfNumbers, type Spread } from './spread';

/** The spread of a field over all records of a kind; null as in `spreadOf`. Computed once for the same rows. */
export function columnSpread(table: Table, path: string): Spread | null {
	return derived(table, `spread ${path}`, () => {
		const column = table.column(path);
		const numbers = new Float64Array(column.length);
		let filled = 0;
		for (let row = 0; row < column.length; row++)
			if (column[row]! > 0) numbers[filled++] = table.pool.number(column[row]!);
		return spreadOfNumbers(numbers.subarray(0, filled));
	});
}

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
