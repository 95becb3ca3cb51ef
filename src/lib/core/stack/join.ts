// How the cells of a record of a later layer come over those of the record below it, field by field, lists as the guide says.
import type { ListJoin } from '../guide';

/** A value of a record, and where it was said. */
export interface Cell<Origin> {
	path: string;
	/** Number of its text. */
	value: number;
	type: number;
	origin: Origin;
}

/** What is replaced as a whole: a list, or a single value. */
export const unitOf = (path: string): string => {
	const at = path.indexOf('[');
	return at < 0 ? path : path.slice(0, at);
};

/** What is known of a path: what is replaced with it, and the blocks that it lies in. */
interface PathParts {
	unit: string;
	above: string[];
}

/** Paths that were taken apart. */
let taken = new Map<string, PathParts>();
const MOST_TAKEN = 50_000;

function partsOf(path: string): PathParts {
	let parts = taken.get(path);
	if (!parts) {
		const unit = unitOf(path);
		const above: string[] = [];
		for (let at = unit.lastIndexOf('.'); at > 0; at = unit.lastIndexOf('.', at - 1))
			above.push(unit.slice(0, at));
		if (taken.size >= MOST_TAKEN) taken = new Map();
		taken.set(path, (parts = { unit, above }));
	}
	return parts;
}

/** An item of a list: its cells, with their paths below it. */
type Item<Origin> = Cell<Origin>[];

function itemsOf<Origin>(cells: readonly Cell<Origin>[], list: string): Item<Origin>[] {
	const items: Item<Origin>[] = [];
	for (const cell of cells) {
		const end = cell.path.indexOf(']', list.length);
		const nth = Number(cell.path.slice(list.length + 1, end));
		(items[nth] ??= []).push({ ...cell, path: cell.path.slice(end + 1) });
	}
	// Items that say nothing, as empty blocks, are no items here.
	return items.filter((item) => item !== undefined);
}

/** What tells an item from others: all it says, or its id. */
function nameOf<Origin>(item: Item<Origin>, { same, id }: ListJoin): string {
	if (same === 'id') {
		const named = item.find(({ path }) => path === `.${id}`);
		if (named) return `#${named.value}`;
	}
	return item.map(({ path, value }) => `${path}=${value}`).join('|');
}

/** The item that an item takes out, as its name: the mark is before a text, or before the id; null where it takes none out. */
function takenBy<Origin>(item: Item<Origin>, { out, same, id }: ListJoin, texts: Texts): string | null {
	const cell = item.find(({ path }) => path === '' || (same === 'id' && path === `.${id}`));
	const text = cell && texts.at(cell.value);
	if (out === undefined || !cell || !text?.startsWith(out)) return null;
	const value = texts.find(text.slice(out.length));
	return cell.path === '' ? `=${value}` : `#${value}`;
}

/** What an item of a later layer did to the list below. */
export interface ItemDone {
	effect: 'added' | 'replaced' | 'ignored' | 'removed' | 'nothing';
	/** What it names: its text or its id, without the mark that takes out. */
	name: string;
}

/** What an item is called: its text, its id, or the first that it says. */
function shownAs<Origin>(item: Item<Origin>, { same, id }: ListJoin, texts: Texts): string {
	const cell = (same === 'id' && item.find(({ path }) => path === `.${id}`)) || item[0]!;
	return texts.at(cell.value);
}

/** What reads and finds the texts of values. */
export interface Texts {
	at(value: number): string;
	find(text: string): number;
}

/** Two lists joined: the items that result, and what each item of the later one did. */
export function joinLists<Origin>(
	below: readonly Cell<Origin>[],
	own: readonly Cell<Origin>[],
	list: string,
	join: ListJoin,
	texts: Texts
): { cells: Cell<Origin>[]; effects: ItemDone[]; below: string[] } {
	let items = itemsOf(below, list);
	const names = items.map((item) => shownAs(item, join, texts));
	const effects = itemsOf(own, list).map((item, nth): ItemDone => {
		const name = shownAs(item, join, texts);
		const taken = takenBy(item, join, texts);
		if (taken !== null) {
			const left = items.filter((one) => nameOf(one, join) !== taken);
			const hit = left.length < items.length;
			items = left;
			return { effect: hit ? 'removed' : 'nothing', name: name.slice(join.out!.length) };
		}
		const there =
			join.same === 'position'
				? nth < items.length
					? nth
					: -1
				: items.findIndex((one) => nameOf(one, join) === nameOf(item, join));
		if (there < 0 || join.second === 'both') {
			items.push(item);
			return { effect: 'added', name };
		}
		if (join.second === 'first') return { effect: 'ignored', name };
		items = items.with(there, item);
		return { effect: 'replaced', name };
	});
	const cells = items.flatMap((item, nth) =>
		item.map((cell) => ({ ...cell, path: `${list}[${nth}]${cell.path}` }))
	);
	return { cells, effects, below: names };
}

/**
 * A record over the one below it, field by field.
 * @param joins which lists are joined, by their paths
 * @param removes whether a later cell removes what is below instead of saying something
 * @param heard is told what the items of each of them did, and what was below
 */
export function cellsOver<Origin>(
	below: readonly Cell<Origin>[],
	own: readonly Cell<Origin>[],
	joins: Readonly<Record<string, ListJoin>>,
	texts: Texts,
	removes: (cell: Cell<Origin>) => boolean = () => false,
	heard?: (list: string, effects: readonly ItemDone[], below: readonly string[]) => void
): Cell<Origin>[] {
	const units = new Map<string, Cell<Origin>[]>();
	for (const cell of own) {
		const { unit } = partsOf(cell.path);
		const list = units.get(unit);
		if (list) list.push(cell);
		else units.set(unit, [cell]);
	}
	// What is said of a block says nothing of the rest of it; a value in the place of a block takes it all.
	const holders = new Map<string, string>();
	for (const unit of units.keys()) for (const above of partsOf(unit).above) holders.set(above, unit);
	const hides = (path: string): string | null => {
		const { unit, above } = partsOf(path);
		if (units.has(unit)) return unit;
		return above.find((one) => units.has(one)) ?? holders.get(unit) ?? null;
	};
	const result: Cell<Origin>[] = [];
	const placed = new Set<string>();
	const put = (unit: string) => {
		if (placed.has(unit)) return;
		placed.add(unit);
		const cells = units.get(unit)!.filter((cell) => !removes(cell));
		if (cells.length === 0) return;
		const join = joins[unit];
		if (!join || !cells[0]!.path.startsWith(`${unit}[`)) {
			for (const cell of cells) result.push(cell);
			return;
		}
		const under = below.filter(({ path }) => path.startsWith(`${unit}[`));
		const joined = joinLists(under, cells, unit, join, texts);
		heard?.(unit, joined.effects, joined.below);
		for (const cell of joined.cells) result.push(cell);
	};
	for (const cell of below) {
		const unit = hides(cell.path);
		if (unit === null) result.push(cell);
		else put(unit);
	}
	for (const unit of units.keys()) put(unit);
	return result;
}
