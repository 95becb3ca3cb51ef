// What a record inherits from another of its kind: whatever it does not say itself, as it is there or changed by a
// number; lists as they are there, without some of their items and with others behind them. Blocks are taken over whole.
import { topOf } from '../guide';
import { derived } from './derived';
import type { Table } from './table';
import { cellsOf } from './wide';

/** Records that are gone through on the way up. */
const HIGHEST = 100;

/** A value that a record does not say itself. */
export interface Inherited {
	value: string;
	/** The row that says it. */
	from: number;
	/** Whether it is as it is there, was added to or multiplied on the way, or is an item that was put into a list. */
	how: 'same' | 'added' | 'multiplied' | 'put in';
}

/** The row that each row inherits from; -1 for none. */
const parentsOf = (table: Table): Int32Array =>
	derived(table, 'rows taken over from', () => {
		const cell = cellsOf(table, table.guide.inherits!.from);
		return Int32Array.from({ length: table.count }, (_, row) => {
			const value = cell(row);
			return value > 0 ? (table.rows.byText.get(value) ?? -1) : -1;
		});
	});

/** What records do not take over: what says who they are and what becomes of the rest. */
function isOwn({ guide: { key, inherits } }: Table, path: string): boolean {
	const { from, pattern, adds, times, appends, drops } = inherits!;
	return [key, from, pattern, adds, times, appends, drops].includes(topOf(path)) || path === key;
}

/** The fields that each shape of a file's records has, by their numbers. */
const known = new WeakMap<Int32Array, Set<string>>();

/** Whether a row says anything of a field itself. */
function says({ rows, files, pool }: Table, row: number, top: string): boolean {
	for (let at = rows.firsts[row + 1]! - 1; at >= rows.firsts[row]!; at--) {
		const { facts } = files[rows.file[at]!]!;
		const shape = facts.shapes[facts.shape[rows.nth[at]!]!];
		if (!shape) continue;
		let tops = known.get(shape);
		if (!tops) known.set(shape, (tops = new Set(Array.from(shape, (path) => topOf(pool.at(path))))));
		return tops.has(top);
	}
	return false;
}

const numberIn = (table: Table, row: number, path: string): number => {
	const value = cellsOf(table, path)(row);
	return value > 0 ? table.pool.number(value) : NaN;
};

/** A number without the noise of binary fractions. */
const plain = (number: number): string => String(Number(number.toPrecision(12)));

/** An item of a list of plain values: `marks[2]`. */
const ITEM = /^([^.[\]]+)\[(\d+)\]$/;

/** The items of a list of plain values that a record has under a path, in their order. */
function itemsAt(table: Table, row: number, path: string): string[] {
	const items: string[] = [];
	for (;;) {
		const value = cellsOf(table, `${path}[${items.length}]`)(row);
		if (value <= 0) return items;
		items.push(table.pool.at(value));
	}
}

/**
 * The items of a list that a record does not say itself, with those that were taken out and put in on the way; null where
 * it says the list itself, or there is none.
 */
function inheritedList(table: Table, row: number, top: string): Inherited[] | null {
	const { appends, drops } = table.guide.inherits!;
	const parents = parentsOf(table);
	const below: number[] = [];
	let at = row;
	for (let step = 0; step < HIGHEST && at >= 0 && !says(table, at, top); step++) {
		below.push(at);
		at = parents[at]!;
	}
	if (at === row) return null;
	let items =
		at < 0 ? [] : itemsAt(table, at, top).map((value): Inherited => ({ value, from: at, how: 'same' }));
	for (const one of below.toReversed()) {
		const out = drops === undefined ? [] : itemsAt(table, one, `${drops}.${top}`);
		const more = appends === undefined ? [] : itemsAt(table, one, `${appends}.${top}`);
		items = [
			...items.filter(({ value }) => !out.includes(value)),
			...more.map((value): Inherited => ({ value, from: one, how: 'put in' }))
		];
	}
	return items;
}

/** Whether lists of a kind are changed on the way. */
const changesLists = ({ guide: { inherits } }: Table): boolean =>
	inherits?.appends !== undefined || inherits?.drops !== undefined;

/** The value of a field that a record does not say itself and inherits; null where there is none, or it says it. */
export function inheritedValue(table: Table, row: number, path: string): Inherited | null {
	const { inherits } = table.guide;
	if (!inherits || isOwn(table, path)) return null;
	const [, list, nth] = ITEM.exec(path) ?? [];
	if (list !== undefined && changesLists(table))
		return inheritedList(table, row, list)?.[Number(nth)] ?? null;
	const top = topOf(path);
	const parents = parentsOf(table);
	// Numbers that are added or multiplied with on the way, the nearest first.
	const changes: ((value: number) => number)[] = [];
	let how: Inherited['how'] = 'same';
	let at = row;
	for (let step = 0; step < HIGHEST && at >= 0 && !says(table, at, top); step++) {
		const { adds, times } = inherits;
		const more = adds === undefined ? NaN : numberIn(table, at, `${adds}.${path}`);
		const factor = times === undefined ? NaN : numberIn(table, at, `${times}.${path}`);
		if (!Number.isNaN(factor)) changes.push((value) => value * factor);
		if (!Number.isNaN(more)) changes.push((value) => value + more);
		if (!Number.isNaN(factor)) how = 'multiplied';
		else if (!Number.isNaN(more) && how === 'same') how = 'added';
		at = parents[at]!;
	}
	if (at < 0 || at === row || !says(table, at, top)) return null;
	const value = cellsOf(table, path)(at);
	if (value < 0) return null;
	const number = table.pool.number(value);
	return changes.length === 0 || Number.isNaN(number)
		? { value: table.pool.at(value), from: at, how: 'same' }
		: { value: plain(changes.reduceRight((sum, change) => change(sum), number)), from: at, how };
}

/** The lists that a record, or one above it, puts items into or takes some out of. */
function listsChanged(table: Table, row: number): Set<string> {
	const { appends, drops } = table.guide.inherits!;
	const parents = parentsOf(table);
	const found = new Set<string>();
	for (let step = 0, at = row; step < HIGHEST && at >= 0; step++, at = parents[at]!)
		for (const path of table.record(at).values.keys())
			for (const map of [appends, drops])
				if (map !== undefined && path.startsWith(`${map}.`)) {
					const [, list] = ITEM.exec(path.slice(map.length + 1)) ?? [];
					if (list !== undefined) found.add(list);
				}
	return found;
}

/** A list as it is in the end, also where it is longer than those above. */
function putList(table: Table, row: number, list: string, into: Map<string, Inherited>): void {
	const items = inheritedList(table, row, list);
	items?.forEach((item, nth) => into.set(`${list}[${nth}]`, item));
}

/** Everything that a record inherits, by path. */
export function inheritedIn(table: Table, row: number): Map<string, Inherited> {
	const found = new Map<string, Inherited>();
	if (!table.guide.inherits) return found;
	const parents = parentsOf(table);
	for (let step = 0, at = parents[row]!; step < HIGHEST && at >= 0 && at !== row; step++, at = parents[at]!)
		for (const path of table.record(at).values.keys()) {
			if (found.has(path)) continue;
			const value = inheritedValue(table, row, path);
			if (value) found.set(path, value);
		}
	if (changesLists(table)) for (const list of listsChanged(table, row)) putList(table, row, list, found);
	return found;
}

/**
 * The text of a field in every row as the game sees it: of what a record does not say itself, what it inherits; -1
 * where there is neither.
 */
export function effectiveColumn(table: Table, path: string): Int32Array {
	const own = table.column(path);
	if (!table.guide.inherits || isOwn(table, path)) return own;
	return derived(table, `taken over ${path}`, () => {
		const parents = parentsOf(table);
		return own.map((value, row) => {
			if (value >= 0 || parents[row]! < 0) return value;
			const found = inheritedValue(table, row, path);
			return found ? table.pool.of(found.value) : value;
		});
	});
}
