// All records of a kind, in columns: nothing is kept for a record but where it stands; the values are the facts' own.
import { numbersFor } from '../gather';
import { placeIn, type Facts, type Pool } from '../facts';
import { FILE, fileIn, FOLDER, folderIn, ID, type KindGuide } from '../guide';
import { Row, type EffectiveRecord } from './record';
import type { Composed } from './compose';
import type { LayerFile } from './files';
import { isEditable, type Layer } from './layer';
import { carried } from './derived';
import { isWide, rowsWith } from './wide';

/** A file that holds records of the kind and counts. */
export interface TableFile {
	layer: Layer;
	file: LayerFile;
	/** Which part of the file holds them, where it holds records of several kinds; see `DocumentPart`. */
	spec: number;
	/** Those of its part. */
	facts: Facts;
	/** Language of the file, where the kind has languages. */
	language?: string | undefined;
	/** Its records are taken out of the layers below. */
	removes?: boolean | undefined;
	/** Numbers of the records that a later layer takes out, ascending. */
	gone?: readonly number[] | undefined;
	/** Where the kind is merged field by field: the facts are those of whole records, and this is what the file says. */
	composed?: Composed | undefined;
}

/** A record that a layer takes out of those below it, and how many of them say exactly the same and go. */
export interface Removal {
	from: TableFile;
	nth: number;
	hits: number;
}

/** Files of a kind: those that count, those that others stand in for, what is taken out, and what does not count. */
export interface TableFiles {
	counting: TableFile[];
	hidden: TableFile[];
	removals: Removal[];
	ignored: Removal[];
}

/** The row of an id, by the number of its text. */
export interface Naming {
	get(text: number): number | undefined;
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
	/** The same object as long as every id keeps its row. */
	byText: Naming;
	columns: Map<string, Int32Array>;
	/** Whatever was computed from the rows and their values. */
	derived: Map<string, unknown>;
	/** The rows of the files below the first layer that is edited, which stay when that changes. */
	below: Rows;
	/** The rows in which this differs from an older state, and that state; null where all is new. */
	changed: { since: Rows; rows: Int32Array } | null;
}

/** All records of a kind. */
export interface Table {
	kind: string;
	guide: KindGuide;
	pool: Pool;
	files: TableFile[];
	/** Files that the file of a later layer stands in for. */
	hidden: TableFile[];
	/** Records that layers take out of those below. */
	removals: Removal[];
	/** Records that do not count because a layer below has one of the id. */
	ignored: Removal[];
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

/** The rows of the records of a file; `rowOf` gives the row of an id. The first of two records with one id counts. */
function place({ facts, gone }: TableFile, rowOf: (id: number) => number): Int32Array {
	const list = numbersFor(facts.count).fill(-1);
	// The second of two is a snag of its own.
	const doubles = new Set<number>();
	for (let at = 0; at < facts.doubles.length; at += 2) doubles.add(facts.doubles[at]!);
	for (const nth of gone ?? []) doubles.add(nth);
	for (let nth = 0; nth < facts.count; nth++)
		if (doubles.size === 0 || !doubles.has(nth)) list[nth] = rowOf(facts.ids[nth]!);
	return list;
}

function rowsOf(files: readonly TableFile[]): Rows {
	const byText = new Map<number, number>();
	const rows = files.map((file) =>
		place(file, (id) => {
			let row = byText.get(id);
			if (row === undefined) byText.set(id, (row = byText.size));
			return row;
		})
	);
	const count = byText.size;
	const firsts = new Int32Array(count + 1);
	for (const list of rows) for (const row of list) if (row >= 0) firsts[row + 1]!++;
	for (let row = 0; row < count; row++) firsts[row + 1]! += firsts[row]!;
	const next = firsts.slice();
	const file = new Int32Array(firsts[count]!);
	const nth = new Int32Array(firsts[count]!);
	rows.forEach((list, number) => {
		for (let at = 0; at < list.length; at++) {
			if (list[at]! < 0) continue;
			const place = next[list[at]!]!++;
			file[place] = number;
			nth[place] = at;
		}
	});
	const made: Omit<Rows, 'below'> = {
		count,
		ids: Int32Array.from(byText.keys()),
		firsts,
		file,
		nth,
		rowsOf: rows,
		byText,
		columns: new Map(),
		derived: new Map(),
		changed: null
	};
	return Object.assign(made, { below: made as Rows });
}

/** The rows of files that lie over others: the same as those of all files together, without going through those below. */
function rowsOver(below: Rows, own: readonly TableFile[]): Rows {
	const fresh = new Map<number, number>();
	const lists = own.map((file) =>
		place(file, (id) => {
			let row = below.byText.get(id) ?? fresh.get(id);
			if (row === undefined) fresh.set(id, (row = below.count + fresh.size));
			return row;
		})
	);
	const count = below.count + fresh.size;
	const more = new Map<number, number>();
	let presences = below.file.length;
	for (const list of lists)
		for (const row of list)
			if (row >= 0) {
				more.set(row, (more.get(row) ?? 0) + 1);
				presences++;
			}
	const [file, nth] = [new Int32Array(presences), new Int32Array(presences)];
	const firsts = new Int32Array(count + 1);
	// Presences below move up as a block between the rows that get more of them.
	let [from, shift] = [0, 0];
	for (const row of [...more.keys()].sort((a, b) => a - b)) {
		const end = below.firsts[Math.min(row + 1, below.count)]!;
		file.set(below.file.subarray(from, end), from + shift);
		nth.set(below.nth.subarray(from, end), from + shift);
		from = end;
		shift += more.get(row)!;
	}
	file.set(below.file.subarray(from), from + shift);
	nth.set(below.nth.subarray(from), from + shift);
	shift = 0;
	for (let row = 0; row < count; row++) {
		firsts[row] = below.firsts[Math.min(row, below.count)]! + shift;
		if (more.size > 0) shift += more.get(row) ?? 0;
	}
	firsts[count] = presences;
	const next = new Map([...more].map(([row, extra]) => [row, firsts[row + 1]! - extra]));
	lists.forEach((list, number) => {
		for (let at = 0; at < list.length; at++) {
			const row = list[at]!;
			if (row < 0) continue;
			const to = next.get(row)!;
			next.set(row, to + 1);
			file[to] = below.rowsOf.length + number;
			nth[to] = at;
		}
	});
	const ids = new Int32Array(count);
	ids.set(below.ids);
	for (const [id, row] of fresh) ids[row] = id;
	return {
		count,
		ids,
		firsts,
		file,
		nth,
		rowsOf: [...below.rowsOf, ...lists],
		byText: fresh.size === 0 ? below.byText : { get: (text) => below.byText.get(text) ?? fresh.get(text) },
		columns: new Map(),
		derived: new Map(),
		below,
		changed: null
	};
}

const sameFile = (a: TableFile | undefined, b: TableFile | undefined) =>
	a !== undefined &&
	b !== undefined &&
	a.facts === b.facts &&
	a.language === b.language &&
	String(a.gone ?? '') === String(b.gone ?? '');

const sameFiles = (a: readonly TableFile[], b: readonly TableFile[]) =>
	a.length === b.length && a.every((file, at) => sameFile(file, b[at]));

/** Whether a record says the same in two states of its file. */
export function sameRecord(a: Facts, at: number, b: Facts, to: number): boolean {
	if (a.ids[at] !== b.ids[to] || a.written[at] !== b.written[to]) return false;
	const [from, other] = [a.firsts[at]!, b.firsts[to]!];
	const length = a.firsts[at + 1]! - from;
	if (b.firsts[to + 1]! - other !== length) return false;
	const [left, right] = [a.shapes[a.shape[at]!], b.shapes[b.shape[to]!]];
	for (let field = 0; field < length; field++)
		if (a.values[from + field] !== b.values[other + field] || left?.[field] !== right?.[field]) return false;
	return true;
}

/** The rows in which two states differ that have the same files below. */
function rowsChanged(before: Table, files: readonly TableFile[], rows: Rows): Int32Array {
	const first = rows.below.rowsOf.length;
	const touched = new Set<number>();
	const old = before.files.slice(first);
	const own = files.slice(first);
	const isSame = (a: TableFile, b: TableFile) =>
		a.file.path === b.file.path && a.language === b.language && a.layer.id === b.layer.id;
	old.forEach((file, at) => {
		const now = own.findIndex((other) => isSame(other, file));
		if (now >= 0 && own[now]!.facts === file.facts) return;
		const list = before.rows.rowsOf[first + at]!;
		const fresh = now < 0 ? undefined : rows.rowsOf[first + now];
		for (let nth = 0; nth < list.length; nth++)
			if (
				list[nth]! >= 0 &&
				!(fresh?.[nth] === list[nth] && sameRecord(file.facts, nth, own[now]!.facts, nth))
			)
				touched.add(list[nth]!);
	});
	own.forEach((file, at) => {
		const then = old.findIndex((other) => isSame(other, file));
		if (then >= 0 && old[then]!.facts === file.facts) return;
		const list = rows.rowsOf[first + at]!;
		const stale = then < 0 ? undefined : before.rows.rowsOf[first + then];
		for (let nth = 0; nth < list.length; nth++)
			if (
				list[nth]! >= 0 &&
				!(stale?.[nth] === list[nth] && sameRecord(file.facts, nth, old[then]!.facts, nth))
			)
				touched.add(list[nth]!);
	});
	if (rows.byText !== before.rows.byText)
		for (let row = rows.below.count; row < rows.count; row++) touched.add(row);
	return Int32Array.from([...touched].filter((row) => row < rows.count)).sort();
}

/**
 * The rows of some files; where an older table has the same files below the first layer that is edited, only those from
 * there on are gone through.
 */
function rowsFor(files: readonly TableFile[], older: Table | undefined): Rows {
	const first = files.findIndex(({ layer }) => isEditable(layer));
	const cut = first < 0 ? files.length : first;
	const [under, own] = [files.slice(0, cut), files.slice(cut)];
	const known = older && sameFiles(older.files.slice(0, older.rows.below.rowsOf.length), under);
	const below = known ? older.rows.below : rowsOf(under);
	if (own.length === 0) return { ...below, derived: new Map<string, unknown>(), changed: null };
	const rows = rowsOver(below, own);
	if (known && older.rows.count === rows.count) {
		let same = true;
		for (let row = below.count; same && row < rows.count; row++) same = rows.ids[row] === older.rows.ids[row];
		if (same) rows.byText = older.rows.byText;
	}
	return rows;
}

function columnsOf(files: readonly TableFile[], pool: Pool): string[] {
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

/** Writes the text of a field in every row into a column; or in some rows, one after the other. */
function fillColumn({ files, rows, pool }: Table, path: string, into: Int32Array, some?: Int32Array): void {
	const slot = pool.find(path);
	// Most records of a file have the same shape: where the field is in it is looked up once for all of them.
	let shape: Int32Array | undefined;
	let place: number | undefined;
	const count = some?.length ?? rows.count;
	for (let one = 0; one < count; one++) {
		const row = some ? some[one]! : one;
		into[one] = -1;
		for (let at = rows.firsts[row + 1]! - 1; at >= rows.firsts[row]!; at--) {
			const { facts, language } = files[rows.file[at]!]!;
			if (language === undefined) {
				const nth = rows.nth[at]!;
				const own = facts.shapes[facts.shape[nth]!];
				if (own !== shape) {
					shape = own;
					place = own && placeIn(own, slot);
				}
				if (place !== undefined) into[one] = facts.values[facts.firsts[nth]! + place]!;
				break;
			}
			const last = facts.firsts[rows.nth[at]! + 1]! - 1;
			if (language !== path || last < facts.firsts[rows.nth[at]!]!) continue;
			into[one] = facts.values[last]!;
			break;
		}
	}
}

/** Columns that are read one by one: who asks for more will ask for most of them. */
const ONE_BY_ONE = 4;

/** Reads all columns that are not there yet, in one go through the rows. */
function fillColumns({ files, rows, pool, columns }: Table): void {
	const bySlot = new Map<number, Int32Array>();
	for (const path of columns) {
		if (rows.columns.has(path)) continue;
		const column = new Int32Array(rows.count).fill(-1);
		rows.columns.set(path, column);
		bySlot.set(pool.find(path), column);
	}
	const placed = new Map<Int32Array, (Int32Array | undefined)[]>();
	for (let row = 0; row < rows.count; row++) {
		const at = rows.firsts[row + 1]! - 1;
		const { facts } = files[rows.file[at]!]!;
		const nth = rows.nth[at]!;
		const shape = facts.shapes[facts.shape[nth]!];
		if (!shape) continue;
		let own = placed.get(shape);
		if (!own) placed.set(shape, (own = Array.from(shape, (slot) => bySlot.get(slot))));
		const first = facts.firsts[nth]!;
		for (let place = 0; place < own.length; place++) {
			const column = own[place];
			if (column) column[row] = facts.values[first + place]!;
		}
	}
}

/** Columns of a table that are kept; of wide ones nobody needs all. */
const KEPT_COLUMNS = 1000;

function readColumn(table: Table, path: string): Int32Array {
	const { files, rows, pool, guide } = table;
	if (path === ID) return rows.ids;
	if (path === FOLDER || path === FILE)
		return Int32Array.from({ length: rows.count }, (_, row) => {
			const { file } = files[rows.file[rows.firsts[row + 1]! - 1]!]!;
			return pool.of(path === FILE ? fileIn(file.path) : (folderIn(guide.files, file.path) ?? ''));
		});
	const old = rows.changed?.since.columns.get(path);
	if (!old) {
		const column = new Int32Array(rows.count);
		if (!isWide(table)) {
			if (rows.columns.size >= ONE_BY_ONE && files.every(({ language }) => language === undefined)) {
				fillColumns(table);
				const known = rows.columns.get(path);
				if (known) return known;
			}
			fillColumn(table, path, column);
			return column;
		}
		column.fill(-1);
		const filled = rowsWith(table, path);
		const values = new Int32Array(filled.length);
		fillColumn(table, path, values, filled);
		values.forEach((value, nth) => (column[filled[nth]!] = value));
		return column;
	}
	const some = rows.changed!.rows;
	const fresh = new Int32Array(some.length);
	fillColumn(table, path, fresh, some);
	// A change of one field leaves the others as they are.
	if (old.length === rows.count && fresh.every((value, nth) => old[some[nth]!] === value)) return old;
	const column = carried(old, rows.count);
	fresh.forEach((value, nth) => (column[some[nth]!] = value));
	return column;
}

/** The table of a kind over its files, in load order; what an older table knows of files that did not change is taken over. */
export function tableOver(
	kind: string,
	guide: KindGuide,
	{ counting: files, hidden, removals, ignored }: TableFiles,
	pool: Pool,
	older?: Table
): Table {
	const known = older?.pool === pool ? older : undefined;
	const same = known !== undefined && sameFiles(known.files, files);
	// What was derived may depend on what the guide says of the kind, and on what the files stand in for.
	const isLike = known?.guide === guide && sameFiles(known.hidden, hidden);
	const rows = !same
		? rowsFor(files, known)
		: isLike
			? known.rows
			: { ...known.rows, derived: new Map<string, unknown>(), changed: null };
	if (!same && isLike && known.rows.below === rows.below && rows !== known.rows) {
		rows.changed = { since: known.rows, rows: rowsChanged(known, files, rows) };
		// One older state is enough.
		known.rows.changed = null;
	}
	const table: Table = {
		kind,
		guide,
		pool,
		files,
		hidden,
		removals,
		ignored,
		rows,
		columns: same ? known.columns : columnsOf(files, pool),
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
			if (column) return column;
			column = readColumn(table, path);
			if (rows.columns.size < KEPT_COLUMNS) rows.columns.set(path, column);
			return column;
		}
	};
	return table;
}
