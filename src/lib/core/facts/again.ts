// What a file says when it is read in another way, worked out from what it said before: only the names of its records and
// the parts that they are in are new.
import {
	formatFor,
	partOfValue,
	VALUE,
	wordsByField,
	type FormatId,
	type PartHints,
	type ReadHints
} from '../formats';
import { addTo } from '../gather';
import { copyFacts, type Facts, type FactsPart } from './facts';
import { placeIn } from './read';
import { chosenFacts, doublesIn } from './select';

/** Formats in which it is the shape alone that tells where records stand and whether they have names there. */
const BY_SHAPE: readonly FormatId[] = ['json', 'yaml'];
/** Formats in which the records are the lines below the names of the columns. */
const BY_LINE: readonly FormatId[] = ['csv', 'tsv'];

const isByShape = ({ format }: Facts): boolean => format !== null && BY_SHAPE.includes(format);
const isByLine = ({ format }: Facts): boolean => format !== null && BY_LINE.includes(format);

/** What of hints may be followed here; the facts do not tell what the others would change. */
const FOLLOWED = new Set([
	'parts',
	'whole',
	'key',
	'spare',
	'id',
	'prefix',
	'at',
	'except',
	'element',
	'where',
	'format',
	'layout'
]);

const isFollowed = (hints: object): boolean => Object.keys(hints).every((name) => FOLLOWED.has(name));

/** Whether a file that was read with nothing said of it is in the format that is said now. */
function isSameFormat(path: string, { format, told }: Facts, hints: ReadHints): boolean {
	if (told)
		return (
			hints.format === told.format ||
			(hints.layout !== undefined && JSON.stringify(hints.layout) === JSON.stringify(told.layout))
		);
	return (
		formatFor(path)?.id === format &&
		hints.layout === undefined &&
		(hints.format === undefined || hints.format === format)
	);
}

/** Records of a file that stand at one place, and how they were named there. */
interface Place {
	from: number;
	to: number;
	key: string | null;
	at: string | null | undefined;
	except?: readonly string[] | undefined;
	element?: string | undefined;
	/** What tells it from others that are at the same path. */
	name: string;
	/** Whether a name that is no field of theirs names them. */
	named: boolean;
	/** Whether it may be told anew what names them: elsewhere the format may say more of that than the facts. */
	free: boolean;
}

/** What tells a place from others at the same path; empty for most. */
const placeName = ({ except, element }: Pick<Place, 'except' | 'element'>): string =>
	except === undefined && element === undefined ? '' : JSON.stringify([except, element]);

function standing(facts: Facts, { first, key, at, except, element }: FactsPart, to: number): Place {
	const named = key === null && facts.written.subarray(first, to).includes(1);
	const name = placeName({ except, element });
	return { from: first, to, key, at, except, element, name, named, free: isByShape(facts) };
}

/** The places of a file as it was read. */
function placesIn(facts: Facts): Place[] {
	const { parts, count, key, at } = facts;
	if (!parts) return [standing(facts, { spec: 0, first: 0, key, at }, count)];
	return parts.map((part, nth) => standing(facts, part, parts[nth + 1]?.first ?? count));
}

/** How records are named: by a field, by another where they lack it, by what is said of the file, by their number. */
interface Naming {
	key: string | null;
	spare?: string | undefined;
	id?: string | undefined;
	prefix?: string | undefined;
}

/** The place that hints speak of; null where none of the known ones is it. */
function placeOf(places: readonly Place[], { at, except, element }: PartHints): Place | null {
	const name = placeName({ except, element });
	const fits = (place: Place) => place.name === name && (at === undefined || place.at === at);
	if (at === undefined && element === undefined && places.length > 1) return null;
	const found = places.filter(fits);
	return found.length === 1 ? found[0]! : null;
}

/** The number of each record among the parts of a place; `none` for those that are of none. */
function specsOf(
	facts: Facts,
	place: Place,
	specs: readonly [number, PartHints][],
	none: number
): Int32Array {
	const { pool, shapes, shape, firsts, values } = facts;
	const plain = specs.find(([, { where }]) => where === undefined)?.[0] ?? none;
	const found = new Int32Array(place.to - place.from).fill(plain);
	const left = new Uint8Array(found.length).fill(1);
	for (const [field, words] of wordsByField(specs)) {
		const path = pool.find(field);
		const places = shapes.map((paths) => placeIn(paths, path));
		const known = new Map<number, number>();
		for (let at = 0; at < found.length; at++) {
			const own = places[shape[place.from + at]!];
			if (left[at] === 0 || own === undefined) continue;
			const value = values[firsts[place.from + at]! + own]!;
			let spec = known.get(value);
			if (spec === undefined) {
				spec = partOfValue(words, pool.at(value)) ?? -1;
				known.set(value, spec);
			}
			if (spec < 0) continue;
			found[at] = spec;
			left[at] = 0;
		}
	}
	return found;
}

/** Gives the records of a part, which are those of `facts` from one number to another, the names that they have there. */
function name(facts: Facts, from: number, to: number, place: Place, naming: Naming): void {
	const { pool, shapes, shape, firsts, values, ids, written } = facts;
	const { key, spare, id, prefix = '' } = naming;
	const isKept = place.named || key === place.key;
	const placesFor = (field: string | null | undefined) => {
		const path = field ? pool.find(field) : -1;
		return path < 0 ? [] : shapes.map((paths) => placeIn(paths, path));
	};
	// Without a key nothing stands in for it.
	const [own, other] = place.named || key === null ? [[], []] : [placesFor(key), placesFor(spare)];
	for (let nth = from; nth < to; nth++) {
		if (isKept && written[nth] === 1) continue;
		const at = own[shape[nth]!] ?? other[shape[nth]!];
		const value = at === undefined ? 0 : values[firsts[nth]! + at]!;
		written[nth] = value === 0 ? 0 : 1;
		ids[nth] = value !== 0 ? value : pool.of((place.at === null && id) || `${prefix}#${nth - from + 1}`);
	}
}

/** Records that are one part of the file. */
interface Part {
	spec: number;
	place: Place;
	rows: Int32Array;
	naming: Naming;
}

/** The naming of a place's records before parts say more; undefined where it would make other records of them. */
function namingOf(place: Place, { key, spare, id, prefix }: PartHints): Naming | undefined {
	const isNew = key !== undefined && key !== place.key;
	// A single one may be under a name that is empty, and of none it does not show what names them.
	const isClear = place.free && (place.key !== null || place.at === null || place.to - place.from > 1);
	if (isNew && !isClear) return undefined;
	if (key === VALUE || spare === VALUE || (place.named && key !== undefined)) return undefined;
	return { key: place.named ? null : (key ?? place.key), spare, id, prefix };
}

/** Whether the records of a place can be told from those of others by the facts, and are called the same there. */
const mayMove = ({ written }: Facts, { free, element, from, to }: Place): boolean =>
	free || (element !== undefined && !written.subarray(from, to).includes(0));

/** The parts of the file by what is said now; null where the facts do not tell them. */
function partsOf(facts: Facts, places: readonly Place[], specs: readonly PartHints[]): Part[] | null {
	const byPlace = new Map<string, [number, PartHints][]>();
	// Not said, or said to be the whole file: one place.
	specs.forEach((spec, nth) => {
		const { at } = spec;
		addTo(byPlace, `${typeof at === 'string' ? `=${at}` : ''}\n${placeName(spec)}`, [nth, spec]);
	});
	const parts: Part[] = [];
	const rest: Part[] = [];
	for (const here of byPlace.values()) {
		const first = here[0]![1];
		const place = placeOf(places, first);
		const common = place && namingOf(place, first);
		if (!place || !common || !mayMove(facts, place)) return null;
		const numbers = specsOf(facts, place, here, specs.length);
		const rows = new Map<number, number[]>();
		numbers.forEach((spec, at) => addTo(rows, spec, place.from + at));
		const add = (spec: number, said: PartHints, to: Part[]): boolean => {
			const own = namingOf(place, said);
			if (!own) return false;
			const naming = {
				key: place.named || said.key === undefined ? common.key : own.key,
				spare: said.spare,
				id: said.id ?? common.id,
				prefix: said.prefix ?? common.prefix
			};
			to.push({ spec, place, rows: Int32Array.from(rows.get(spec) ?? []), naming });
			return true;
		};
		for (const [spec, said] of here)
			if ((rows.has(spec) || here.length === 1) && !add(spec, said, parts)) return null;
		if (rows.has(specs.length) && !add(specs.length, {}, rest)) return null;
	}
	parts.sort((a, b) => a.spec - b.spec);
	return [...parts, ...rest];
}

function inParts(facts: Facts, places: readonly Place[], hints: ReadHints): Facts | null {
	const parts = partsOf(facts, places, hints.parts!);
	if (!parts) return null;
	const [said] = hints.parts!;
	const outer = placeOf(places, said!)!;
	const rows = new Int32Array(parts.reduce((sum, part) => sum + part.rows.length, 0));
	let first = 0;
	const found = parts.map((part): FactsPart => {
		const { spec, place, naming } = part;
		const { at, except, element } = place;
		rows.set(part.rows, first);
		first += part.rows.length;
		return {
			spec,
			first: first - part.rows.length,
			key: naming.key,
			at,
			...(except === undefined ? {} : { except }),
			...(element === undefined ? {} : { element })
		};
	});
	const chosen = chosenFacts(facts, rows);
	const doubles: number[] = [];
	parts.forEach(({ place, naming }, nth) => {
		const [from, to] = [found[nth]!.first, found[nth + 1]?.first ?? rows.length];
		name(chosen, from, to, place, naming);
		for (const at of doublesIn(chosen.ids.subarray(from, to))) doubles.push(from + at);
	});
	const { key } = namingOf(outer, said!)!;
	chosen.key = key;
	chosen.at = outer.at;
	chosen.parts = found;
	chosen.doubles = Int32Array.from(doubles);
	return chosen;
}

/** The facts with the records of one place, all of one kind. */
function inWhole(facts: Facts, places: readonly Place[], hints: ReadHints): Facts | null {
	const place = placeOf(places, hints);
	const naming = place && namingOf(place, hints);
	if (!place || !naming) return null;
	const { key } = naming;
	const whole = copyFacts(facts, facts.pool);
	whole.parts = undefined;
	const isAsItWas = key === place.key && !facts.written.subarray(place.from, place.to).includes(0);
	if (places.length === 1 && isAsItWas && (place.free || isByLine(facts))) return whole;
	if (!mayMove(facts, place)) return null;
	const rows = Int32Array.from({ length: place.to - place.from }, (_, nth) => place.from + nth);
	const chosen = chosenFacts(whole, rows);
	name(chosen, 0, rows.length, place, naming);
	chosen.key = key;
	chosen.at = place.at;
	chosen.doubles = doublesIn(chosen.ids);
	return chosen;
}

/** Hints that say no more than that all in a file is of one kind. */
const ONE_KIND = ['whole', 'format', 'layout'];

/**
 * The facts of a file that was read with nothing said of it, as they are when it is read by hints; null where that is not
 * certain without reading it again. The result shares arrays with what it is made from.
 */
export function factsAgain(path: string, facts: Facts, hints: ReadHints): Facts | null {
	const { format, problems, habits, parts } = facts;
	if (format === null || problems.length > 0) return null;
	// Which record is the first with a fault depends on the order in which they are read.
	if (habits.some(([habit]) => habit === 'same name')) return null;
	if (!isFollowed(hints) || !isSameFormat(path, facts, hints)) return null;
	if (!hints.parts?.every(isFollowed) && hints.whole !== true) return null;
	const said = copyFacts(facts, facts.pool);
	said.told = undefined;
	const isOne = hints.whole === true && Object.keys(hints).every((name) => ONE_KIND.includes(name));
	if (isOne && !parts) return said;
	const places = placesIn(facts);
	return hints.parts ? inParts(said, places, hints) : inWhole(said, places, hints);
}

/** Whether other hints read a file as before: all they add is that its records stand where they were found. */
export function readsAlike({ at, parts, problems }: Facts, was: ReadHints, hints: ReadHints): boolean {
	if (was.at !== undefined || at === undefined || hints.at !== at || hints.whole !== true || parts)
		return false;
	if (problems.length > 0) return false;
	return JSON.stringify({ ...hints, at: undefined }) === JSON.stringify({ ...was, at: undefined });
}
