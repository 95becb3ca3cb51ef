// Which records my mod changes. That a record is in one of its files says little: a copy of a whole file holds all.
import type { Facts } from '../facts';
import { derived } from './derived';
import { isEditable } from './layer';
import type { Table, TableFile } from './table';

const numbers = new WeakMap<Facts, Map<number, number>>();

/** The number of the record of an id in a file; undefined where it has none. @param id number of its text */
export function numberOf(facts: Facts, id: number): number | undefined {
	let known = numbers.get(facts);
	if (!known) numbers.set(facts, (known = new Map(Array.from(facts.ids, (text, nth) => [text, nth]))));
	return known.get(id);
}

/** The file of a lower layer that a file of my mod stands in for. */
export const fileUnder = ({ hidden }: Table, path: string): TableFile | undefined =>
	hidden.findLast(({ file, layer }) => file.path === path && !isEditable(layer));

/** Calls `each` with path and value of every cell of a record, as numbers of their texts, until it answers true. */
function someCell(
	{ shapes, shape, firsts, values }: Facts,
	nth: number,
	each: (path: number, value: number) => boolean
): boolean {
	const paths = shapes[shape[nth]!] ?? [];
	for (let at = 0; at < paths.length; at++) if (each(paths[at]!, values[firsts[nth]! + at]!)) return true;
	return false;
}

/** Whether a row is in a file of my mod. */
function isMine({ rows, files }: Table, row: number): boolean {
	for (let at = rows.firsts[row]!; at < rows.firsts[row + 1]!; at++)
		if (isEditable(files[rows.file[at]!]!.layer)) return true;
	return false;
}

/** Whether a row that is in a file of my mod says something else there than below. */
function differs(table: Table, row: number): boolean {
	const { rows, files } = table;
	const mine: [TableFile, number][] = [];
	/** What the layers below say, by language. */
	const below = new Map<string, Map<number, number>>();
	const hear = ({ facts, language = '' }: TableFile, nth: number) => {
		// The record that comes later stands in for the one before as a whole.
		const said = new Map<number, number>();
		below.set(language, said);
		someCell(facts, nth, (path, value) => {
			said.set(path, value);
			return false;
		});
	};
	for (let at = rows.firsts[row]!; at < rows.firsts[row + 1]!; at++) {
		const file = files[rows.file[at]!]!;
		if (isEditable(file.layer)) mine.push([file, rows.nth[at]!]);
		else hear(file, rows.nth[at]!);
	}
	for (const [{ file, facts, language = '' }, nth] of mine) {
		const under = fileUnder(table, file.path);
		const there = under && numberOf(under.facts, rows.ids[row]!);
		if (under && there !== undefined) hear(under, there);
		const said = below.get(language);
		if (!said) return true;
		const own = new Set<number>();
		if (
			someCell(facts, nth, (path, value) => {
				own.add(path);
				return (said.get(path) ?? 0) !== value;
			})
		)
			return true;
		for (const [path, value] of said) if (value !== 0 && !own.has(path)) return true;
	}
	return false;
}

/** Of each row whether it is changed, -1 where that was not asked yet. */
const changedIn = (table: Table): Int8Array =>
	derived(
		table,
		'changed',
		() => new Int8Array(table.count).fill(-1),
		(old, changed) => {
			const rows = new Int8Array(table.count).fill(-1);
			rows.set(old.subarray(0, table.count));
			for (const row of changed) rows[row] = -1;
			return rows;
		}
	);

/**
 * Whether my mod says something of a record that no layer below says: another value, one more or one less, or the
 * whole record. Worked out once for each row of a table.
 */
export function isChanged(table: Table, row: number): boolean {
	const rows = changedIn(table);
	if (rows[row]! < 0) rows[row] = Number(isMine(table, row) && differs(table, row));
	return rows[row] === 1;
}

/** The rows that my mod changes, in the order of its files. */
export function changedRows(table: Table): number[] {
	const found = new Set<number>();
	table.files.forEach(({ layer }, at) => {
		if (!isEditable(layer)) return;
		for (const row of table.rows.rowsOf[at]!) if (row >= 0 && isChanged(table, row)) found.add(row);
	});
	return [...found];
}
