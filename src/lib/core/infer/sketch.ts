// What a file's columns hold, in numbers: read once from its facts, added up for a kind.
import type { Facts, Pool } from '../facts';
import { addTo } from '../gather';
import { headOf, pathMatcher, patternOf, tailOf, topOf } from '../guide';
import type { DataFile } from './group';
import { isKept, letRunsGo, runsOf, type Cells } from './together';

/** One column of a kind, over all its files: items of a list count as one column. */
export interface Column {
	/** The path, with `[]` for any item of a list. */
	path: string;
	/** Texts that it takes, and how often each; the empty text is not among them. */
	values: Int32Array;
	counts: Int32Array;
	/** Records that have it, cells that it has in all, and how many of these are filled. */
	records: number;
	cells: number;
	filled: number;
	/** Cells of each type of formats with types; see `kindOfScalar`. */
	types: [number, number, number, number];
}

/** The columns of a kind or a file, and how many records they are of. */
export interface Sketch {
	count: number;
	columns: Map<string, Column>;
}

const patterns = new WeakMap<Pool, Map<number, string>>();

/** The pattern of a path that is in a pool; see `patternOf`. */
export function patternAt(pool: Pool, path: number): string {
	let known = patterns.get(pool);
	if (!known) patterns.set(pool, (known = new Map()));
	let pattern = known.get(path);
	if (pattern === undefined) known.set(path, (pattern = patternOf(pool.at(path))));
	return pattern;
}

const tops = new WeakMap<Int32Array, ReadonlySet<string>>();
const topsByNames = new WeakMap<Pool, Map<string, ReadonlySet<string>>>();

/** The fields of a shape as a record shows them: lists and maps as a whole. Made once for the same fields. */
export function topsAt(pool: Pool, paths: Int32Array): ReadonlySet<string> {
	let known = tops.get(paths);
	if (known) return known;
	let byNames = topsByNames.get(pool);
	if (!byNames) topsByNames.set(pool, (byNames = new Map()));
	const own = new Set<string>();
	for (const path of paths) own.add(topOf(pool.at(path)));
	// Shapes differ by what is in their lists: thousands have the same fields.
	const names = JSON.stringify([...own]);
	known = byNames.get(names);
	if (!known) byNames.set(names, (known = own));
	tops.set(paths, known);
	return known;
}

/** Where the columns of a shape are in its records: the places of a pattern, and of a list how many items it has. */
export interface Places {
	/** The place of a path; undefined where the shape has it not. */
	of(path: string): number | undefined;
	/** Paths and places of the cells of a pattern. */
	ofPattern(pattern: string): readonly (readonly [string, number])[];
	/** How many items each list has that is in no other. */
	items: ReadonlyMap<string, number>;
	/** The lists of a number of items. */
	ofItems(count: number): readonly string[];
	/** The lists that stand beside a path. */
	listsBeside(path: string): readonly string[];
}

const NONE: readonly never[] = [];

/** What holds a path. */
const holderOf = (path: string): string => path.slice(0, Math.max(0, path.lastIndexOf('.')));

let matchers = new Map<string, (path: string) => boolean>();

/** What tells which paths a pattern means. Made once for the same pattern, until the places are let go. */
function matcherFor(pattern: string): (path: string) => boolean {
	let known = matchers.get(pattern);
	if (!known) matchers.set(pattern, (known = pathMatcher(pattern)));
	return known;
}

/** Those of some paths, in their order, that begin with a text. */
function beginningWith(sorted: readonly [string, number][], head: string): [string, number][] {
	let [low, high] = [0, sorted.length];
	while (low < high) {
		const middle = (low + high) >> 1;
		if (sorted[middle]![0] < head) low = middle + 1;
		else high = middle;
	}
	let end = low;
	while (end < sorted.length && sorted[end]![0].startsWith(head)) end++;
	return sorted.slice(low, end);
}

function readPlaces(pool: Pool, paths: Int32Array): Places {
	const byPath = new Map<string, number>();
	const byPattern = new Map<string, [string, number][]>();
	const items = new Map<string, Set<string>>();
	paths.forEach((text, at) => byPath.set(pool.at(text), at));
	paths.forEach((text, at) => {
		const path = pool.at(text);
		const list = path.indexOf('[');
		if (list > 0) {
			const name = path.slice(0, list);
			const known = items.get(name);
			const item = path.slice(list, path.indexOf(']'));
			if (known) known.add(item);
			else items.set(name, new Set([item]));
		}
		// Of a path that comes twice the last counts.
		if (byPath.get(path) !== at) return;
		const pattern = patternAt(pool, text);
		const cells = byPattern.get(pattern);
		if (cells) cells.push([path, at]);
		else byPattern.set(pattern, [[path, at]]);
	});
	const counts = new Map([...items].map(([list, { size }]) => [list, size] as const));
	const byCount = new Map<number, string[]>();
	for (const [list, count] of counts) {
		const lists = byCount.get(count);
		if (lists) lists.push(list);
		else byCount.set(count, [list]);
	}
	const byHolder = new Map<string, string[]>();
	for (const list of counts.keys()) {
		const lists = byHolder.get(holderOf(list));
		if (lists) lists.push(list);
		else byHolder.set(holderOf(list), [list]);
	}
	let sorted: [string, number][] | undefined;
	let byTail: Map<string, [string, number][]> | undefined;
	/** Those among which all are that a pattern means. */
	const around = (pattern: string) => {
		const tail = tailOf(pattern);
		if (tail === null) {
			sorted ??= [...byPath].sort(([a], [b]) => (a < b ? -1 : 1));
			return beginningWith(sorted, headOf(pattern));
		}
		if (!byTail) {
			byTail = new Map();
			for (const place of byPath) addTo(byTail, tailOf(place[0]) ?? '', place);
		}
		return byTail.get(tail) ?? [];
	};
	return {
		of: (path) => byPath.get(path),
		ofPattern(pattern) {
			let cells = byPattern.get(pattern);
			if (!cells && /\*|\[\d/.test(pattern)) {
				// In the order of the file, as they all are.
				cells = around(pattern)
					.filter(([path]) => matcherFor(pattern)(path))
					.sort(([, a], [, b]) => a - b);
				byPattern.set(pattern, cells);
			}
			return cells ?? NONE;
		},
		items: counts,
		ofItems: (count) => byCount.get(count) ?? NONE,
		listsBeside: (path) => byHolder.get(holderOf(path)) ?? NONE
	};
}

let places = new WeakMap<Cells, Places[]>();
let byShape = new WeakMap<Int32Array, Places>();

/** The places of a shape. Made once for the same shape, however many files have it. */
function placesIn(pool: Pool, paths: Int32Array): Places {
	let known = byShape.get(paths);
	if (!known) byShape.set(paths, (known = readPlaces(pool, paths)));
	return known;
}

/** The places of each shape of a file. Made once for the same facts, until they are let go. */
export function placesOf(cells: Cells): readonly Places[] {
	let known = places.get(cells);
	if (!known) places.set(cells, (known = cells.shapes.map((paths) => placesIn(cells.pool, paths))));
	return known;
}

/** Forgets the places: they are needed while it is found out what the columns are, and take room. */
export function letPlacesGo(): void {
	places = new WeakMap();
	byShape = new WeakMap();
	matchers = new Map();
	letRunsGo();
}

const sketches = new WeakMap<Facts, Sketch>();

/** The columns of a file. Made once for the same facts, unless they are few. */
export function sketchOf(facts: Facts): Sketch {
	let sketch = sketches.get(facts);
	if (sketch) return sketch;
	sketch = readSketch([facts], patternOf);
	if (isKept(facts)) sketches.set(facts, sketch);
	return sketch;
}

const patternsIn = new WeakMap<Facts, ReadonlySet<string>>();

/** The names of the columns of a file. Made once for the same facts. */
export function columnNames(facts: Facts): ReadonlySet<string> {
	let names = patternsIn.get(facts);
	if (!names) {
		const { pool, shapes } = facts;
		names = new Set(shapes.flatMap((paths) => Array.from(paths, (path) => patternAt(pool, path))));
		patternsIn.set(facts, names);
	}
	return names;
}

/** A column that is being counted. */
interface Open {
	path: string;
	records: number;
	last: number;
	cells: number;
	filled: number;
	types: [number, number, number, number];
	/** Where its next value goes among those of all columns. */
	next: number;
}

/** The columns of files together, named by the paths of their cells; cells whose column has no name are left out. */
export function readSketch(files: readonly Cells[], nameOf: (path: string) => string): Sketch {
	const open: Open[] = [];
	const byPath = new Map<string, number>();
	const columnOf = new Map<number, number>();
	const columnFor = (pool: Pool, text: number): number => {
		let column = columnOf.get(text);
		if (column !== undefined) return column;
		const path = nameOf(pool.at(text));
		column = path === '' ? -1 : (byPath.get(path) ?? -2);
		if (column === -2) {
			byPath.set(path, (column = open.length));
			open.push({ path, records: 0, last: -1, cells: 0, filled: 0, types: [0, 0, 0, 0], next: 0 });
		}
		columnOf.set(text, column);
		return column;
	};
	const known = new Map<Int32Array, Int32Array>();
	const placedIn = (pool: Pool, paths: Int32Array) => {
		let own = known.get(paths);
		if (!own) {
			own = paths.map((path) => columnFor(pool, path));
			known.set(paths, own);
		}
		return own;
	};
	const placed = files.map(({ pool, shapes }) => shapes.map((paths) => placedIn(pool, paths)));
	files.forEach((facts, at) => countCells(facts, placed[at]!, open));
	let filled = 0;
	for (const column of open) {
		column.next = filled;
		filled += column.filled;
	}
	const values = new Int32Array(filled);
	files.forEach((facts, at) => takeValues(facts, placed[at]!, open, values));
	if (files[0]) makeRoom(files[0].pool.size);
	const counts = new Int32Array(filled);
	return {
		count: files.reduce((sum, { count }) => sum + count, 0),
		columns: new Map(open.map((column) => [column.path, closed(column, values, counts)]))
	};
}

/** Counts the cells of each column. */
function countCells(
	{ count, shape, firsts, values, types }: Cells,
	placed: readonly Int32Array[],
	open: readonly Open[]
): void {
	for (const column of open) column.last = -1;
	for (let nth = 0; nth < count; nth++) {
		const columns = placed[shape[nth]!];
		if (!columns) continue;
		let cell = firsts[nth]!;
		for (let at = 0; at < columns.length; at++, cell++) {
			const place = columns[at]!;
			if (place < 0) continue;
			const column = open[place]!;
			column.types[types[cell] as 0]++;
			column.cells++;
			if (column.last !== nth) {
				column.last = nth;
				column.records++;
			}
			if (values[cell] !== 0) column.filled++;
		}
	}
}

/** Puts the values of each column beside each other. */
function takeValues(
	{ count, shape, firsts, values }: Cells,
	placed: readonly Int32Array[],
	open: readonly Open[],
	into: Int32Array
): void {
	for (let nth = 0; nth < count; nth++) {
		const columns = placed[shape[nth]!];
		if (!columns) continue;
		let cell = firsts[nth]!;
		for (let at = 0; at < columns.length; at++, cell++) {
			const value = values[cell]!;
			if (value !== 0 && columns[at]! >= 0) into[open[columns[at]!]!.next++] = value;
		}
	}
}

/** Where a text is in the list that is being made, plus one; all 0 in between. */
let slots = new Int32Array(0);

/** Makes room for texts up to one. */
function makeRoom(largest: number): void {
	if (slots.length <= largest) slots = new Int32Array(Math.ceil((largest + 1) * 1.25));
}

/** A column with each of its values once, in the order in which they come, and how often. */
function closed(column: Open, all: Int32Array, counts: Int32Array): Column {
	const { next, filled } = column;
	const from = next - filled;
	const own = all.subarray(from, next);
	let size = 0;
	for (let at = 0; at < own.length; at++) {
		const value = own[at]!;
		let slot = slots[value]!;
		if (slot === 0) {
			slot = slots[value] = ++size;
			// What was read here is not needed any more.
			own[size - 1] = value;
		}
		counts[from + slot - 1]!++;
	}
	for (let at = 0; at < size; at++) slots[own[at]!] = 0;
	const { path, records, cells, types } = column;
	// Views where nearly all is used, so that a column takes no more room than its values.
	const part = (list: Int32Array) =>
		size > filled / 2 ? list.subarray(from, from + size) : list.slice(from, from + size);
	return { path, values: part(all), counts: part(counts), records, cells, filled, types };
}

const sums = new WeakMap<Facts, { files: readonly Facts[]; sum: Sketch }>();

/** The columns of several files together. Made once for the same files. */
export function sketchOfAll(files: readonly DataFile[]): Sketch {
	const all = files.map(({ facts }) => facts);
	const [first] = all;
	if (!first || all.length === 1) return first ? sketchOf(first) : { count: 0, columns: new Map() };
	const old = sums.get(first);
	if (old?.files.length === all.length && old.files.every((facts, at) => facts === all[at])) return old.sum;
	const few = all.filter((facts) => !isKept(facts));
	const many = all.filter(isKept).map(sketchOf);
	const together = many.length > 0 ? few : runsOf(files).map(({ cells }) => cells);
	const rest = few.length === 0 ? [] : [readSketch(together, patternOf)];
	const sum = addUp(all.indexOf(few[0]!) === 0 ? [...rest, ...many] : [...many, ...rest]);
	sums.set(first, { files: all, sum });
	return sum;
}

function addColumns(path: string, list: readonly Column[], largest: number): Column {
	makeRoom(largest);
	const room = list.reduce((sum, { values }) => sum + values.length, 0);
	const [values, counts] = [new Int32Array(room), new Int32Array(room)];
	const sum: Column = { path, values, counts, records: 0, cells: 0, filled: 0, types: [0, 0, 0, 0] };
	let size = 0;
	for (const column of list) {
		sum.records += column.records;
		sum.cells += column.cells;
		sum.filled += column.filled;
		column.types.forEach((number, type) => (sum.types[type as 0] += number));
		for (let at = 0; at < column.values.length; at++) {
			const value = column.values[at]!;
			let slot = slots[value]!;
			if (slot === 0) {
				slot = slots[value] = ++size;
				values[slot - 1] = value;
			}
			counts[slot - 1]! += column.counts[at]!;
		}
	}
	for (let at = 0; at < size; at++) slots[values[at]!] = 0;
	return { ...sum, values: values.slice(0, size), counts: counts.slice(0, size) };
}

function addUp(list: readonly Sketch[]): Sketch {
	if (list.length === 1) return list[0]!;
	const byPath = new Map<string, Column[]>();
	let count = 0;
	let largest = 0;
	for (const sketch of list) {
		count += sketch.count;
		for (const [path, column] of sketch.columns) {
			const columns = byPath.get(path);
			if (columns) columns.push(column);
			else byPath.set(path, [column]);
			for (const value of column.values) if (value > largest) largest = value;
		}
	}
	return {
		count,
		columns: new Map([...byPath].map(([path, columns]) => [path, addColumns(path, columns, largest)]))
	};
}
