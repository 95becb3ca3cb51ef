// Numbers that count something: the records of a kind, or the items of a list beside them.
import { patternOf } from '../guide';
import { likeness, wordsOf } from './likeness';
import { placesOf, type Column, type Places, type Sketch } from './sketch';
import { atLeast, finding, said } from './sure';
import type { Group } from './group';

/** Words that say of a number that it counts. */
const COUNTING = ['count', 'number', 'num', 'total', 'size', 'length', 'amount', 'entry', 'row'];

const counts = (path: string) => wordsOf(path).some((word) => COUNTING.includes(word));

/** Lists that are looked at: where a number is by chance that of more lists' items, it says nothing. */
const MOST_LISTS = 100;

/** Share of the records in which a number has to be that of a list's items, where its name says that it counts them. */
const MOST = 0.9;

/** What a number counts, and why. */
interface Counted {
	counts: string;
	found: ReturnType<typeof finding>;
}

/** The numbers of a field, each with what its record has. */
interface Numbers {
	here: readonly Places[];
	numbers: readonly number[];
	/** How many of them may be another number than that of a list's items. */
	misses: number;
}

function numbersOf(group: Group, path: string): Numbers {
	const here: Places[] = [];
	const numbers: number[] = [];
	for (const { facts } of group.files) {
		const { pool, shape, firsts, values } = facts;
		const places = placesOf(facts);
		for (let nth = 0; nth < facts.count; nth++) {
			const own = places[shape[nth]!];
			const at = own?.of(path);
			if (at === undefined) continue;
			here.push(own!);
			numbers.push(pool.number(values[firsts[nth]! + at]!));
		}
	}
	return { here, numbers, misses: numbers.length - Math.ceil(numbers.length * MOST) };
}

/**
 * The lists of which a field may tell the number of items, those beside it first. A path such as `items[].id` is of the
 * list `items`. A list that has so many items in most records has them in one of the first, of which there are more
 * than may be otherwise; that a list is missing where the number is 0 says nothing.
 */
function* listsCounted(path: string, { here, numbers, misses }: Numbers): Generator<string> {
	const looked: number[] = [];
	for (let at = 0; at < numbers.length && looked.length <= misses; at++)
		if (numbers[at] !== 0) looked.push(at);
	const found = new Set<string>();
	for (const at of looked)
		for (const list of here[at]!.listsBeside(path))
			if (here[at]!.items.get(list) === numbers[at]) found.add(list);
	yield* found;
	for (const at of looked)
		for (const list of here[at]!.ofItems(numbers[at]!))
			if (!found.has(list)) {
				found.add(list);
				yield list;
			}
}

/**
 * How many items a list has in each record, beside the value of a field there; null where these are too often not the
 * same. A missing list has none.
 */
function compared(
	list: string,
	{ here, numbers, misses }: Numbers
): { same: number; different: Set<number> } | null {
	let [same, other] = [0, 0];
	const different = new Set<number>();
	for (let at = 0; at < numbers.length; at++) {
		const items = here[at]!.items.get(list) ?? 0;
		different.add(items);
		if (numbers[at] === items) same++;
		else if (++other > misses) return null;
	}
	return { same, different };
}

const withLists = new WeakMap<Sketch, boolean>();

/** Whether any record of a kind has a list. */
function hasLists({ sketch, files }: Group): boolean {
	let known = withLists.get(sketch);
	if (known === undefined) {
		known = files.some(({ facts }) => facts.shapes.some((_, nth) => placesOf(facts)[nth]!.items.size > 0));
		withLists.set(sketch, known);
	}
	return known;
}

/** The list of the same record that a column counts the items of; null where it does not seem to count any. */
function listCountedBy(group: Group, column: Column): Counted | null {
	if (!hasLists(group)) return null;
	const told = numbersOf(group, column.path);
	const all = told.numbers.length;
	const isCounter = counts(column.path);
	let looked = 0;
	for (const list of listsCounted(column.path, told)) {
		if (++looked > MOST_LISTS) break;
		const fit = compared(list, told);
		if (!fit) continue;
		const { same, different } = fit;
		// Without a name that says so, it has to be right everywhere and differ here and there.
		const exact = same === all && all >= 5 && different.size > 1;
		if (!exact && !isCounter && likeness(column.path, [list]) < 0.7) continue;
		if (different.size < 2 && !isCounter) continue;
		return {
			counts: list,
			found: finding(
				atLeast(same, all) * (different.size > 1 ? 1 : 0.8),
				`In ${said(same)} of ${said(all)} records it is the number of items in ${list}.`
			)
		};
	}
	return null;
}

/** What a column counts; null where it does not seem to count. */
export function countedBy(group: Group, column: Column, groups: readonly Group[]): Counted | null {
	if (column.path.includes('[]') || patternOf(column.path) === group.key || column.filled < 1) return null;
	const { pool } = group.files[0]!.facts;
	// A column without a number counts nothing.
	if (!column.values.some((value) => Number.isFinite(pool.number(value)))) return null;
	const list = listCountedBy(group, column);
	if (list) return list;
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
