// Which field names the records of a kind: one that every record has and no two share, that looks like a name, and that
// the rest of the game writes.
import { placeIn, type Facts } from '../facts';
import { isItemUnder } from '../guide';
import type { DataFile } from './group';
import { wordsOf } from './likeness';
import { fileNameOf, folderOf, stemOf } from './paths';
import { columnsOf } from './refine';
import { patternAt, sketchOf, type Column, type Sketch } from './sketch';
import { isKept } from './together';

/** Share of the records that must have a value of their own, where there are many. */
const UNIQUE = 0.98;
/** Records from which on a few of them may share one. */
const MANY = 50;

/** How often other columns write each text; made for all files at once. */
export type Written = (text: number) => number;

const NAMES = new Map([
	['id', 10],
	['key', 5],
	['uid', 5],
	['guid', 5],
	['ident', 5],
	['identifier', 5],
	['code', 3],
	['name', 3],
	['tag', 2],
	['slug', 4],
	['index', 2],
	['nr', 2],
	['no', 2],
	['number', 2]
]);
/** From which number on a name is that of an id. */
const CALLED_ID = 4;

/** In how many columns of the files each text stands. */
export function* writtenIn(files: readonly DataFile[]): Generator<void, Written> {
	const size = files[0]?.facts.pool.size ?? 0;
	const counts = new Int32Array(size);
	const patterns = new Map<string, number>();
	const seen = new Set<number>();
	for (const [nth, { facts }] of files.entries()) {
		if (nth % 50 === 49) yield;
		// In a single record each cell is a column.
		if (facts.count === 1)
			for (let cell = facts.firsts[0]!; cell < facts.firsts[1]!; cell++) counts[facts.values[cell]!]!++;
		else if (isKept(facts))
			for (const { values } of sketchOf(facts).columns.values()) for (const value of values) counts[value]!++;
		else {
			seen.clear();
			eachCell(facts, patterns, (column, value) => {
				const both = column * size + value;
				if (value === 0 || seen.has(both)) return;
				seen.add(both);
				counts[value]!++;
			});
		}
	}
	return (text) => counts[text] ?? 0;
}

/** Calls `each` with the number of the column and the text of every cell. @param patterns numbers of columns, by pattern */
function eachCell(
	{ pool, count, shapes, shape, firsts, values }: Facts,
	patterns: Map<string, number>,
	each: (column: number, value: number) => void
): void {
	const numberOf = (path: number): number => {
		const pattern = patternAt(pool, path);
		let number = patterns.get(pattern);
		if (number === undefined) patterns.set(pattern, (number = patterns.size));
		return number;
	};
	const columns = shapes.map((paths) => paths.map(numberOf));
	for (let nth = 0; nth < count; nth++) {
		const own = columns[shape[nth]!];
		const first = firsts[nth]!;
		if (own) for (let at = 0; at < own.length; at++) each(own[at]!, values[first + at]!);
	}
}

/** Whether a field says by its name alone that it is the id: of a record without others, nothing else does. */
const isCalledId = (path: string) => (NAMES.get(path.toLowerCase()) ?? 0) >= CALLED_ID;

const isUnique = ({ values, filled, cells }: Column, count: number): boolean =>
	filled === count && cells === count && values.length >= (count < MANY ? count : count * UNIQUE);

/** Share of the rows of a table that may stand between others, to part them, and of their columns that say something. */
const [BETWEEN, LITTLE] = [0.05, 0.4];

/** Whether all rows of a table have a value of their own in a column but for a few that say next to nothing. */
function isUniqueAside(files: readonly DataFile[], { path, values, filled }: Column, count: number): boolean {
	const missing = count - filled;
	if (missing === 0 || missing > Math.max(1, count * BETWEEN) || values.length < filled) return false;
	return files.every(({ facts }) => {
		const { pool, shapes, shape, firsts, values: texts } = facts;
		const text = pool.find(path);
		const places = shapes.map((paths) => placeIn(paths, text));
		for (let nth = 0; nth < facts.count; nth++) {
			const place = places[shape[nth]!];
			// A field that a record does not have is another thing than an empty cell of a table.
			if (place === undefined) return false;
			if (texts[firsts[nth]! + place]! > 0) continue;
			const cells = texts.subarray(firsts[nth]!, firsts[nth + 1]!);
			if (cells.filter((cell) => cell > 0).length > cells.length * LITTLE) return false;
		}
		return true;
	});
}

/** What a field adds that is called as what the file is of: `crab` in `crabs.txt`. */
const OWN_WORD = 4;

/** The words for what files hold: of the place in them, of their name and of their folder. */
function ownWords([first]: readonly DataFile[]): ReadonlySet<string> {
	const { path, facts } = first!;
	const place = facts.at?.split('.').at(-1) ?? '';
	return new Set(
		[place, stemOf(path), fileNameOf(folderOf(path))].flatMap((name) => wordsOf(name).at(-1) ?? [])
	);
}

/** How much a column looks like the one of the names, with what other columns write of it. */
function scoreOf(
	column: Column,
	at: number,
	sketch: Sketch,
	files: readonly DataFile[],
	written: Written
): number {
	const { pool } = files[0]!.facts;
	const words = wordsOf(column.path);
	const said = words.length === 1 ? (NAMES.get(words[0]!) ?? 0) : (NAMES.get(words.at(-1)!) ?? 0) / 2;
	const name = said === 0 && words.length === 1 && ownWords(files).has(words[0]!) ? OWN_WORD : said;
	const sample = column.values.length <= 200 ? column.values : column.values.subarray(0, 200);
	let [plain, whole, mentions] = [0, 0, 0];
	for (const value of sample) {
		const text = pool.at(value);
		const number = pool.number(value);
		if (Number.isNaN(number) && /^[\w.:/-]+$/.test(text)) plain++;
		if (Number.isInteger(number) && number >= 0) whole++;
		// Its own column is one of those in which a text stands.
		if (written(value) > 1) mentions++;
	}
	const share = (count: number) => count / sample.length;
	const form = share(plain) * 3 + share(whole) * 0.5 - (share(plain) + share(whole) < 0.5 ? 1 : 0);
	const numbers = column.types[1] > 0 && share(whole) < 1 ? -6 : 0;
	return (
		name + form + numbers + (share(whole) < 0.5 ? share(mentions) * 3 : share(mentions)) - Math.min(2, at / 4)
	);
}

/** Columns that are looked at in one step. */
const STEP = 50;

/** All columns that could name the records, the likeliest first. In steps. */
export function* keysOf(files: readonly DataFile[], written: Written): Generator<void, string[]> {
	const sketch = columnsOf(files);
	yield;
	const found: { path: string; score: number }[] = [];
	let at = 0;
	let looked = 0;
	for (const column of sketch.columns.values()) {
		if (++looked % STEP === 0) yield;
		// A place of a tuple may name a record, any item of a list cannot.
		if (column.path.includes('[]')) continue;
		const isKey = isUnique(column, sketch.count) || isUniqueAside(files, column, sketch.count);
		if (isKey && (sketch.count > 1 || isCalledId(column.path)))
			found.push({ path: column.path, score: scoreOf(column, at, sketch, files, written) });
		at++;
	}
	return found.sort((a, b) => b.score - a.score).map(({ path }) => path);
}

/** More than any pool holds: the numbers of two texts make one. */
const MOST_TEXTS = 2 ** 26;
/** Columns that are tried together. */
const TRIED = 6;
/**
 * Records from which on a key that comes again is looked at, and the share of them that it tells apart at most: a few
 * that come again are mistakes, or stand for each other.
 */
const [SEVERAL, REPEATS] = [6, 0.9];
/** How many records would have the same values, were these drawn by chance: fewer, and that none has them says nothing. */
const BY_CHANCE = 3;

/** All ways to take some of a list, the first ones first. */
const pairsOf = <T>(list: readonly T[]): [T, T][] =>
	list
		.flatMap((one, a) =>
			list.slice(a + 1).map((other, b) => ({ pair: [one, other] as [T, T], at: 2 * a + b }))
		)
		.sort((a, b) => a.at - b.at)
		.map(({ pair }) => pair);

/** Fields that name records together, and whether only among those of one file. */
export interface KeyParts {
	parts: string[];
	within: boolean;
}

/**
 * The fields that name the records of a table together, where the one that was taken for their key comes again and again:
 * one that names them within their file, or two that no two records share, which is no chance. Null where one names them
 * well enough, no parts where nothing does.
 */
export function keyPartsOf(files: readonly DataFile[]): KeyParts | null {
	const { count, columns } = columnsOf(files);
	const key = files[0]!.facts.keyParts ? null : files[0]!.facts.key;
	const main = key === null ? undefined : columns.get(key);
	if (count < SEVERAL || (key !== null && (main?.values.length ?? count) > count * REPEATS)) return null;
	if (key === null && files[0]!.facts.written[0] === 1) return null;
	const tried = [...columns.values()]
		.filter(({ path, cells, filled, values }) => {
			if (/[.[*]/.test(path) || cells !== count || filled !== count || values.length < 2) return false;
			return !values.some((value) => !Number.isInteger(files[0]!.facts.pool.number(value) || 0));
		})
		.slice(0, TRIED);
	const several = files.length > 1;
	const within = several && key !== null && count > files.length * 2 && areUnique(files, key, null);
	if (within) return isSaidAgain(files, key) ? null : { parts: [key], within };
	for (const [one, other] of pairsOf(tried)) {
		const expected = (count * count) / (2 * one.values.length * other.values.length);
		if (expected < BY_CHANCE || one.values.length * other.values.length < count) continue;
		if (areUnique(files, one.path, other.path)) return { parts: [one.path, other.path], within: false };
	}
	return key === null ? null : { parts: [], within: several };
}

/** Share of the records that have a field by which they may be recognized, and of those with an id again that agree in it. */
const [WIDESPREAD, AGREE] = [0.8, 0.8];

/** Share of the records that have an id of their own where others say some of them again. */
const MOSTLY = 0.6;

/**
 * Whether records of different files that have the same id are one thing said again, as an add-on does with things of
 * the game: these are the fewer, and they agree in another field, such as a name, that has a value of its own for nearly
 * every id.
 */
function isSaidAgain(files: readonly DataFile[], key: string): boolean {
	const { count, columns } = columnsOf(files);
	const ids = columns.get(key)!.values.length;
	if (ids < count * MOSTLY) return false;
	return [...columns.values()].some(
		({ path, records, cells, values }) =>
			path !== key &&
			!/[.[*]/.test(path) &&
			records >= count * WIDESPREAD &&
			cells === records &&
			values.length >= ids * WIDESPREAD &&
			agreeIn(files, key, path)
	);
}

/** Whether nearly all records that have an id again say in a field what the first one with it says. */
function agreeIn(files: readonly DataFile[], key: string, field: string): boolean {
	const first = new Map<number, number>();
	let [again, same] = [0, 0];
	for (const { facts } of files) {
		const { pool, count, shape, shapes, firsts, values } = facts;
		const [a, b] = [key, field].map((path) => {
			const text = pool.find(path);
			return shapes.map((paths) => placeIn(paths, text));
		}) as [(number | undefined)[], (number | undefined)[]];
		for (let nth = 0; nth < count; nth++) {
			const [id, said] = [a, b].map((places) => {
				const place = places[shape[nth]!];
				return place === undefined ? 0 : values[firsts[nth]! + place]!;
			}) as [number, number];
			if (id === 0 || said === 0) continue;
			const known = first.get(id);
			if (known === undefined) first.set(id, said);
			else {
				again++;
				if (known === said) same++;
			}
		}
	}
	return again > 0 && same >= again * AGREE;
}

/** Whether no two records have the same values in two fields; or no two of one file in one field. */
function areUnique(files: readonly DataFile[], one: string, other: string | null): boolean {
	const seen = new Set<number>();
	return files.every(({ facts }) => {
		const { pool, count, shape, shapes, firsts, values } = facts;
		if (other === null) seen.clear();
		const [a, b] = [one, other ?? one].map((field) => {
			const path = pool.find(field);
			return shapes.map((paths) => placeIn(paths, path)!);
		}) as [number[], number[]];
		for (let nth = 0; nth < count; nth++) {
			const [first, own] = [firsts[nth]!, shape[nth]!];
			if (a[own] === undefined || b[own] === undefined) return false;
			const pair = values[first + a[own]!]! * MOST_TEXTS + values[first + b[own]!]!;
			if (seen.has(pair)) return false;
			seen.add(pair);
		}
		return true;
	});
}

/** Characters that one of several ids has at most. */
const LONGEST = 60;

/** Share of the records that may be named by another field than the rest. */
const SPARE = 0.2;

/** The likeliest field that names nearly all records, each by a text of its own; null where none does. */
export function nearlyKey(files: readonly DataFile[], written: Written): string | null {
	const sketch = columnsOf(files);
	const found = [...sketch.columns.values()]
		.filter(
			({ path, records, cells, filled, values, types }) =>
				!/[.[*]/.test(path) &&
				records < sketch.count &&
				records >= sketch.count * (1 - SPARE) &&
				cells === records &&
				filled === records &&
				types[0] === records &&
				values.length === records
		)
		.map((column, at) => ({ path: column.path, score: scoreOf(column, at, sketch, files, written) }))
		.sort((a, b) => b.score - a.score);
	return found[0]?.path ?? null;
}

/**
 * The field that names just those records that have no key, where the rest of the game writes what is in it; null
 * where none does.
 */
export function spareKey(files: readonly DataFile[], key: string, written: Written): string | null {
	const { count, columns } = columnsOf(files);
	const main = columns.get(key);
	if (!main || main.records >= count || main.records < count * (1 - SPARE)) return null;
	const ids = new Set(main.values);
	for (const { path, values, records, cells, types } of columns.values()) {
		if (records !== count - main.records || cells !== records || types[0] !== cells) continue;
		if (/[.[*]/.test(path) || values.length !== records) continue;
		if (values.some((value) => ids.has(value) || written(value) < 2)) continue;
		if (files.every(({ facts }) => standsAlone(facts, key, path))) return path;
	}
	return null;
}

/** Calls `each` with the ids of each record of a file: the value under the key, or all items of a list there. */
function eachIds({ facts }: DataFile, key: string, each: (ids: readonly number[]) => void): void {
	const { pool, shapes, shape, firsts, values } = facts;
	const isId = (path: string) => path === key || isItemUnder(key, path);
	const places = shapes.map((paths) => [...paths.keys()].filter((at) => isId(pool.at(paths[at]!))));
	for (let nth = 0; nth < facts.count; nth++)
		each(places[shape[nth]!]!.map((place) => values[firsts[nth]! + place]!));
}

/** All ids of the records of a file, of those too that have several. */
export function severalIdsOf(file: DataFile, key: string): number[] {
	const found: number[] = [];
	eachIds(file, key, (ids) => {
		for (const id of ids) found.push(id);
	});
	return found;
}

/** Whether some records have a list of ids under the key and all others one, by which nearly all are told apart. */
export function haveSeveral(files: readonly DataFile[], key: string): boolean {
	const { pool } = files[0]!.facts;
	// Most games have no such list anywhere.
	if (pool.find(`${key}[0]`) < 0) return false;
	const { count, columns } = columnsOf(files);
	const main = columns.get(key);
	if (!main || main.records >= count || main.records * 2 < count) return false;
	const seen = new Set<number>();
	let [again, odd] = [0, 0];
	for (const file of files)
		eachIds(file, key, (ids) => {
			if (ids.length === 0 || ids.some((id) => id === 0 || pool.at(id).length > LONGEST)) odd++;
			if (ids.some((id) => seen.has(id))) again++;
			for (const id of ids) seen.add(id);
		});
	return odd === 0 && again <= (count < MANY ? 0 : count * (1 - UNIQUE));
}

/** Whether no record has both of two fields. */
function standsAlone({ pool, shapes }: DataFile['facts'], one: string, other: string): boolean {
	const [a, b] = [pool.find(one), pool.find(other)];
	return !shapes.some((paths) => paths.includes(a) && paths.includes(b));
}

/** Whether the records of a file are known by the names they are under. */
export function isNamed({ facts }: DataFile): boolean {
	return facts.key === null && facts.count > 0 && facts.written[0] === 1;
}
