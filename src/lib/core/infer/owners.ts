// Which kinds have a text as an id: looked up for all columns at once (in the manner of inclusion dependency discovery
// over an inverted index, as in BINDER, Papenbrock et al. 2015, here in one pass because texts are numbers already).
import type { Pool } from '../facts';
import { smallest } from '../gather';
import { nameFromPath } from '../guide';
import type { Column, Sketch } from './sketch';
import type { Group } from './group';
import { severalIdsOf } from './keys';

/** The ids of a kind. */
export interface Ids {
	group: Group;
	/** The field that holds them, where it is not the one that names the records. */
	by?: string;
	/** Its number in `Owners.list`. */
	nth: number;
	/** Texts of the ids, each once. */
	ids: Int32Array;
	/** Whether all ids are whole numbers, and between which they lie. */
	numeric: boolean;
	low: number;
	high: number;
}

/** The ids of all kinds, by text. */
export interface Owners {
	pool: Pool;
	/**
	 * The same object as long as no kind's ids change, and of other fields by which records may be named a few values at
	 * most: what was told by ids alone still holds, but for columns that have to do with these.
	 */
	epoch: object;
	/** How many times values came or went in an epoch. */
	run: number;
	/** Whether a column has to do with values that were not there in the run before, or are no more. */
	isTouched(column: Pick<Column, 'values'>): boolean;
	list: Ids[];
	/** Numbers in `list` of the kinds that have a text as an id. */
	of(text: number): readonly number[];
	/** The same, also of those that have it in another field by which their records may be named. */
	by(text: number): readonly number[];
	/** The same for a text in any case of its letters. */
	ofFolded(text: string): readonly number[];
}

const NOBODY: readonly number[] = [];

type Folded = Map<string, readonly number[]>;

const known = new WeakMap<Sketch, Omit<Ids, 'group' | 'nth' | 'by'>>();

function idsOf(group: Group, pool: Pool): Omit<Ids, 'nth'> {
	let ids = known.get(group.sketch);
	if (!ids) known.set(group.sketch, (ids = readIds(group, pool)));
	return { ...ids, group };
}

/** Other fields that may name records of a kind. */
const MOST_KEYS = 3;
/** Characters that a value has at most by which a record is named. */
const LONGEST = 60;

/** The values of another field by which records may be named; none where they are texts to be read. */
function otherIds(group: Group, by: string, pool: Pool): Omit<Ids, 'nth'>[] {
	const column = group.sketch.columns.get(by);
	if (!column || column.values.length < 8) return [];
	if (column.values.some((value) => pool.at(value).length > LONGEST)) return [];
	return [{ group, by, ...rangeOf(column.values, pool) }];
}

function readIds(group: Group, pool: Pool): Omit<Ids, 'group' | 'nth' | 'by'> {
	const seen = new Set<number>();
	for (const { path, facts } of group.files) {
		for (let at = 0; at < facts.count; at++) if (facts.written[at] === 1) seen.add(facts.ids[at]!);
		// As it will be called when the file is read as what it was found to be.
		if (group.at === null && group.id !== undefined)
			seen.add(pool.of(nameFromPath(path, group.id, group.globs)));
	}
	const { key, severalIds } = group;
	if (severalIds && key !== null)
		for (const file of group.files) for (const id of severalIdsOf(file, key)) seen.add(id);
	return rangeOf(Int32Array.from(seen), pool);
}

function rangeOf(ids: Int32Array, pool: Pool): Omit<Ids, 'group' | 'nth' | 'by'> {
	let numeric = ids.length > 0;
	let [low, high] = [Infinity, -Infinity];
	for (const id of ids) {
		const number = pool.number(id);
		if (Number.isInteger(number)) {
			low = Math.min(low, number);
			high = Math.max(high, number);
		} else numeric = false;
	}
	return { ids, numeric, low, high };
}

/** Which of some lists hold a text in some case of its letters; `singles` are the lists of one number. */
function foldedLookup(list: readonly Ids[], singles: readonly number[][], pool: Pool): Folded {
	const found: Folded = new Map();
	for (const { ids, nth } of list)
		for (const id of ids) {
			const text = pool.at(id).toLowerCase();
			const own = found.get(text);
			if (!own) found.set(text, singles[nth]!);
			else if (own.at(-1) !== nth) found.set(text, [...own, nth]);
		}
	return found;
}

interface Last {
	kinds: string;
	lists: Omit<Ids, 'group' | 'nth'>[];
	epoch: object;
	run: number;
}

const last = new WeakMap<Pool, Last>();

/** Values that may have come or gone for an epoch to go on. */
const MOST_TOUCHED = 16;

/** The texts in which two lists of a field differ; null where they are not alike otherwise, or in the ids of records. */
function differences(one: Last['lists'][number], other: Last['lists'][number]): number[] | null {
	if (one.ids === other.ids) return [];
	if (one.ids.length !== other.ids.length || one.numeric !== other.numeric) return null;
	if (one.low !== other.low || one.high !== other.high) return null;
	const found: number[] = [];
	for (let at = 0; at < one.ids.length; at++) {
		if (one.ids[at] === other.ids[at]) continue;
		found.push(one.ids[at]!, other.ids[at]!);
		if (one.by === undefined || found.length > MOST_TOUCHED) return null;
	}
	return found;
}

/** All texts of a pool in which one of some texts is. */
function textsWith(touched: ReadonlySet<number>, pool: Pool): ReadonlySet<number> {
	const found = new Set(touched);
	const parts = Array.from(touched, (one) => pool.at(one)).filter((part) => part !== '');
	const shortest = smallest(parts.map((part) => part.length));
	// A game has a million texts: neither a call nor a list for each.
	const { size } = pool;
	for (let nth = 0; nth < size; nth++) {
		const text = pool.at(nth);
		if (text.length < shortest) continue;
		for (const part of parts) if (text.includes(part)) found.add(nth);
	}
	return found;
}

/** Lookups by folded texts, which stay for an epoch. */
const foldedIn = new WeakMap<object, Folded>();

/** The epoch of some ids; where lists are as they were, they are exchanged for the old ones. */
function epochOf(list: Ids[], pool: Pool): Pick<Owners, 'epoch' | 'run' | 'isTouched'> {
	const old = last.get(pool);
	const kinds = list.map(({ group, by }) => `${group.kind} ${by ?? ''}`).join('\n');
	const touched = new Set<number>();
	let goesOn = old?.kinds === kinds;
	if (goesOn)
		for (const [at, ids] of list.entries()) {
			const different = differences(ids, old!.lists[at]!);
			if (different?.length === 0) ids.ids = old!.lists[at]!.ids;
			if (different) for (const text of different) touched.add(text);
			else goesOn = false;
		}
	const epoch = goesOn ? old!.epoch : {};
	const run = goesOn ? old!.run + Math.sign(touched.size) : 0;
	// Without the groups, which hold what was read of all files.
	const lists = list.map(({ group: _group, nth: _nth, ...values }) => values);
	last.set(pool, { kinds, lists, epoch, run });
	let around: ReadonlySet<number> | null = null;
	return {
		epoch,
		run,
		isTouched({ values }) {
			if (touched.size === 0) return false;
			around ??= textsWith(touched, pool);
			return values.some((value) => around!.has(value));
		}
	};
}

/** Which of some lists hold a text. */
function lookup(list: readonly Ids[], singles: readonly number[][], pool: Pool): Owners['of'] {
	const one = new Int32Array(pool.size);
	const more = new Map<number, number[]>();
	for (const { ids, nth } of list)
		for (const id of ids) {
			if (one[id] === 0) one[id] = nth + 1;
			else if (more.has(id)) more.get(id)!.push(nth);
			else more.set(id, [one[id]! - 1, nth]);
		}
	return (text) => {
		const first = one[text] ?? 0;
		return first === 0 ? NOBODY : (more.get(text) ?? singles[first - 1]!);
	};
}

/** The ids of all kinds that have some. Twins are left out: what they have is known by the kind they follow. */
export function ownersOf(groups: readonly Group[], pool: Pool): Owners {
	const list = groups
		.filter(({ twinOf }) => !twinOf)
		.flatMap((group): Omit<Ids, 'nth'>[] => [
			idsOf(group, pool),
			...(group.otherKeys ?? []).slice(0, MOST_KEYS).flatMap((by) => otherIds(group, by, pool))
		])
		.map((ids, nth): Ids => ({ ...ids, nth }));
	const state = epochOf(list, pool);
	const singles = list.map(({ nth }) => [nth]);
	const plain = list.filter(({ by }) => by === undefined);
	return {
		pool,
		...state,
		list,
		of: lookup(plain, singles, pool),
		by: lookup(list, singles, pool),
		ofFolded(text) {
			let folded = foldedIn.get(state.epoch);
			if (!folded) foldedIn.set(state.epoch, (folded = foldedLookup(plain, singles, pool)));
			return folded.get(text.toLowerCase()) ?? NOBODY;
		}
	};
}
