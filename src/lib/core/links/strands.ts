// References in columns: what is written, and which record is meant.
import {
	beside,
	fillPattern,
	FOLDER,
	ID,
	isPlain,
	mentionsIn,
	spokenPath,
	type Guide,
	type ReferenceGuide,
	type TextGuide
} from '../guide';
import { derived, type Stack, type Table } from '../stack';

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
	sure: number;
	/** Row of each entry, ascending; null where every row has one entry. */
	rows: Int32Array | null;
	/** Text of the id that is named, by entry; -1 where none is. */
	values: Int32Array;
	/** The one kind that is meant, by entry, where the rule says it. */
	meant: (string | undefined)[] | null;
	/** Place of the record that is named, by entry. */
	to: Int32Array;
}

/** The row that an entry of a strand stands in. */
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
	return derived(table, `keys ${text.key}`, () => {
		const keys = new Int32Array(table.count).fill(-1);
		const names = [...text.key.matchAll(/\{([^}]+)\}/g)].map((match) => match[1]!);
		const columns = new Map(
			names.map((name) => [name, name === 'id' ? table.rows.ids : table.column(name)] as const)
		);
		for (let row = 0; row < table.count; row++) {
			const key = fillPattern(text.key, (name) => {
				const value = columns.get(name)![row]!;
				return value < 0 ? undefined : table.pool.at(value);
			});
			if (key !== null) keys[row] = table.pool.of(key);
		}
		return keys;
	});
}

/** The columns that a path of the guide speaks of. */
export const columnsFor = (table: Table, spoken: string): string[] =>
	spoken === ID || spoken === FOLDER
		? [spoken]
		: table.columns.includes(spoken)
			? [spoken]
			: table.columns.filter((path) => spokenPath(table.guide, path) === spoken);

type Read = Pick<Strand, 'rows' | 'values' | 'meant'>;

/** A column whose values are ids and nothing else. */
function readPlain(table: Table, path: string, none: readonly string[]): Read {
	const empty = new Set(none.map((text) => table.pool.of(text)));
	return {
		rows: null,
		values: table.column(path).map((value) => (empty.has(value) ? -1 : value)),
		meant: null
	};
}

/** A column in which ids stand by a rule. */
function readByRule(table: Table, path: string, reference: ReferenceGuide, none: readonly string[]): Read {
	const { pool } = table;
	const column = table.column(path);
	const decider = reference.by ? table.column(beside(path, reference.by.field)) : null;
	const [rows, values]: [number[], number[]] = [[], []];
	const meant: (string | undefined)[] = [];
	const name = reference.names ? path.slice(path.lastIndexOf('.') + 1) : null;
	for (let row = 0; row < column.length; row++) {
		const value = column[row]!;
		if (value < 0) continue;
		const written = name ?? pool.at(value);
		if (none.includes(written)) continue;
		const decided = decider && decider[row]! >= 0 ? pool.at(decider[row]!) : undefined;
		for (const { id, kind } of mentionsIn(reference, written, decided)) {
			if (none.includes(id)) continue;
			rows.push(row);
			values.push(pool.of(id));
			meant.push(kind);
		}
	}
	return {
		rows: Int32Array.from(rows),
		values: Int32Array.from(values),
		meant: meant.some((kind) => kind !== undefined) ? meant : null
	};
}

/** The references of a kind: what its fields name, and its texts. */
export function* strandsOf(guide: Guide, table: Table): Generator<Omit<Strand, 'to'>> {
	for (const [spoken, about] of Object.entries(table.guide.fields)) {
		const { reference } = about;
		if (!reference) continue;
		const none = about.required && !reference.found ? reference.none : [...NONE, ...reference.none];
		for (const field of columnsFor(table, spoken)) {
			const read = derived(table, `reference ${field}`, () =>
				isPlain(reference) || (reference.anyCase && isPlain({ ...reference, anyCase: false }))
					? readPlain(table, field, none)
					: readByRule(table, field, reference, none)
			);
			yield {
				table,
				field,
				kinds: reference.kinds,
				text: false,
				name: false,
				required: about.required,
				anyCase: reference.anyCase ?? false,
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

const foldedRows = (table: Table): Map<string, number> =>
	derived(table, 'rows by folded id', () => {
		const rows = new Map<string, number>();
		table.rows.ids.forEach((id, row) => {
			const folded = table.pool.at(id).toLowerCase();
			if (!rows.has(folded)) rows.set(folded, row);
		});
		return rows;
	});

/** Finds the place of the record that an entry names; -1 where there is none. */
export function resolver(
	stack: Stack,
	{ kinds, anyCase, meant }: Omit<Strand, 'to'>,
	starts: ReadonlyMap<string, number>
): (value: number, entry: number) => number {
	const targets = kinds.flatMap((kind) => {
		const table = stack.tables.get(kind);
		return table ? [{ kind, table, start: starts.get(kind)! }] : [];
	});
	return (value, entry) => {
		const only = meant?.[entry];
		for (const { kind, table, start } of targets) {
			if (only !== undefined && only !== kind) continue;
			const row =
				table.rows.byText.get(value) ??
				(anyCase ? foldedRows(table).get(stack.pool.at(value).toLowerCase()) : undefined);
			if (row !== undefined) return start + row;
		}
		return -1;
	};
}
