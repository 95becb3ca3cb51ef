// All records of a kind, in columns: nothing is kept for a record but where it stands; the values are the facts' own.
import { placesOf, type Facts, type Pool } from '../facts';
import { FOLDER, folderIn, ID, type KindGuide } from '../guide';
import { Row, type EffectiveRecord } from './record';
import type { LayerFile } from './files';
import type { Layer } from './stack';

/** A file that holds records of the kind and counts. */
export interface TableFile {
	layer: Layer;
	file: LayerFile;
	facts: Facts;
	/** Language of the file, where the kind has languages. */
	language?: string | undefined;
}

/** Where each record stands. Shared by tables that differ in nothing but the layers around them. */
export interface Rows {
	readonly count: number;
	/** Text of the id of each row. */
	ids: Int32Array;
	/** First presence of each row, and one number more; of each presence the file and the number in it, in load order. */
	firsts: Int32Array;
	file: Int32Array;
	nth: Int32Array;
	/** Of each file, the row of each of its records; -1 for those that do not count. */
	rowsOf: Int32Array[];
	byText: Map<number, number>;
	columns: Map<string, Int32Array>;
	/** Whatever was computed from the rows and their values. */
	derived: Map<string, unknown>;
}

/** All records of a kind. */
export interface Table {
	kind: string;
	guide: KindGuide;
	pool: Pool;
	files: TableFile[];
	/** Files that the file of a later layer stands in for. */
	hidden: TableFile[];
	rows: Rows;
	/** Field paths in the order the files have them. */
	columns: string[];
	readonly count: number;
	/** The record of a row. */
	record(row: number): EffectiveRecord;
	/** The row of an id; -1 where there is none. */
	rowOf(id: string): number;
	readonly records: EffectiveRecord[];
	byId: { get(id: string): EffectiveRecord | undefined; has(id: string): boolean; keys(): Iterable<string> };
	/** The text of a field in every row, as its number; -1 where a row has none. */
	column(path: string): Int32Array;
}

function rowsOf(files: TableFile[]): Rows {
	const byText = new Map<number, number>();
	let presences = 0;
	const rows = files.map(({ facts }) => {
		const list = new Int32Array(facts.count).fill(-1);
		// The first of two records with one id counts; the second is a snag of its own.
		const doubles = new Set<number>();
		for (let at = 0; at < facts.doubles.length; at += 2) doubles.add(facts.doubles[at]!);
		for (let nth = 0; nth < facts.count; nth++) {
			if (doubles.size > 0 && doubles.has(nth)) continue;
			const id = facts.ids[nth]!;
			let row = byText.get(id);
			if (row === undefined) byText.set(id, (row = byText.size));
			list[nth] = row;
			presences++;
		}
		return list;
	});
	const count = byText.size;
	const firsts = new Int32Array(count + 1);
	for (const list of rows) for (const row of list) if (row >= 0) firsts[row + 1]!++;
	for (let row = 0; row < count; row++) firsts[row + 1]! += firsts[row]!;
	const next = firsts.slice();
	const file = new Int32Array(presences);
	const nth = new Int32Array(presences);
	rows.forEach((list, number) => {
		for (let at = 0; at < list.length; at++) {
			if (list[at]! < 0) continue;
			const place = next[list[at]!]!++;
			file[place] = number;
			nth[place] = at;
		}
	});
	return {
		count,
		ids: Int32Array.from(byText.keys()),
		firsts,
		file,
		nth,
		rowsOf: rows,
		byText,
		columns: new Map(),
		derived: new Map()
	};
}

function columnsOf(files: TableFile[], pool: Pool): string[] {
	const seen = new Set<string>();
	for (const { facts, language } of files) {
		if (language !== undefined) {
			if (facts.count > 0) seen.add(language);
			continue;
		}
		for (const shape of facts.shapes) for (const path of shape) seen.add(pool.at(path));
	}
	return [...seen];
}

function readColumn({ files, rows, pool, guide }: Table, path: string): Int32Array {
	if (path === ID) return rows.ids;
	if (path === FOLDER)
		return Int32Array.from({ length: rows.count }, (_, row) => {
			const { file } = files[rows.file[rows.firsts[row + 1]! - 1]!]!;
			return pool.of(folderIn(guide.files, file.path) ?? '');
		});
	const column = new Int32Array(rows.count).fill(-1);
	const slot = pool.find(path);
	// Most records of a file have the same shape: where the field stands in it is looked up once for all of them.
	let shape: Int32Array | undefined;
	let place: number | undefined;
	for (let row = 0; row < rows.count; row++) {
		for (let at = rows.firsts[row + 1]! - 1; at >= rows.firsts[row]!; at--) {
			const { facts, language } = files[rows.file[at]!]!;
			if (language === undefined) {
				const nth = rows.nth[at]!;
				const own = facts.shapes[facts.shape[nth]!];
				if (own !== shape) {
					shape = own;
					place = own && placesOf(own).get(slot);
				}
				if (place !== undefined) column[row] = facts.values[facts.firsts[nth]! + place]!;
				break;
			}
			const last = facts.firsts[rows.nth[at]! + 1]! - 1;
			if (language !== path || last < facts.firsts[rows.nth[at]!]!) continue;
			column[row] = facts.values[last]!;
			break;
		}
	}
	return column;
}

/** The table of a kind over its files, in load order; what an older table of the same files knows is taken over. */
export function tableOver(
	kind: string,
	guide: KindGuide,
	{ counting: files, hidden }: { counting: TableFile[]; hidden: TableFile[] },
	pool: Pool,
	older?: Table
): Table {
	const same =
		older?.pool === pool &&
		older.files.length === files.length &&
		older.files.every((file, at) => file.facts === files[at]!.facts && file.language === files[at]!.language);
	// What was derived may depend on what the guide says of the kind.
	const rows = !same
		? rowsOf(files)
		: older.guide === guide
			? older.rows
			: { ...older.rows, derived: new Map<string, unknown>() };
	const table: Table = {
		kind,
		guide,
		pool,
		files,
		hidden,
		rows,
		columns: same ? older.columns : columnsOf(files, pool),
		count: rows.count,
		record: (row) => new Row(table, row),
		rowOf(id) {
			const text = pool.find(id);
			return text < 0 ? -1 : (rows.byText.get(text) ?? -1);
		},
		get records() {
			return Array.from({ length: rows.count }, (_, row) => new Row(table, row));
		},
		byId: {
			get(id) {
				const row = table.rowOf(id);
				return row < 0 ? undefined : new Row(table, row);
			},
			has: (id) => table.rowOf(id) >= 0,
			*keys() {
				for (const id of rows.ids) yield pool.at(id);
			}
		},
		column(path) {
			let column = rows.columns.get(path);
			if (!column) rows.columns.set(path, (column = readColumn(table, path)));
			return column;
		}
	};
	return table;
}

/** Something computed once from a table's rows and values, and kept as long as they stay the same. */
export function derived<T>(table: Table, name: string, make: () => T): T {
	const { derived: known } = table.rows;
	if (!known.has(name)) known.set(name, make());
	return known.get(name) as T;
}
