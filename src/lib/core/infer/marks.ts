// Marks that are before an id and say of which kind it is: `item:rope`, `@limit`. What a mark means is detected from all
// values of the game, so that a field with a single one of them is understood too.
import type { Owners } from './owners';
import type { DataFile } from './group';
import { asValues, type Pool } from '../facts';
import { isNamed, type Written } from './keys';

const MARKED = /^([#@!~^]?[\p{L}\p{N}_-]{0,24}[.:/@#$%]{1,2})([\p{L}_][^\s]{0,59})$/u;

/** A text as a mark and what it is before; null where it has none. */
export function cutMark(text: string): [string, string] | null {
	const match = MARKED.exec(text);
	return match && [match[1]!, match[2]!];
}

/** Different values that must have a mark, and the share of them that must be names of the same. */
const [FEWEST, SHARE] = [3, 0.95];
/** Of more than so many, one may be something else. */
const FEW = 8;

/** What a mark is before: a kind by its number among the owners, and in how many different values it was seen. */
export interface Marked {
	mark: string;
	nth: number;
	distinct: number;
}

const known = new WeakMap<Owners, ReadonlyMap<string, Marked>>();

/** The marks of a game and what each is before; worked out once for the same owners. */
export function marksOf(owners: Owners): ReadonlyMap<string, Marked> {
	let found = known.get(owners);
	if (!found) known.set(owners, (found = marksIn(owners)));
	return found;
}

/** Texts without a mark, by their numbers, as far as they were looked at: texts do not change. */
const unmarked = new WeakMap<Pool, Uint8Array>();

/** Places for all texts of a pool, with what is known of those that were there before. */
function unmarkedIn(pool: Pool): Uint8Array {
	const old = unmarked.get(pool);
	if (old && old.length >= pool.size) return old;
	const all = new Uint8Array(Math.ceil(pool.size * 1.1));
	if (old) all.set(old);
	unmarked.set(pool, all);
	return all;
}

function marksIn(owners: Owners): ReadonlyMap<string, Marked> {
	const { pool, list } = owners;
	const plain = unmarkedIn(pool);
	const seen = new Uint8Array(pool.size);
	const tallies = new Map<string, { all: number; hits: Map<number, number> }>();
	const look = (text: number) => {
		if (plain[text] === 1 || seen[text] === 1) return;
		seen[text] = 1;
		const cut = cutMark(pool.at(text));
		if (!cut) plain[text] = 1;
		// What is an id as is has no mark.
		if (!cut || owners.of(text).length > 0) return;
		const [mark, name] = cut;
		let tally = tallies.get(mark);
		if (!tally) tallies.set(mark, (tally = { all: 0, hits: new Map() }));
		tally.all++;
		for (const nth of owners.of(Math.max(0, pool.find(name))))
			tally.hits.set(nth, (tally.hits.get(nth) ?? 0) + 1);
	};
	for (const group of new Set(list.map((ids) => ids.group)))
		for (const { values } of group.sketch.columns.values()) values.forEach(look);
	return new Map(
		[...tallies].flatMap(([mark, { all, hits }]): [string, Marked][] => {
			const [best] = [...hits].sort((a, b) => b[1] - a[1]);
			if (!best || best[1] < FEWEST || best[1] < (all > FEW ? Math.min(all * SHARE, all - 1) : all * SHARE))
				return [];
			// Two ids beside each other are a list.
			if (owners.of(Math.max(0, pool.find(mark.replace(/[^\p{L}\p{N}_-]+$/u, '')))).includes(best[0]))
				return [];
			return [[mark, { mark, nth: best[0], distinct: best[1] }]];
		})
	);
}

/** Names that a map has at least whose values stand for themselves elsewhere. */
const FEWEST_NAMES = 4;

/** A file that holds values under names, nothing else. */
interface Values {
	file: DataFile;
	map: string;
	names: ReadonlySet<string>;
}

/** The one map that a file consists of, where its values are single. */
function valuesIn(file: DataFile): Values[] {
	const { facts, element } = file;
	if (facts.count !== 1 || element !== undefined) return [];
	const paths = Array.from(facts.shapes[facts.shape[0]!] ?? [], (path) => facts.pool.at(path));
	if (paths.length < FEWEST_NAMES || paths.some((path) => path.includes('['))) return [];
	const own = isNamed(file);
	const map = own ? facts.pool.at(facts.ids[0]!) : paths[0]!.slice(0, Math.max(0, paths[0]!.indexOf('.')));
	const names = own ? paths : paths.map((path) => path.slice(map.length + 1));
	if (map === '' || names.some((name) => name.includes('.'))) return [];
	if (!own && paths.some((path) => !path.startsWith(`${map}.`))) return [];
	const above = own && facts.at ? `${facts.at}.` : '';
	return [{ file, map: above + map, names: new Set(names) }];
}

/** Values that a file holds under names by which other files mean them, and the mark that these write before a name. */
export interface Constants {
	file: DataFile;
	/** The file with each value as a record. */
	as: DataFile;
	map: string;
	mark: string;
}

/** Files of values that others mean by a mark and a name. */
export function constantsIn(files: readonly DataFile[], pool: Pool, written: Written): Constants[] {
	const candidates = files.flatMap(valuesIn);
	if (candidates.length === 0) return [];
	const tallies = new Map<string, Set<string>>();
	for (let text = 0; text < pool.size; text++) {
		if (written(text) === 0) continue;
		const cut = cutMark(pool.at(text));
		if (!cut) continue;
		const names = tallies.get(cut[0]);
		if (names) names.add(cut[1]);
		else tallies.set(cut[0], new Set([cut[1]]));
	}
	return candidates.flatMap(({ file, map, names }) => {
		for (const [mark, used] of tallies) {
			if (used.size < FEWEST) continue;
			const hits = [...used].filter((name) => names.has(name)).length;
			if (hits < used.size * SHARE || hits < names.size / 2) continue;
			return [{ file, as: { ...file, facts: asValues(file.facts, map) }, map, mark }];
		}
		return [];
	});
}
