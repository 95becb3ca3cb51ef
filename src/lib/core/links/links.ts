import { ID } from '../guide';
import type { EffectiveRecord, Stack } from '../stack';
import { entriesOf, resolver, rowAt, strandsOf, type Strand } from './strands';

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
	/** How sure it is that this is a reference at all, from 0 to 1. */
	sure: number;
}

/** The graph of references, in numbers. A place is a record's number over all tables: the table's first, plus the row. */
export interface Links {
	stack: Stack;
	/** First place of each kind. */
	starts: Map<string, number>;
	places: number;
	strands: Strand[];
	/** Who names each place: pairs of strand and entry of it, from `firsts[place]` on, two numbers each. */
	firsts: Int32Array;
	users: Int32Array;
	/** How many records name each place by a field (texts are not counted). */
	uses: Int32Array;
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
			const resolve = resolver(stack, strand, starts);
			const to = strand.values.map((value, entry) => (value < 0 ? -1 : resolve(value, entry)));
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
		for (let entry = 0; entry < strand.to.length; entry++) {
			const place = strand.to[entry]!;
			if (place < 0) continue;
			const at = next[place]!++ * 2;
			users[at] = number;
			users[at + 1] = entry;
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

function linkOf(links: Links, strand: Strand, entry: number): Link {
	const { table, field, text, required } = strand;
	const { stack } = links;
	const place = strand.to[entry]!;
	const value = strand.values[entry]!;
	const meant = strand.meant?.[entry];
	const kinds = meant ? [meant] : strand.kinds;
	let misfit: EffectiveRecord | null = null;
	if (place < 0 && !text)
		for (const other of stack.tables.values()) {
			if (other.kind === stack.guide.words?.kind || (field === ID && other.kind === table.kind)) continue;
			const at = other.rows.byText.get(value);
			if (at !== undefined) misfit ??= other.record(at);
		}
	return {
		from: table.record(rowAt(strand, entry)),
		field,
		value: table.pool.at(value),
		kinds,
		to: place < 0 ? null : recordAt(links, place),
		misfit,
		text,
		required,
		sure: strand.sure
	};
}

/** What a record names, its texts included. */
export function linksFrom(links: Links, record: EffectiveRecord): Link[] {
	return links.strands
		.filter(({ table }) => table.kind === record.kind)
		.flatMap((strand) => entriesOf(strand, record.row).map((entry) => linkOf(links, strand, entry)));
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
		for (let entry = 0; entry < strand.to.length; entry++)
			if (strand.values[entry]! >= 0 && strand.to[entry]! < 0) yield linkOf(links, strand, entry);
}
