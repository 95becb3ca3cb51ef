// Numbers that count something: the records of a kind, or the items of a list beside them.
import { patternOf } from '../guide';
import { likeness, wordsOf } from './likeness';
import { placesOf, type Column } from './sketch';
import { atLeast, finding, said } from './sure';
import type { Group } from './group';

/** Words that say of a number that it counts. */
const COUNTING = ['count', 'number', 'num', 'total', 'size', 'length', 'amount', 'entry', 'row'];

const counts = (path: string) => wordsOf(path).some((word) => COUNTING.includes(word));

/** Share of the records in which a number has to be that of a list's items, where its name says that it counts them. */
const MOST = 0.9;

/**
 * The lists of which a field may tell the number of items: those that have so many in most records. A path such as
 * `items[].id` is of the list `items`.
 */
function listsCounted(group: Group, path: string): string[] {
	let all = 0;
	let zeros = 0;
	const fits = new Map<string, number>();
	const add = (list: string, by: number) => fits.set(list, (fits.get(list) ?? 0) + by);
	for (const { facts } of group.files) {
		const { pool, shape, firsts, values } = facts;
		const places = placesOf(facts);
		for (let nth = 0; nth < facts.count; nth++) {
			const here = places[shape[nth]!];
			const at = here?.of(path);
			if (here === undefined || at === undefined) continue;
			all++;
			const number = pool.number(values[firsts[nth]! + at]!);
			if (number !== 0) for (const list of here.ofItems(number)) add(list, 1);
			else {
				// A missing list has no items, which agrees with 0; one that is there has some, which does not.
				zeros++;
				for (const list of here.items.keys()) add(list, -1);
			}
		}
	}
	// A number that is always 0 does not tell one list from another.
	return all === zeros ? [] : [...fits].flatMap(([list, fit]) => (fit + zeros >= all * MOST ? [list] : []));
}

/** How many items a list has in each record, beside the value of a field there. */
function compared(
	group: Group,
	path: string,
	list: string
): { same: number; all: number; different: Set<number> } {
	const found = { same: 0, all: 0, different: new Set<number>() };
	for (const { facts } of group.files) {
		const { pool, shape, firsts, values } = facts;
		const lengths = placesOf(facts).map((here) => ({ at: here.of(path), items: here.items.get(list) ?? 0 }));
		for (let nth = 0; nth < facts.count; nth++) {
			const own = lengths[shape[nth]!];
			if (own?.at === undefined) continue;
			found.all++;
			found.different.add(own.items);
			if (pool.number(values[firsts[nth]! + own.at]!) === own.items) found.same++;
		}
	}
	return found;
}

/** What a column counts; null where it does not seem to count. */
export function countedBy(
	group: Group,
	column: Column,
	groups: readonly Group[]
): { counts: string; found: ReturnType<typeof finding> } | null {
	if (column.path.includes('[]') || patternOf(column.path) === group.key || column.filled < 1) return null;
	const { pool } = group.files[0]!.facts;
	// A column without a number counts nothing.
	if (!column.values.some((value) => Number.isFinite(pool.number(value)))) return null;
	for (const list of listsCounted(group, column.path)) {
		const { same, all, different } = compared(group, column.path, list);
		const named = counts(column.path) || likeness(column.path, [list]) >= 0.7;
		// Without a name that says so, it has to be right everywhere and differ here and there.
		if (named ? same < all * MOST : same < all || all < 5 || different.size < 2) continue;
		if (different.size < 2 && !counts(column.path)) continue;
		return {
			counts: list,
			found: finding(
				atLeast(same, all) * (different.size > 1 ? 1 : 0.8),
				`In ${said(same)} of ${said(all)} records it is the number of items in ${list}.`
			)
		};
	}
	if (group.sketch.count !== 1 || column.values.length !== 1 || !counts(column.path)) return null;
	const number = pool.number(column.values[0]!);
	const own = groups
		.filter((other) => other !== group && !other.twinOf && other.sketch.count === number)
		.map((other) => ({ other, like: likeness(column.path, other.names) }))
		.sort((a, b) => b.like - a.like)[0];
	return own && own.like >= 0.7
		? {
				counts: `kind:${own.other.kind}`,
				found: finding(
					0.85,
					`It is ${said(number)}, as many as ${own.other.kind} has records, and its name says so.`
				)
			}
		: null;
}
