import { derived, type Table } from '../stack';

/** A value that a field takes, with the rows that have it in the order of the table. */
export interface Taken {
	value: string;
	count: number;
	/** The first few rows. */
	rows: number[];
}

/** Rows that are named for each value. */
const NAMED = 6;

/** All values that a field takes, the most frequent first; records without the field are left out. */
export function valuesTaken(table: Table, path: string): Taken[] {
	return derived(table, `taken ${path}`, () => {
		const found = new Map<number, Taken>();
		const column = table.column(path);
		for (let row = 0; row < column.length; row++) {
			const value = column[row]!;
			if (value < 0) continue;
			let taken = found.get(value);
			if (!taken) found.set(value, (taken = { value: table.pool.at(value), count: 0, rows: [] }));
			taken.count++;
			if (taken.rows.length < NAMED) taken.rows.push(row);
		}
		return [...found.values()].sort((a, b) => b.count - a.count || (a.value < b.value ? -1 : 1));
	});
}
