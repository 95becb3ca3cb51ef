import { beside } from '../guide';
import { placesOf, type Column, type Places, type Sketch } from './sketch';
import { nameOfRecord, type DataFile, type Group } from './group';
import { runsOf } from './together';

/** Values that stand for nothing in many games. */
const NOTHING = new Set(['-', '--', 'none', 'null', 'nil', '~', 'n/a', 'no', '*']);

/** Whether a text may stand for nothing. */
export const meansNothing = (text: string): boolean => NOTHING.has(text.toLowerCase());

/** The column of the ids of a kind, as any other column. */
export function idColumn(group: Group): Column {
	let column = idColumns.get(group.sketch);
	if (!column) idColumns.set(group.sketch, (column = readIds(group)));
	return column;
}

const idColumns = new WeakMap<Sketch, Column>();

function readIds(group: Group): Column {
	const counts = new Map<number, number>();
	for (const file of group.files) {
		const { pool, ids, written } = file.facts;
		for (let nth = 0; nth < ids.length; nth++) {
			// Most ids are texts of the file itself, which have their number.
			const id = written[nth] === 1 ? ids[nth]! : pool.of(nameOfRecord(group, file, nth));
			counts.set(id, (counts.get(id) ?? 0) + 1);
		}
	}
	const all = group.sketch.count;
	return {
		path: '#id',
		values: Int32Array.from(counts.keys()),
		counts: Int32Array.from(counts.values()),
		records: all,
		cells: all,
		filled: all,
		types: [all, 0, 0, 0]
	};
}

/**
 * Calls `each` with the cells of two columns that are in one record, and in one item where both are in a list; until
 * it answers false.
 */
export function pairsOf(
	group: Group,
	a: string,
	b: string,
	each: (a: number, b: number, file: DataFile, nth: number) => boolean | undefined
): void {
	for (const { files, begins, cells } of runsOf(group.files)) {
		const { shape, firsts, values, count } = cells;
		const shapes = placesOf(cells);
		// Many stop at the first record, so that most shapes are never looked at.
		const places: (readonly number[] | undefined)[] = [];
		for (let nth = 0, at = 0; nth < count; nth++) {
			while (nth >= begins[at + 1]!) at++;
			const own = shape[nth]!;
			const here = (places[own] ??= pairsIn(shapes[own], a, b));
			for (let pair = 0; pair < here.length; pair += 2) {
				const first = values[firsts[nth]! + here[pair]!]!;
				const second = values[firsts[nth]! + here[pair + 1]!]!;
				if (each(first, second, files[at]!, nth - begins[at]!) === false) return;
			}
		}
	}
}

/** The places of two columns in the records of a shape, two by two. */
function pairsIn(here: Places | undefined, a: string, b: string): number[] {
	const found: number[] = [];
	const own = here?.ofPattern(a) ?? [];
	for (let nth = 0; nth < own.length; nth++) {
		const other = here!.of(beside(own[nth]![0], b));
		if (other !== undefined) found.push(own[nth]![1], other);
	}
	return found;
}

/** Calls `each` with every cell of a column and the record it is in. */
export function cellsOf(
	group: Group,
	path: string,
	each: (value: number, file: DataFile, nth: number) => boolean | undefined
): void {
	for (const { files, begins, cells } of runsOf(group.files)) {
		const { shape, firsts, values, count } = cells;
		const shapes = placesOf(cells);
		// Of each shape once: many records share one.
		const places: (readonly (readonly [string, number])[])[] = [];
		for (let nth = 0, of = 0; nth < count; nth++) {
			while (nth >= begins[of + 1]!) of++;
			const own = shape[nth]!;
			const here = (places[own] ??= shapes[own]?.ofPattern(path) ?? []);
			for (let at = 0; at < here.length; at++) {
				const value = values[firsts[nth]! + here[at]![1]]!;
				if (each(value, files[of]!, nth - begins[of]!) === false) return;
			}
		}
	}
}
