// Three states of one thing: the old version's, the new version's and mine. What only one side changed counts by itself.
import { diff3Merge } from 'node-diff3';
import { joinedTexts } from '../change';
import { unitOf } from '../stack';

/** What counts where the game and my mod both changed a value. */
export type Prefer = 'mine' | 'theirs' | 'on-top';

/** The values of a field, or of a list with all that is in it, by their paths; empty where it is not there. */
export type Unit = ReadonlyMap<string, string>;

export const sameUnit = (a: Unit, b: Unit): boolean =>
	a.size === b.size && [...a].every(([path, value]) => b.get(path) === value);

/** The values of a record by the fields and lists that they are in. */
export function unitsOf(values: Iterable<readonly [string, string]>): Map<string, Map<string, string>> {
	const units = new Map<string, Map<string, string>>();
	for (const [path, value] of values) {
		const unit = unitOf(path);
		const held = units.get(unit);
		if (held) held.set(path, value);
		else units.set(unit, new Map([[path, value]]));
	}
	return units;
}

/** The items of a list, each with what it says below its place. */
export function itemsOf(unit: string, values: Unit): Map<string, string>[] {
	const items: Map<string, string>[] = [];
	for (const [path, value] of values) {
		const end = path.indexOf(']', unit.length);
		const nth = Number(path.slice(unit.length + 1, end));
		(items[nth] ??= new Map()).set(path.slice(end + 1), value);
	}
	return items.filter((item) => item !== undefined);
}

const listOf = (unit: string, items: readonly Unit[]): Map<string, string> =>
	new Map(
		items.flatMap((item, nth) =>
			[...item].map(([path, value]): [string, string] => [`${unit}[${nth}]${path}`, value])
		)
	);

/** Items of a list that are merged one by one. */
const MOST_ITEMS = 2000;

/**
 * A list after the changes of both sides, item by item; null where they touch each other.
 * @param joins whether items that both put at the same place are taken one behind the other
 */
export function mergedItems<T>(
	mine: readonly T[],
	old: readonly T[],
	theirs: readonly T[],
	keyOf: (item: T) => string,
	joins = false
): T[] | null {
	// What is compared item by item takes its time where many are alike.
	if (Math.max(mine.length, old.length, theirs.length) > MOST_ITEMS) return null;
	const known = new Map<string, T>();
	const keys = (items: readonly T[]) =>
		items.map((item) => {
			const key = keyOf(item);
			known.set(key, item);
			return key;
		});
	const regions = diff3Merge(keys(mine), keys(old), keys(theirs), { excludeFalseConflicts: true });
	const merged: T[] = [];
	for (const region of regions) {
		const { ok, conflict } = region;
		if (!ok && !(joins && conflict?.o.length === 0)) return null;
		const both = ok ?? [...new Set([...conflict!.b, ...conflict!.a])];
		merged.push(...both.map((key) => known.get(key)!));
	}
	return merged;
}

const NUMBER = /^[-+]?(?:\d+(?:\.\d+)?|\.\d+)$/;
const decimals = (text: string) => /\.(\d+)$/.exec(text)?.[1]!.length ?? 0;

/** Shares of a value that people change by: a twentieth of it. */
const STEP = 20;

/**
 * My change of a number on top of the game's: in proportion where I changed it by a round share ("a fifth more"), else
 * by as much. Null where one of them is no number, or the result would have no meaning.
 */
export function onTop(old: string, theirs: string, mine: string): string | null {
	if (![old, theirs, mine].every((text) => NUMBER.test(text))) return null;
	const [from, now, own] = [Number(old), Number(theirs), Number(mine)];
	const factor = own / from;
	const share = factor * STEP;
	const inProportion = from !== 0 && factor > 0 && Math.abs(share - Math.round(share)) < 1e-9;
	const result = inProportion ? now * factor : now + own - from;
	const places = Math.max(decimals(theirs), decimals(mine));
	return result.toFixed(places).replace(/^-(0(?:\.0+)?)$/, '$1');
}

/** What became of a field or list of three states. */
export interface Merged {
	what: 'carried' | 'undecided';
	/** What it becomes: mine where it is undecided. */
	result: Unit;
	/** What counted, where both sides changed it. */
	by?: Prefer | 'both';
}

/**
 * A field or list that I changed, on the new version.
 * @param separator what is between the items, where a single value holds a list
 * @param prefer what counts where both changed it; undefined leaves that open
 */
export function mergeUnit(
	unit: string,
	{ old, theirs, mine }: { old: Unit; theirs: Unit; mine: Unit },
	separator: string | null,
	prefer: Prefer | undefined
): Merged {
	if (sameUnit(theirs, old) || sameUnit(theirs, mine)) return { what: 'carried', result: mine };
	const isList = [old, theirs, mine].every((values) => [...values.keys()].every((path) => path !== unit));
	if (isList && [old, theirs, mine].some(({ size }) => size > 0)) {
		const keyOf = (item: Unit) => JSON.stringify([...item]);
		const items = mergedItems(
			itemsOf(unit, mine),
			itemsOf(unit, old),
			itemsOf(unit, theirs),
			keyOf,
			prefer === 'on-top'
		);
		if (items) return { what: 'carried', result: listOf(unit, items), by: 'both' };
	}
	const single = (values: Unit) => (values.size === 1 ? values.get(unit) : undefined);
	const [was, now, own] = [single(old), single(theirs), single(mine)];
	if (was !== undefined && now !== undefined && own !== undefined) {
		if (separator) {
			const split = (text: string) => (text === '' ? [] : text.split(separator));
			const items = mergedItems(split(own), split(was), split(now), (item) => item, prefer === 'on-top');
			if (items) return { what: 'carried', result: new Map([[unit, items.join(separator)]]), by: 'both' };
		}
		if (prefer === 'on-top') {
			const value = onTop(was, now, own);
			if (value !== null) return { what: 'carried', result: new Map([[unit, value]]), by: 'on-top' };
		}
	}
	if (prefer === 'mine') return { what: 'carried', result: mine, by: 'mine' };
	if (prefer === 'theirs') return { what: 'carried', result: theirs, by: 'theirs' };
	return { what: 'undecided', result: mine };
}

/** A text after the changes of both sides, line by line; null where they touch each other. */
export function mergeLines(mine: string, old: string, theirs: string): string | null {
	const joined = joinedTexts(old, mine, theirs);
	return typeof joined === 'string' ? joined : null;
}
