// What tells the records of one list apart: a field with few values that predicts which other fields are there. Of all
// fields that may, the one under which the records are described in the fewest bits (minimum description length,
// Rissanen 1978): for each of its values, which fields its records have, and how often.
import { placeIn, selectFacts, type Facts } from '../facts';
import { formatOf, type Where } from '../formats';
import type { DataFile } from './group';
import { topsAt } from './sketch';

/** Files that are looked at in one step, and records. */
const [STEP, RECORDS] = [50, 2000];

/** Says of one file after the other whether it is time for a breath. */
function pace(): (file: DataFile) => boolean {
	let [files, records] = [0, 0];
	return ({ facts }) => {
		files++;
		records += facts.count;
		if (files < STEP && records < RECORDS) return false;
		[files, records] = [0, 0];
		return true;
	};
}
/** Values of a field that may tell kinds apart, at most. */
const MOST_KINDS = 2000;
/** Records that a kind has on average, at least. */
const FEWEST = 3;
/** Share of the bits that may be left when the field is known. */
const SHORTER = 0.5;
/**
 * Records from which on a file shows by itself whether a field tells its records apart, and the share of the bits, without
 * those of the model, that is left where it does.
 */
const [LARGE, LEFT] = [30, 0.9];
/** How alike the names in the records of two of the kinds are on average, at most. */
const UNLIKE = 0.6;
/** Pairs of kinds that are compared for that. */
const PAIRS = 200;

/** A beginning with a mark behind it: `TOOL.` of `TOOL.PLAIN_HAMMER`. */
const BEGINNING = /^([\p{L}_][\p{L}\p{N}_-]*[.:/|])\S/u;

/** Something that may tell records apart: a field, or how its values begin. */
interface Teller {
	field: string;
	begins: boolean;
}

/** Records that a teller distinguishes. */
interface Told extends Teller {
	/** Of each file, the word of each of its records. */
	files: { file: DataFile; words: string[] }[];
	records: number;
	/** Records of each word, and in how many of them each name stands. */
	byWord: Map<string, Tally>;
	/** Share of the bits that is left; the less, the better it tells. */
	left: number;
}

interface Tally {
	count: number;
	names: Map<string, number>;
}

/** Files with the records of one word. */
export interface Split {
	/** What the kind is called by the data. */
	word: string;
	where: Where;
	files: DataFile[];
	/** All files that were distinguished together. */
	among: readonly DataFile[];
	because: string;
}

const knownTops = new WeakMap<Facts, ReadonlySet<string>[]>();

/** The names that are at the top of the records of each shape. */
function topsOf(facts: Facts): ReadonlySet<string>[] {
	let tops = knownTops.get(facts);
	if (!tops) knownTops.set(facts, (tops = facts.shapes.map((paths) => topsAt(facts.pool, paths))));
	return tops;
}

/** The words of all records of a file; null where one has none. */
function wordsIn({ facts }: DataFile, { field, begins }: Teller): string[] | null {
	const { pool } = facts;
	const path = pool.find(field);
	const places = facts.shapes.map((paths) => placeIn(paths, path));
	const words: string[] = [];
	for (let nth = 0; nth < facts.count; nth++) {
		const place = places[facts.shape[nth]!];
		const cell = place === undefined ? -1 : facts.firsts[nth]! + place;
		if (cell < 0 || facts.values[cell] === 0 || facts.types[cell] !== 0) return null;
		const value = pool.at(facts.values[cell]!);
		const word = begins ? BEGINNING.exec(value)?.[1] : value;
		if (word === undefined || word.length > 80) return null;
		words.push(word);
	}
	return words;
}

/** Adds so many records that all have these names. */
function add(tally: Tally, names: Iterable<string>, times: number, but: string): void {
	tally.count += times;
	for (const name of names) if (name !== but) tally.names.set(name, (tally.names.get(name) ?? 0) + times);
}

const emptyTally = (): Tally => ({ count: 0, names: new Map() });

type ShapesByWord = ReadonlyMap<string, ReadonlyMap<number, number>>;

/** How many records of a file have each word and shape: there are far fewer of these than records. */
function shapesByWord({ shape }: Facts, words: string[]): ShapesByWord {
	const found = new Map<string, Map<number, number>>();
	words.forEach((word, nth) => {
		let own = found.get(word);
		if (!own) found.set(word, (own = new Map()));
		own.set(shape[nth]!, (own.get(shape[nth]!) ?? 0) + 1);
	});
	return found;
}

const entropy = (share: number): number =>
	share <= 0 || share >= 1 ? 0 : -share * Math.log2(share) - (1 - share) * Math.log2(1 - share);

/** Bits in which it is said which names each record of a tally has: the model, and the records under it. */
function lengthOf({ count, names }: Tally): number {
	let length = 0;
	for (const hits of names.values()) length += count * entropy(hits / count) + Math.log2(count + 1) / 2 + 1;
	return length;
}

/** The bits of the records alone. */
const bitsOf = ({ count, names }: Tally): number => {
	let bits = 0;
	for (const hits of names.values()) bits += count * entropy(hits / count);
	return bits;
};

/**
 * Whether a large file shows that words do not tell its records apart: that these are in no other file says nothing of
 * what else they have.
 */
function isOneKind({ count }: Facts, tops: readonly ReadonlySet<string>[], shapes: ShapesByWord): boolean {
	if (count < LARGE) return false;
	const all = emptyTally();
	let [several, bits] = [0, 0];
	for (const own of shapes.values()) {
		const tally = emptyTally();
		for (const [shape, times] of own) {
			add(tally, tops[shape]!, times, '');
			add(all, tops[shape]!, times, '');
		}
		if (tally.count >= FEWEST) several++;
		bits += bitsOf(tally);
	}
	return several >= 2 && bits >= bitsOf(all) * LEFT;
}

/** How alike the names of the words' records are, on average over some pairs. */
function likeness(byWord: ReadonlyMap<string, Tally>, field: string): number {
	const sets = [...byWord.values()]
		.sort((a, b) => b.count - a.count)
		.slice(0, 40)
		.map(
			({ count, names }) =>
				new Set(
					[...names].filter(([name, hits]) => name !== field && hits >= count / 2).map(([name]) => name)
				)
		);
	let [sum, pairs] = [0, 0];
	for (let a = 0; a < sets.length; a++)
		for (let b = a + 1; b < sets.length && pairs < PAIRS; b++) {
			const both = [...sets[a]!].filter((name) => sets[b]!.has(name)).length;
			const either = sets[a]!.size + sets[b]!.size - both;
			sum += either === 0 ? 1 : both / either;
			pairs++;
		}
	return pairs === 0 ? 1 : sum / pairs;
}

/** Whether the words of a field tell something of a file's records, by the field: the same each time it is looked at. */
const tellsOf = new WeakMap<Facts, Map<string, boolean>>();

/** The words of a file's records, and how many have each word and shape; null where they do not tell them apart. */
function toldIn(file: DataFile, teller: Teller): { words: string[]; shapes: ShapesByWord } | null {
	const { facts } = file;
	let known = tellsOf.get(facts);
	if (!known) tellsOf.set(facts, (known = new Map()));
	const name = `${teller.begins} ${teller.field}`;
	if (known.get(name) === false) return null;
	const words = wordsIn(file, teller);
	const shapes = words && shapesByWord(facts, words);
	const tells = shapes !== null && (known.get(name) === true || !isOneKind(facts, topsOf(facts), shapes));
	known.set(name, tells);
	return words && shapes && tells ? { words, shapes } : null;
}

/** Tries a teller on files; null where it does not tell their records apart. */
function* tried(files: readonly DataFile[], teller: Teller): Generator<void, Told | null> {
	const byWord = new Map<string, Tally>();
	const all = emptyTally();
	const told: Told['files'] = [];
	const isTime = pace();
	for (const file of files) {
		if (isTime(file)) yield;
		const own = toldIn(file, teller);
		if (!own) continue;
		const { words, shapes } = own;
		const tops = topsOf(file.facts);
		told.push({ file, words });
		for (const [word, counts] of shapes) {
			let ofWord = byWord.get(word);
			if (!ofWord) byWord.set(word, (ofWord = emptyTally()));
			for (const [shape, times] of counts) {
				add(ofWord, tops[shape]!, times, teller.field);
				add(all, tops[shape]!, times, teller.field);
			}
		}
		if (byWord.size > MOST_KINDS) return null;
	}
	if (byWord.size < 2 || all.count < byWord.size * FEWEST) return null;
	let length = 0;
	for (const tally of byWord.values()) length += lengthOf(tally);
	const left = length / lengthOf(all);
	if (left > SHORTER || likeness(byWord, teller.field) > UNLIKE) return null;
	return { ...teller, files: told, records: all.count, byWord, left };
}

/** Whether the fields of a file's records are of types, and may be left out. */
const isLoose = ({ facts }: DataFile): boolean =>
	facts.format !== null && facts.count > 0 && formatOf(facts.format)?.traits.untyped !== true;

const ofAll = new WeakMap<Facts, [string, number][]>();

/** The fields in which every record of a file has a text, each with the first one. Found once for the same file. */
function textsOfAll(facts: Facts): [string, number][] {
	let known = ofAll.get(facts);
	if (!known) ofAll.set(facts, (known = textsIn(facts)));
	return known;
}

function textsIn({ pool, shapes, shape, firsts, values, types, count }: Facts): [string, number][] {
	const [first, ...others] = shapes;
	if (!first) return [];
	const found: [string, number][] = [];
	const isFull = (places: readonly number[]): boolean => {
		for (let nth = 0; nth < count; nth++) {
			const cell = firsts[nth]! + places[shape[nth]!]!;
			if (values[cell] === 0 || types[cell] !== 0) return false;
		}
		return true;
	};
	for (const text of new Set(first)) {
		const path = pool.at(text);
		if (path.includes('.') || path.includes('[')) continue;
		const places = [placeIn(first, text)!];
		const isInAll = others.every((own) => {
			const place = placeIn(own, text);
			return place !== undefined && places.push(place) > 0;
		});
		if (isInAll && isFull(places)) found.push([path, values[firsts[0]! + places[shape[0]!]!]!]);
	}
	return found;
}

/** Fields of single values that all records of some file have, with in how many files they stand so; the most first. */
function* tellersIn(files: readonly DataFile[]): Generator<void, Teller[]> {
	const found = new Map<string, { files: number; begins: boolean }>();
	const isTime = pace();
	for (const file of files) {
		const { facts } = file;
		if (isTime(file)) yield;
		for (const [path, value] of textsOfAll(facts)) {
			const known = found.get(path) ?? { files: 0, begins: false };
			known.files++;
			known.begins ||= BEGINNING.test(facts.pool.at(value));
			found.set(path, known);
		}
	}
	return [...found]
		.sort(([, a], [, b]) => b.files - a.files)
		.slice(0, 12)
		.flatMap(([field, { begins }]) => [
			{ field, begins: false },
			...(begins ? [{ field, begins: true }] : [])
		]);
}

/** The teller that tells most of some files apart, and best; null where none does. */
function* bestTeller(files: readonly DataFile[]): Generator<void, Told | null> {
	let best: Told | null = null;
	for (const teller of yield* tellersIn(files)) {
		const told = yield* tried(files, teller);
		yield;
		if (!told) continue;
		const better = !best || told.records * (1 - told.left) > best.records * (1 - best.left);
		if (better) best = told;
	}
	return best;
}

function* cut({ field, begins, files, byWord }: Told): Generator<void, Split[]> {
	const among = files.map(({ file }) => file);
	const isTime = pace();
	const byFile: { file: DataFile; rows: Map<string, number[]> }[] = [];
	for (const { file, words } of files) {
		if (isTime(file)) yield;
		const rows = new Map<string, number[]>();
		words.forEach((word, nth) => {
			const list = rows.get(word);
			if (list) list.push(nth);
			else rows.set(word, [nth]);
		});
		byFile.push({ file, rows });
	}
	const splits: Split[] = [];
	for (const word of byWord.keys()) {
		splits.push({
			word: begins ? word.slice(0, -1) : word,
			where: { field, is: [word], ...(begins ? { begins } : {}) },
			files: byFile.flatMap(({ file, rows }): DataFile[] => {
				const own = rows.get(word);
				return own ? [{ ...file, facts: selectFacts(file.facts, Int32Array.from(own)) }] : [];
			}),
			among,
			because: begins
				? `their ${field} begins with “${word}”, which says what else they have`
				: `their ${field} is “${word}”, which says what else they have`
		});
		yield;
	}
	return splits;
}

/** Files whose records a field distinguishes, cut by it; and the others. In steps. */
export function* splitsIn(
	files: readonly DataFile[]
): Generator<void, { splits: Split[]; left: DataFile[] }> {
	const byFormat = new Map<string, DataFile[]>();
	for (const file of files.filter(isLoose)) {
		const list = byFormat.get(file.facts.format!);
		if (list) list.push(file);
		else byFormat.set(file.facts.format!, [file]);
	}
	const splits: Split[] = [];
	const done = new Set<DataFile>();
	for (let list of byFormat.values())
		for (;;) {
			const told = yield* bestTeller(list);
			if (!told) break;
			splits.push(...(yield* cut(told)));
			for (const { file } of told.files) done.add(file);
			list = list.filter((file) => !done.has(file));
		}
	return { splits, left: files.filter((file) => !done.has(file)) };
}
