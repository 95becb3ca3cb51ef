// Numbers that count something: the records of a kind, or the items of a list beside them.
import { patternOf } from '../guide';
import { likeness, wordsOf } from './likeness';
import type { Column } from './sketch';
import { atLeast, finding, said } from './sure';
import type { Group } from './group';

/** Words that say of a number that it counts. */
const COUNTING = ['count', 'number', 'num', 'total', 'size', 'length', 'amount', 'entry', 'row'];

const counts = (path: string) => wordsOf(path).some((word) => COUNTING.includes(word));

/** Paths of lists in a kind: `items[].id` is of the list `items`. */
function listsOf(group: Group): string[] {
	const lists = new Set<string>();
	for (const path of group.sketch.columns.keys()) {
		const at = path.indexOf('[]');
		if (at > 0) lists.add(path.slice(0, at));
	}
	return [...lists];
}

/** How many items a list has in each record, beside the value of a field there. */
function compared(
	group: Group,
	path: string,
	list: string
): { same: number; all: number; different: Set<number> } {
	const found = { same: 0, all: 0, different: new Set<number>() };
	for (const { facts } of group.files) {
		const { pool, shapes, shape, firsts, values } = facts;
		const lengths = shapes.map((paths) => {
			const items = new Set<string>();
			let at = -1;
			paths.forEach((text, place) => {
				const own = pool.at(text);
				if (own === path) at = place;
				else if (own.startsWith(`${list}[`)) items.add(own.slice(0, own.indexOf(']')));
			});
			return { at, items: items.size };
		});
		for (let nth = 0; nth < facts.count; nth++) {
			const own = lengths[shape[nth]!];
			if (!own || own.at < 0) continue;
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
	for (const list of listsOf(group)) {
		const { same, all, different } = compared(group, column.path, list);
		const named = counts(column.path) || likeness(column.path, [list]) >= 0.7;
		// Without a name that says so, it has to be right everywhere and differ here and there.
		if (named ? same < all * 0.9 : same < all || all < 5 || different.size < 2) continue;
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
	const pool = group.files[0]!.facts.pool;
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
