// How well the values of a column fit the ids of the kinds: coverage, names, chance, and how sure that makes one.
import { meansNothing } from './columns';
import { likeness } from './likeness';
import type { Ids, Owners } from './owners';
import type { Column } from './sketch';
import { atLeast, listed, said } from './sure';
import type { Group } from './group';
import type { ReferenceGuide } from '../guide';

/** Share of the values from which on they count as ids of a kind. */
export const ENOUGH = 0.9;
/** How many of so many cells must be ids; one that names nothing is forgiven where there are few. */
export const needed = (cells: number, share: number) =>
	cells >= 6 ? Math.min(cells * share, cells - 1) : cells * share;
/** Different ids that must be named where names do not tell anything. */
export const FEW = 3;
/** Likeness from which on a name tells something. */
export const ALIKE = 0.7;

/** A reference that was found: what the guide says of it. */
export type FoundReference = ReferenceGuide & { found: NonNullable<ReferenceGuide['found']> };

/** A kind whose ids are in a column, and how well. */
export interface Match {
	ids: Ids;
	/** Different values that are ids, and cells that hold one. */
	distinct: number;
	cells: number;
	like: number;
	/** Whether its files are in the same tree: of two worlds with the same ids, one's own is meant. */
	near: boolean;
}

export interface Value {
	text: number;
	count: number;
}

interface ColumnValues {
	values: readonly Value[];
	none: readonly string[];
	cells: number;
	numeric: boolean;
}

/** Of the column that was asked for last: one rule after the other asks for the same. */
let latest: { column: Column; owners: Owners; found: ColumnValues } | null = null;

/** Lets go of what is only needed while columns are looked at. */
export const letValuesGo = (): void => void (latest = null);

/** The values of a column that stand for something, and those that stand for nothing. */
export function valuesOf(column: Column, owners: Owners): ColumnValues {
	if (latest?.column !== column || latest.owners !== owners)
		latest = { column, owners, found: readValues(column, owners) };
	return latest.found;
}

function readValues(column: Column, owners: Owners): ColumnValues {
	const values: Value[] = [];
	const none: string[] = [];
	let cells = 0;
	let numbers = 0;
	for (let at = 0; at < column.values.length; at++) {
		const text = column.values[at]!;
		const count = column.counts[at]!;
		const written = owners.pool.at(text);
		if (written.length < 5 && (meansNothing(written) || written === '-1') && owners.of(text).length === 0) {
			none.push(written);
			continue;
		}
		if (!Number.isNaN(owners.pool.number(text))) numbers += count;
		values.push({ text, count });
		cells += count;
	}
	return { values, none, cells, numeric: numbers > cells / 2 };
}

export const kindOf = ({ group }: Ids) => group.kind;

/** The kind that is named, and the field by which it is. */
export const targetOf = (ids: Ids): Pick<ReferenceGuide, 'kinds' | 'key'> => ({
	kinds: [kindOf(ids)],
	...(ids.by === undefined ? {} : { key: ids.by })
});

/** What a column names, in words. */
export const inWords = (ids: Ids) =>
	ids.by === undefined ? `ids of ${kindOf(ids)}` : `the ${ids.by} of ${kindOf(ids)}`;

/** Whether the files of two groups are below the same folder of the game. */
export const isNear = (one: Group, other: Group): boolean => {
	const top = ({ files }: Group) => files[0]!.path.split('/')[0];
	return one.files[0]!.path.includes('/') && top(one) === top(other);
};

/** Whether a column holds ids of a group's own records, of those that have several. */
const isOfSeveral = ({ key, severalIds }: Group, path: string): boolean =>
	severalIds === true && key !== null && path.startsWith(`${key}[`);

export function matches(
	group: Group,
	path: string,
	values: readonly Value[],
	owners: Owners,
	look: (text: number) => readonly number[]
): Match[] {
	const found = new Map<number, Match>();
	for (let at = 0; at < values.length; at++) {
		const { text, count } = values[at]!;
		const owning = look(text);
		for (let own = 0; own < owning.length; own++) {
			const nth = owning[own]!;
			const ids = owners.list[nth]!;
			if (path === '#id' && (ids.group === group || ids.by !== undefined)) continue;
			if (ids.group === group && (ids.by === path || isOfSeveral(group, path))) continue;
			let match = found.get(nth);
			if (!match)
				found.set(nth, (match = { ids, distinct: 0, cells: 0, like: 0, near: isNear(group, ids.group) }));
			match.distinct++;
			match.cells += count;
		}
	}
	for (const match of found.values()) match.like = likeness(path, match.ids.group.names);
	return [...found.values()];
}

export const tells = ({ distinct, like }: Pick<Match, 'distinct' | 'like'>) =>
	distinct >= FEW || like >= ALIKE;

/** How unlikely it must be that numbers are ids by chance. */
export const CHANCE = 1e-6;

/**
 * Whether numbers are ids and not only as large as ids: the name says so, or as many numbers drawn at random from
 * between the smallest and the largest of them would hardly all be ids.
 */
export function numbersTell(
	{ ids, distinct, like }: Match,
	values: readonly Value[],
	owners: Owners,
	none: readonly string[] = []
): boolean {
	if (like >= 0.8) return true;
	if (distinct < 10) return false;
	let [low, high] = [Infinity, -Infinity];
	for (const { text } of values) {
		const number = owners.pool.number(text);
		if (!Number.isInteger(number)) continue;
		low = Math.min(low, number);
		high = Math.max(high, number);
	}
	let within = 0;
	for (const id of ids.ids) {
		const number = owners.pool.number(id);
		if (number >= low && number <= high) within++;
	}
	// Plain amounts seldom need a number that stands for none, nor do they keep to the range of the ids from end to end.
	if (none.includes('-1') && low >= ids.low && high >= ids.low + (ids.high - ids.low) * 0.8) return true;
	return distinct * Math.log(within / (high - low + 1)) < Math.log(CHANCE);
}

/** The likeliest of several kinds that a column may name. */
export function best(list: readonly Match[], cells: number): Match | undefined {
	const score = ({ ids, cells: hits, distinct, like, near }: Match) =>
		hits / cells +
		(near ? 0.15 : 0) +
		0.5 * like +
		0.1 * (distinct / ids.ids.length) -
		(ids.group.texts ? 0.2 : 0) -
		(ids.by === undefined ? 0 : 0.1);
	// Of kinds with the same ids, the one that says the most of them is meant.
	const columns = ({ ids }: Match) => ids.group.sketch.columns.size;
	return list.toSorted(
		(a, b) => score(b) - score(a) || a.ids.ids.length - b.ids.ids.length || columns(b) - columns(a)
	)[0];
}

export function surely(
	{ distinct, cells: hits, like }: Pick<Match, 'distinct' | 'cells' | 'like'>,
	cells: number
): number {
	// Of made-up games that these were not fitted to, as many were right as is said here.
	const few = distinct >= 8 ? 0 : distinct >= FEW ? 0.09 : 0.27;
	const exact = hits === cells ? 1 : (atLeast(hits, cells) + hits / cells) / 2;
	return exact * (like >= ALIKE ? 0.99 : 0.96) - few;
}

/** What speaks for a reference. @param others the values that are something else: numbers of their texts, or texts */
export function because(
	owners: Owners,
	what: string,
	hits: number,
	cells: number,
	others: readonly (number | string)[]
): string {
	if (hits === cells) return `All ${said(cells)} values are ${what}.`;
	const texts = others.map((other) => (typeof other === 'number' ? owners.pool.at(other) : other));
	return `${said(hits)} of ${said(cells)} values are ${what}; the others: ${listed(texts)}.`;
}
