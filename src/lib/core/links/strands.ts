// References in columns: what is written, and which record is meant.
import { inOneGo } from '../gather';
import {
	beside,
	fillPattern,
	isFromPath,
	isPlain,
	mentionsIn,
	nameAtEnd,
	namesInBraces,
	spokenPath,
	type Guide,
	type ReferenceGuide,
	type TextGuide
} from '../guide';
import {
	cellsOf,
	derived,
	isWide,
	numberRows,
	rowsWith,
	type Naming,
	type Rows,
	type Stack,
	type Table,
	rowsBy,
	rowsBySeveral
} from '../stack';

/** One sort of reference that a kind has, with the record that each entry names: by its place, -1 for none. */
export interface Strand {
	table: Table;
	field: string;
	kinds: string[];
	text: boolean;
	/** Whether the text is the one under which players know the record. */
	name: boolean;
	required: boolean;
	anyCase: boolean;
	/** The field of the record by which it is named, where that is not its id. */
	key?: string;
	sure: number;
	/** Row of each entry, ascending; null where every row has one entry. */
	rows: Int32Array | null;
	/** Text of the id that is named, by entry; -1 where none is. */
	values: Int32Array;
	/** The one kind that is meant, by entry, where the rule says it. */
	meant: (string | undefined)[] | null;
	/** Place of the record that is named, by entry. */
	to: Int32Array;
	/** Entries that name something which is not there, ascending. */
	loose: Int32Array;
	/** What `to` was detected from: the ids of the kinds that may be named, and where their places begin. */
	targets: readonly Target[];
}

/** A strand of which nobody has looked up yet what it names. */
export type Unresolved = Omit<Strand, 'to' | 'loose' | 'targets'>;

/** Where the places of each kind begin, and how many it has room for. */
export interface Places {
	starts: Map<string, number>;
	rooms: Map<string, number>;
	count: number;
}

/** A kind that may be named. */
export interface Target {
	kind: string;
	table: Table;
	rows: Rows;
	/** First place of its records, and how many may follow. */
	start: number;
	room: number;
}

/** The row that an entry of a strand is in. */
export const rowAt = ({ rows }: Pick<Strand, 'rows'>, entry: number): number => rows?.[entry] ?? entry;

/** The entries of a row that name something. */
export function entriesOf({ rows, values }: Pick<Strand, 'rows' | 'values'>, row: number): number[] {
	if (!rows) return values[row]! < 0 ? [] : [row];
	let low = 0;
	let high = rows.length;
	while (low < high) {
		const middle = (low + high) >> 1;
		if (rows[middle]! < row) low = middle + 1;
		else high = middle;
	}
	const found: number[] = [];
	for (; rows[low] === row; low++) if (values[low]! >= 0) found.push(low);
	return found;
}

const NONE = ['', '-'];

/** The texts of the keys of a text that belongs to a kind's records, by row; -1 where a part is missing. */
function keysOf(table: Table, text: TextGuide): Int32Array {
	const names = namesInBraces(text.key);
	const columns = new Map(
		names.map((name) => [name, name === 'id' ? table.rows.ids : table.column(name)] as const)
	);
	return numberRows(table, `keys ${text.key}`, (row) => {
		const key = fillPattern(text.key, (name) => {
			const value = columns.get(name)![row]!;
			return value < 0 ? undefined : table.pool.at(value);
		});
		return key === null ? -1 : table.pool.of(key);
	});
}

const spokenOf = new WeakMap<Table, ReadonlyMap<string, string[]>>();

/** The columns of a table by the path under which the guide speaks of them, or else by their own. */
function columnsBySpoken(table: Table): ReadonlyMap<string, string[]> {
	const known = spokenOf.get(table);
	if (known) return known;
	const found = new Map<string, string[]>();
	for (const path of table.columns) {
		const spoken = spokenPath(table.guide, path);
		if (spoken === null || spoken === path) continue;
		const columns = found.get(spoken);
		if (columns) columns.push(path);
		else found.set(spoken, [path]);
	}
	// A column of that very name is meant and no other.
	for (const path of table.columns) found.set(path, [path]);
	spokenOf.set(table, found);
	return found;
}

/** The columns that a path of the guide speaks of. */
export const columnsFor = (table: Table, spoken: string): string[] =>
	isFromPath(spoken) ? [spoken] : (columnsBySpoken(table).get(spoken) ?? []);

type Read = Pick<Strand, 'rows' | 'values' | 'meant'>;

/** A column whose values are ids and nothing else. */
function readPlain(table: Table, path: string, none: readonly string[]): Read {
	const empty = new Set(none.map((text) => table.pool.of(text)));
	const column = table.column(path);
	const values = numberRows(table, `named ${path}`, (row) => (empty.has(column[row]!) ? -1 : column[row]!));
	return { rows: null, values, meant: null };
}

/** What the cells of a column name, by a rule: rows, the ids in them, and the kinds that are meant. */
interface Mentions {
	rows: number[];
	values: number[];
	meant: (string | undefined)[];
}

/** Rows whose cells are read in one step. */
const ROWS_AT_ONCE = 500;

/** What the cells of some rows name, by a rule; in steps. */
function* mentionSteps(
	table: Table,
	path: string,
	reference: ReferenceGuide,
	none: readonly string[],
	some: Iterable<number>
): Generator<undefined, Mentions> {
	const { pool } = table;
	const cell = cellsOf(table, path);
	const decider = reference.by ? table.column(beside(path, reference.by.field)) : null;
	const found: Mentions = { rows: [], values: [], meant: [] };
	const name = reference.names ? nameAtEnd(spokenPath(table.guide, path) ?? path, path) : null;
	let nth = 0;
	for (const row of some) {
		if (nth++ % ROWS_AT_ONCE === ROWS_AT_ONCE - 1) yield;
		const value = cell(row);
		if (value < 0) continue;
		const written = name ?? pool.at(value);
		if (none.includes(written)) continue;
		const decided = decider && decider[row]! >= 0 ? pool.at(decider[row]!) : undefined;
		for (const { id, kind } of mentionsIn(reference, written, decided)) {
			if (none.includes(id)) continue;
			found.rows.push(row);
			found.values.push(pool.of(id));
			found.meant.push(kind);
		}
	}
	return found;
}

const told = ({ rows, values, meant }: Mentions): Read => ({
	rows: Int32Array.from(rows),
	values: Int32Array.from(values),
	meant: meant.some((kind) => kind !== undefined) ? meant : null
});

/** A column in which ids stand by a rule: what was read of it before, with the rows that changed read again. */
function* readByRule(
	table: Table,
	path: string,
	reference: ReferenceGuide,
	none: readonly string[]
): Generator<undefined, Read> {
	const name = `reference ${path}`;
	const steps = (some: Iterable<number>) => mentionSteps(table, path, reference, none, some);
	const isNew = !table.rows.derived.has(name) && !table.rows.changed?.since.derived.has(name);
	const all = isNew ? told(yield* steps(rowsWith(table, path))) : null;
	return derived<Read>(
		table,
		name,
		() => all ?? told(inOneGo(steps(rowsWith(table, path)))),
		(old, changed) => {
			const touched = new Set(changed);
			const fresh = inOneGo(steps(changed));
			const next: Mentions = { rows: [], values: [], meant: [] };
			const add = (row: number, value: number, kind: string | undefined) => {
				next.rows.push(row);
				next.values.push(value);
				next.meant.push(kind);
			};
			let at = 0;
			const before = (row: number) => {
				for (; at < fresh.rows.length && fresh.rows[at]! < row; at++)
					add(fresh.rows[at]!, fresh.values[at]!, fresh.meant[at]);
			};
			old.rows!.forEach((row, entry) => {
				if (row >= table.count || touched.has(row)) return;
				before(row);
				add(row, old.values[entry]!, old.meant?.[entry]);
			});
			before(Infinity);
			return told(next);
		}
	);
}

/** The references of a kind: what its fields name, and its texts; nothing where others may go first. */
export function* strandsOf(guide: Guide, table: Table): Generator<Unresolved | undefined> {
	for (const [spoken, about] of Object.entries(table.guide.fields)) {
		const { reference } = about;
		if (!reference) continue;
		const none = about.required && !reference.found ? reference.none : [...NONE, ...reference.none];
		for (const field of columnsFor(table, spoken)) {
			const plain =
				!isWide(table) &&
				(isPlain(reference) || (reference.anyCase && isPlain({ ...reference, anyCase: false })));
			const read = plain ? readPlain(table, field, none) : yield* readByRule(table, field, reference, none);
			yield {
				table,
				field,
				kinds: reference.kinds,
				text: false,
				name: table.guide.name?.from === field,
				required: about.required,
				anyCase: reference.anyCase ?? false,
				...(reference.key === undefined ? {} : { key: reference.key }),
				sure: reference.found?.sure ?? 1,
				...read
			};
		}
	}
	const words = guide.words?.kind;
	if (!words) return;
	for (const text of table.guide.texts)
		yield {
			table,
			field: text.label,
			kinds: [words],
			text: true,
			name: text.name,
			required: text.required,
			anyCase: false,
			sure: text.found?.sure ?? 1,
			rows: null,
			values: keysOf(table, text),
			meant: null
		};
}

const foldedRows = (table: Table): Map<string, number> => {
	let rows = folded.get(table.rows.byText);
	if (!rows) {
		folded.set(table.rows.byText, (rows = new Map<string, number>()));
		for (let row = 0; row < table.count; row++) {
			const id = table.pool.at(table.rows.ids[row]!).toLowerCase();
			if (!rows.has(id)) rows.set(id, row);
		}
	}
	return rows;
};
const folded = new WeakMap<Naming, Map<string, number>>();

/** How the records of a kind are looked up, by the number of a text or by the text in small letters. */
interface Lookup {
	kind: string;
	start: number;
	own: Naming;
	/** Where records have several ids. */
	several?: Naming;
	/** Where the case of letters does not count. */
	folded?: ReadonlyMap<string, number>;
}

/** Finds the place of the record that an entry names; -1 where there is none. */
function resolver(
	stack: Stack,
	{ anyCase, meant, key }: Unresolved,
	targets: readonly Target[]
): (value: number, entry: number) => number {
	let lookups: Lookup[] | undefined;
	return (value, entry) => {
		const only = meant?.[entry];
		// Only once it is known that something must be looked up at all.
		lookups ??= targets.map(({ kind, table, start }): Lookup => ({
			kind,
			start,
			own: key === undefined ? table.rows.byText : rowsBy(table, key),
			...(key === undefined && table.guide.severalIds ? { several: rowsBySeveral(table) } : {}),
			...(anyCase ? { folded: foldedRows(table) } : {})
		}));
		for (const { kind, start, own, several, folded: byFolded } of lookups) {
			if (only !== undefined && only !== kind) continue;
			const row = own.get(value) ?? several?.get(value) ?? byFolded?.get(stack.pool.at(value).toLowerCase());
			if (row !== undefined) return start + row;
		}
		return -1;
	};
}

const looseIn = (values: Int32Array, to: Int32Array): Int32Array => {
	const found: number[] = [];
	for (let entry = 0; entry < to.length; entry++)
		if (values[entry]! >= 0 && to[entry]! < 0) found.push(entry);
	return Int32Array.from(found);
};

/** Whether the entries of a strand are those of an older one but for the rows that changed. */
const follows = (strand: Unresolved, old: Strand): boolean =>
	strand.rows === null && old.rows === null && strand.table.rows.changed?.since === old.table.rows;

/**
 * Looks up what a strand names. Of an older strand that is kept which still holds: all of it, or all but the rows that
 * changed and the entries that named nothing or a record of my mod.
 */
export function resolved(stack: Stack, strand: Unresolved, places: Places, old: Strand | undefined): Strand {
	const targets = strand.kinds.flatMap((kind): Target[] => {
		const table = stack.tables.get(kind);
		const start = places.starts.get(kind)!;
		return table ? [{ kind, table, rows: table.rows, start, room: places.rooms.get(kind)! }] : [];
	});
	const resolve = resolver(stack, strand, targets);
	const alike =
		old !== undefined &&
		// Who has which value of a field may have changed with any edit.
		strand.key === undefined &&
		old.key === undefined &&
		!targets.some(({ table }) => table.guide.severalIds) &&
		old.anyCase === strand.anyCase &&
		old.targets.length === targets.length &&
		targets.every(({ kind, start, rows }, at) => {
			const was = old.targets[at]!;
			return was.kind === kind && was.start === start && was.rows.below.byText === rows.below.byText;
		});
	const named = alike && targets.every(({ rows }, at) => rows.byText === old.targets[at]!.rows.byText);
	const whole = alike && old.values === strand.values;
	if (whole && named) return { ...strand, to: old.to, loose: old.loose, targets };
	const { values } = strand;
	const look = (entry: number) => (values[entry]! < 0 ? -1 : resolve(values[entry]!, entry));
	// Where one id may be of several records, a new one can take the place of that which was meant so far.
	const contested = !named && (strand.anyCase || targets.length > 1);
	if (!alike || contested || !(whole || follows(strand, old))) {
		const to = values.map((_, entry) => look(entry));
		return { ...strand, to, loose: looseIn(values, to), targets };
	}
	const to = whole ? old.to.slice() : new Int32Array(values.length);
	if (!whole) to.set(old.to.subarray(0, Math.min(old.to.length, to.length)));
	const again = new Set<number>(whole ? [] : strand.table.rows.changed!.rows);
	for (let entry = old.to.length; entry < to.length; entry++) again.add(entry);
	if (!named) {
		for (const entry of old.loose) if (entry < to.length) again.add(entry);
		for (const { start, rows, room } of targets)
			for (let entry = 0; entry < to.length; entry++) {
				const row = to[entry]! - start;
				if (row >= rows.below.count && row < room) again.add(entry);
			}
	}
	for (const entry of again) to[entry] = look(entry);
	const loose = Int32Array.from(
		[
			...[...old.loose].filter((entry) => entry < to.length && !again.has(entry)),
			...[...again].filter((entry) => values[entry]! >= 0 && to[entry]! < 0)
		].sort((a, b) => a - b)
	);
	return { ...strand, to, loose, targets };
}
