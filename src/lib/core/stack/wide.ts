// Tables of maps whose names are ids have as many columns as there are ids, and each row has few of them: whatever goes
// through all columns goes through the cells that are there.
import { cellIn } from '../facts';
import { isFromPath } from '../guide';
import { allRows, derived } from './derived';
import type { Table } from './table';

/** Columns from which on most rows of a table have few of them. */
const WIDE = 200;

/** Whether a table has so many columns that most rows have few of them. */
export const isWide = ({ columns }: Pick<Table, 'columns'>): boolean => columns.length > WIDE;

/** Whether a path is a column of every table: what names a record, and where it lies. */
const hasAll = (table: Table, path: string): boolean => isFromPath(path) || !isWide(table);

/** The rows that have each column, ascending, by the text of its path: gone through once for all columns. */
const rowsByColumn = (table: Table): ReadonlyMap<number, Int32Array> =>
	derived(table, 'rows by column', () => {
		const { rows, files } = table;
		const byPath = new Map<number, number[]>();
		for (let row = 0; row < rows.count; row++) {
			const at = rows.firsts[row + 1]! - 1;
			const { facts } = files[rows.file[at]!]!;
			for (const path of facts.shapes[facts.shape[rows.nth[at]!]!] ?? []) {
				const list = byPath.get(path);
				if (!list) byPath.set(path, [row]);
				else if (list.at(-1) !== row) list.push(row);
			}
		}
		return new Map([...byPath].map(([path, list]) => [path, Int32Array.from(list)]));
	});

const NONE = new Int32Array(0);

/** The rows that may have a column, ascending: those that do in a wide table, else all. */
export const rowsWith = (table: Table, path: string): Int32Array =>
	hasAll(table, path) ? allRows(table) : (rowsByColumn(table).get(table.pool.find(path)) ?? NONE);

/** The text of a cell, as its number; -1 where a row has none. A wide table makes no column of it. */
export function cellsOf(table: Table, path: string): (row: number) => number {
	if (hasAll(table, path)) {
		const column = table.column(path);
		return (row) => column[row]!;
	}
	const slot = table.pool.find(path);
	const { rows, files } = table;
	return (row) => {
		const at = rows.firsts[row + 1]! - 1;
		const { facts } = files[rows.file[at]!]!;
		const cell = cellIn(facts, rows.nth[at]!, slot);
		return cell < 0 ? -1 : facts.values[cell]!;
	};
}

/** The texts of all cells of a row, as their numbers. */
export function* valuesIn({ rows, files }: Table, row: number): Generator<number> {
	const at = rows.firsts[row + 1]! - 1;
	const { facts } = files[rows.file[at]!]!;
	const nth = rows.nth[at]!;
	for (let cell = facts.firsts[nth]!; cell < facts.firsts[nth + 1]!; cell++) yield facts.values[cell]!;
}
