// What is computed from the rows of a table: kept as long as these stay the same, and patched where few of them changed.
import type { Rows, Table } from './table';

/** A column of an older state, as long as the new one; rows that changed are still to be written. */
export function carried(old: Int32Array, count: number): Int32Array {
	if (old.length === count) return old.slice();
	const column = new Int32Array(count).fill(-1);
	column.set(old.subarray(0, Math.min(count, old.length)));
	return column;
}

/**
 * Something computed once from a table's rows and values, and kept as long as they stay the same.
 * @param patch makes it from what an older state had and the rows that changed since; must give what `make` would
 */
export function derived<T>(
	table: Table,
	name: string,
	make: () => T,
	patch?: (old: T, changed: Int32Array, since: Rows) => T
): T {
	const { derived: known, changed } = table.rows;
	if (!known.has(name)) {
		const there = patch !== undefined && changed !== null && changed.since.derived.has(name);
		known.set(
			name,
			there ? patch(changed.since.derived.get(name) as T, changed.rows, changed.since) : make()
		);
	}
	return known.get(name) as T;
}

/** A number for each row, -1 for none; after a change only the rows that changed are asked again. */
export const numberRows = (table: Table, name: string, find: (row: number) => number): Int32Array =>
	derived<Int32Array>(
		table,
		name,
		() => Int32Array.from({ length: table.count }, (_, row) => find(row)),
		(old, changed) => {
			const fresh = changed.map((row) => find(row));
			if (old.length === table.count && fresh.every((value, nth) => old[changed[nth]!] === value)) return old;
			const column = carried(old, table.count);
			fresh.forEach((value, nth) => (column[changed[nth]!] = value));
			return column;
		}
	);

/** The numbers of all rows, ascending. */
export const allRows = (table: Table): Int32Array =>
	derived(table, 'all rows', () => {
		const rows = new Int32Array(table.count);
		for (let row = 0; row < rows.length; row++) rows[row] = row;
		return rows;
	});

/**
 * The rows for which `find` has an answer, ascending, with it; after a change only the rows that changed are asked again.
 * @param among the rows that can have one, ascending; all where it is left out
 */
export const rowsWhere = <T>(
	table: Table,
	name: string,
	find: (row: number) => T | null,
	among: () => Int32Array = () => allRows(table)
): readonly (readonly [number, T])[] =>
	derived(
		table,
		name,
		() => {
			const found: [number, T][] = [];
			const rows = among();
			for (let at = 0; at < rows.length; at++) {
				const row = rows[at]!;
				const answer = find(row);
				if (answer !== null) found.push([row, answer]);
			}
			return found;
		},
		(old, changed) => {
			const touched = new Set(changed);
			const fresh: [number, T][] = [];
			for (const row of changed) {
				const answer = find(row);
				if (answer !== null) fresh.push([row, answer]);
			}
			const kept = old.filter(([row]) => row < table.count && !touched.has(row));
			return fresh.length === 0 ? kept : [...kept, ...fresh].sort(([a], [b]) => a - b);
		}
	);
