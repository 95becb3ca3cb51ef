// Which field names the records of a kind: one that every record has and no two share, that looks like a name, and that
// the rest of the game writes.
import type { DataFile } from './group';
import { wordsOf } from './likeness';
import { columnsOf } from './refine';
import { sketchOf, type Column, type Sketch } from './sketch';

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

/** In how many columns of the files each text stands. */
export function* writtenIn(files: readonly DataFile[]): Generator<void, Written> {
	const size = files[0]?.facts.pool.size ?? 0;
	const counts = new Int32Array(size);
	for (const [nth, { facts }] of files.entries()) {
		if (nth % 50 === 49) yield;
		// In a single record each cell is a column.
		if (facts.count === 1) for (const value of facts.values) counts[value]!++;
		else
			for (const { values } of sketchOf(facts).columns.values()) for (const value of values) counts[value]!++;
	}
	return (text) => counts[text] ?? 0;
}

const isUnique = ({ values, filled, cells }: Column, count: number): boolean =>
	filled === count && cells === count && values.length >= (count < MANY ? count : count * UNIQUE);

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
	const name = words.length === 1 ? (NAMES.get(words[0]!) ?? 0) : (NAMES.get(words.at(-1)!) ?? 0) / 2;
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

/** All columns that could name the records, the likeliest first. */
export function keysOf(files: readonly DataFile[], written: Written): string[] {
	const sketch = columnsOf(files);
	const found: { path: string; score: number }[] = [];
	let at = 0;
	for (const column of sketch.columns.values()) {
		// A place of a tuple may name a record, any item of a list cannot.
		if (column.path.includes('[]')) continue;
		if (isUnique(column, sketch.count))
			found.push({ path: column.path, score: scoreOf(column, at, sketch, files, written) });
		at++;
	}
	return found.sort((a, b) => b.score - a.score).map(({ path }) => path);
}

/** Share of the records that may be named by another field than the rest. */
const SPARE = 0.2;

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

/** Whether no record has both of two fields. */
function standsAlone({ pool, shapes }: DataFile['facts'], one: string, other: string): boolean {
	const [a, b] = [pool.find(one), pool.find(other)];
	return !shapes.some((paths) => paths.includes(a) && paths.includes(b));
}

/** Whether the records of a file are known by the names they are under. */
export function isNamed({ facts }: DataFile): boolean {
	return facts.key === null && facts.count > 0 && facts.written[0] === 1;
}
