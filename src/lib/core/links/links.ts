import { fillPattern, type Guide, type TextGuide } from '../guide';
import { derived, type EffectiveRecord, type Stack, type Table } from '../stack';

/** One reference: a field of a record that names another, or a text that belongs to it. */
export interface Link {
	from: EffectiveRecord;
	/** Path of the field, or the label of the text. */
	field: string;
	/** The id that is written there. */
	value: string;
	kinds: string[];
	/** The record it names, of a kind that fits. */
	to: EffectiveRecord | null;
	/** A record with that id of a kind that does not fit, when there is none that does. */
	misfit: EffectiveRecord | null;
	text: boolean;
	required: boolean;
}

/** One sort of reference that a kind has, with the record that each row names: by its place, -1 for none. */
interface Strand {
	table: Table;
	field: string;
	kinds: string[];
	text: boolean;
	/** Whether the text is the one under which players know the record. */
	name: boolean;
	required: boolean;
	/** Text of what is written, by row; -1 where nothing is. */
	values: Int32Array;
	/** Place of the record that is named, by row. */
	to: Int32Array;
}

/** The graph of references, in numbers. A place is a record's number over all tables: the table's first, plus the row. */
export interface Links {
	stack: Stack;
	/** First place of each kind. */
	starts: Map<string, number>;
	places: number;
	strands: Strand[];
	/** Who names each place: pairs of strand and row, from `firsts[place]` on, two numbers each. */
	firsts: Int32Array;
	users: Int32Array;
	/** How many records name each place by a field (texts are not counted). */
	uses: Int32Array;
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

function* strandsOf(guide: Guide, table: Table): Generator<Omit<Strand, 'to'>> {
	for (const [field, about] of Object.entries(table.guide.fields)) {
		if (!about.reference) continue;
		const { kinds } = about.reference;
		const none = about.required ? [] : [...NONE, ...about.reference.none];
		const values = derived(table, `reference ${field}`, () => {
			const empty = new Set(none.map((text) => table.pool.of(text)));
			return table.column(field).map((value) => (empty.has(value) ? -1 : value));
		});
		yield { table, field, kinds, text: false, name: false, required: about.required, values };
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
			values: keysOf(table, text)
		};
}

/** Follows every reference of every record. */
export function buildLinks(stack: Stack): Links {
	const starts = new Map<string, number>();
	let places = 0;
	for (const [kind, table] of stack.tables) {
		starts.set(kind, places);
		places += table.count;
	}
	const strands: Strand[] = [];
	const firsts = new Int32Array(places + 1);
	const uses = new Int32Array(places);
	for (const table of stack.tables.values())
		for (const strand of strandsOf(stack.guide, table)) {
			const targets = strand.kinds.flatMap((kind) => {
				const target = stack.tables.get(kind);
				return target ? [{ rows: target.rows.byText, start: starts.get(kind)! }] : [];
			});
			const to = strand.values.map((value) => {
				if (value < 0) return -1;
				for (const { rows, start } of targets) {
					const row = rows.get(value);
					if (row !== undefined) return start + row;
				}
				return -1;
			});
			for (const place of to)
				if (place >= 0) {
					firsts[place + 1]!++;
					if (!strand.text) uses[place]!++;
				}
			strands.push({ ...strand, to });
		}
	for (let place = 0; place < places; place++) firsts[place + 1]! += firsts[place]!;
	const next = firsts.slice();
	const users = new Int32Array(firsts[places]! * 2);
	strands.forEach((strand, number) => {
		for (let row = 0; row < strand.to.length; row++) {
			const place = strand.to[row]!;
			if (place < 0) continue;
			const at = next[place]!++ * 2;
			users[at] = number;
			users[at + 1] = row;
		}
	});
	return { stack, starts, places, strands, firsts, users, uses };
}

/** The place of a record. */
export const placeOf = ({ starts }: Links, { kind, row }: EffectiveRecord): number => starts.get(kind)! + row;

/** The record at a place. */
export function recordAt({ stack, starts }: Links, place: number): EffectiveRecord {
	let found: [string, number] = ['', 0];
	for (const entry of starts) {
		if (entry[1] > place) break;
		// Kinds without records share their start with the next.
		if (stack.tables.get(entry[0])!.count > 0) found = entry;
	}
	return stack.tables.get(found[0])!.record(place - found[1]);
}

function linkOf(links: Links, strand: Strand, row: number): Link {
	const { table, field, kinds, text, required } = strand;
	const { stack } = links;
	const place = strand.to[row]!;
	const value = strand.values[row]!;
	let misfit: EffectiveRecord | null = null;
	if (place < 0 && !text)
		for (const other of stack.tables.values()) {
			if (other.kind === stack.guide.words?.kind) continue;
			const at = other.rows.byText.get(value);
			if (at !== undefined) misfit ??= other.record(at);
		}
	return {
		from: table.record(row),
		field,
		value: table.pool.at(value),
		kinds,
		to: place < 0 ? null : recordAt(links, place),
		misfit,
		text,
		required
	};
}

/** What a record names, its texts included. */
export function linksFrom(links: Links, record: EffectiveRecord): Link[] {
	return links.strands
		.filter(({ table, values }) => table.kind === record.kind && values[record.row]! >= 0)
		.map((strand) => linkOf(links, strand, record.row));
}

/** Who names a record; the first `most` of them. */
export function linksTo(links: Links, record: EffectiveRecord, most = Infinity): Link[] {
	const place = placeOf(links, record);
	const list: Link[] = [];
	for (let at = links.firsts[place]!; at < links.firsts[place + 1]! && list.length < most; at++)
		list.push(linkOf(links, links.strands[links.users[at * 2]!]!, links.users[at * 2 + 1]!));
	return list;
}

/** Every reference that names no record of a kind that fits, and every text that is not there. */
export function* looseLinks(links: Links): Generator<Link> {
	for (const strand of links.strands)
		for (let row = 0; row < strand.to.length; row++)
			if (strand.values[row]! >= 0 && strand.to[row]! < 0) yield linkOf(links, strand, row);
}
