// The record that is meant: by its id, by one of several, or by the value of another field.
import { severalIdsIn } from '../guide';
import { derived } from './derived';
import type { EffectiveRecord } from './record';
import type { Table } from './table';

/** The rows of records that have several ids, by the number of the text of each. */
export const rowsBySeveral = (table: Table): ReadonlyMap<number, number> =>
	derived(table, 'rows by several ids', () => {
		const rows = new Map<number, number>();
		for (const field of severalIdsIn(table.guide, table.columns))
			table.column(field).forEach((value, row) => {
				if (value >= 0 && !rows.has(value)) rows.set(value, row);
			});
		return rows;
	});

/** The first row with each value of a field. */
export const rowsBy = (table: Table, field: string): ReadonlyMap<number, number> =>
	derived(table, `rows by ${field}`, () => {
		const rows = new Map<number, number>();
		table.column(field).forEach((value, row) => {
			if (value >= 0 && !rows.has(value)) rows.set(value, row);
		});
		return rows;
	});

/**
 * The record that an id names: the one whose own it is, or else one that has it among others.
 * @param key the field by which records are referred to here, where that is not their id
 */
export function recordNamed(table: Table | undefined, id: string, key?: string): EffectiveRecord | undefined {
	if (table && key !== undefined) {
		const row = rowsBy(table, key).get(table.pool.find(id));
		return row === undefined ? undefined : table.record(row);
	}
	const own = table?.byId.get(id);
	if (!table || own || !table.guide.severalIds) return own;
	const row = rowsBySeveral(table).get(table.pool.find(id));
	return row === undefined ? undefined : table.record(row);
}
