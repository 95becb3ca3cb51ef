import { inOneGo } from '../gather';
import { ID } from '../guide';
import type { EffectiveRecord, Stack } from '../stack';
import { entriesOf, resolved, rowAt, strandsOf, type Places, type Strand } from './strands';

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

/** Who names each place: pairs of strand and entry of it, from `firsts[place]` on, two numbers each. */
export interface Users {
	firsts: Int32Array;
	pairs: Int32Array;
	/** How many records name each place by a field (texts are not counted). */
	uses: Int32Array;
}

/**
 * The graph of references, in numbers. A place is a record's number over all tables: the table's first, plus the row.
 * Behind each table some places stay free, so that a record more moves no other.
 */
export interface Links {
	stack: Stack;
	/** First place of each kind, how many it has room for, and the number of all places. */
	starts: Map<string, number>;
	rooms: Map<string, number>;
	places: number;
	strands: Strand[];
	/** Made when it is first asked for. */
	readonly users: Users;
	/** Whether it is there already. */
	readonly counted: boolean;
}

/** Free places behind a table: some, and a few in a hundred. */
const roomFor = (count: number) => count + 64 + (count >> 3);

function placesFor(stack: Stack, older: Links | undefined): Places {
	const kinds = [...stack.tables];
	const fits =
		older?.starts.size === kinds.length &&
		kinds.every(([kind, table]) => table.count <= (older.rooms.get(kind) ?? -1));
	if (fits) return { starts: older.starts, rooms: older.rooms, count: older.places };
	const [starts, rooms] = [new Map<string, number>(), new Map<string, number>()];
	let count = 0;
	for (const [kind, table] of kinds) {
		starts.set(kind, count);
		rooms.set(kind, roomFor(table.count));
		count += rooms.get(kind)!;
	}
	return { starts, rooms, count };
}

function usersOf(strands: readonly Strand[], places: number): Users {
	const firsts = new Int32Array(places + 1);
	const uses = new Int32Array(places);
	for (const { to, text } of strands)
		for (const place of to)
			if (place >= 0) {
				firsts[place + 1]!++;
				if (!text) uses[place]!++;
			}
	for (let place = 0; place < places; place++) firsts[place + 1]! += firsts[place]!;
	const next = firsts.slice();
	const pairs = new Int32Array(firsts[places]! * 2);
	strands.forEach(({ to }, number) => {
		for (let entry = 0; entry < to.length; entry++) {
			const place = to[entry]!;
			if (place < 0) continue;
			const at = next[place]!++ * 2;
			pairs[at] = number;
			pairs[at + 1] = entry;
		}
	});
	return { firsts, pairs, uses };
}

/**
 * Follows every reference of every record, in steps, between which others may go first.
 * @param older links of an earlier state, of which that is kept which still holds
 */
export function* linkSteps(stack: Stack, older?: Links): Generator<void, Links> {
	const known = older?.stack.pool === stack.pool ? older : undefined;
	const places = placesFor(stack, known);
	const before = new Map(
		known?.strands.map((strand) => [`${strand.table.kind} ${strand.text} ${strand.field}`, strand])
	);
	const strands: Strand[] = [];
	for (const table of stack.tables.values())
		for (const strand of strandsOf(stack.guide, table)) {
			yield;
			if (!strand) continue;
			strands.push(
				resolved(stack, strand, places, before.get(`${table.kind} ${strand.text} ${strand.field}`))
			);
			yield;
		}
	let users: Users | null = null;
	return {
		stack,
		starts: places.starts,
		rooms: places.rooms,
		places: places.count,
		strands,
		get users() {
			return (users ??= usersOf(strands, places.count));
		},
		get counted() {
			return users !== null;
		}
	};
}

/** The same, in one go. */
export const buildLinks = (stack: Stack, older?: Links): Links => inOneGo(linkSteps(stack, older));

/** The place of a record. */
export const placeOf = ({ starts }: Links, { kind, row }: EffectiveRecord): number => starts.get(kind)! + row;

/** The record at a place. */
export function recordAt({ stack, starts }: Links, place: number): EffectiveRecord {
	let found: [string, number] = ['', 0];
	for (const entry of starts) {
		if (entry[1] > place) break;
		found = entry;
	}
	return stack.tables.get(found[0])!.record(place - found[1]);
}

/** How many name a record: fields, and with `texts` also the texts that are kept under it. */
export function usesOf(links: Links, record: EffectiveRecord, texts = false): number {
	const place = placeOf(links, record);
	if (!links.counted) return [...namersOf(links, place)].filter(([strand]) => texts || !strand.text).length;
	const { firsts, uses } = links.users;
	return texts ? firsts[place + 1]! - firsts[place]! : uses[place]!;
}

/** Strands and entries that name a place. For a single one the strands are looked through, which is soon done. */
function* namersOf(links: Links, place: number): Generator<[Strand, number]> {
	if (links.counted) {
		const { firsts, pairs } = links.users;
		for (let at = firsts[place]!; at < firsts[place + 1]!; at++)
			yield [links.strands[pairs[at * 2]!]!, pairs[at * 2 + 1]!];
		return;
	}
	for (const strand of links.strands) {
		if (!strand.targets.some(({ start, room }) => place >= start && place < start + room)) continue;
		for (let entry = strand.to.indexOf(place); entry >= 0; entry = strand.to.indexOf(place, entry + 1))
			yield [strand, entry];
	}
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
	const list: Link[] = [];
	for (const [strand, entry] of namersOf(links, placeOf(links, record))) {
		if (list.length >= most) break;
		list.push(linkOf(links, strand, entry));
	}
	return list;
}

/** Every reference that names no record of a kind that fits, and every text that is not there. */
export function* looseLinks(links: Links): Generator<Link> {
	for (const strand of links.strands) for (const entry of strand.loose) yield linkOf(links, strand, entry);
}
