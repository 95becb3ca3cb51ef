// Which columns of a table are shown, in which order, and where each stands: for the page, the choice and the grid.
import type { Column, TableView } from '$core/views';

/** What the address says of the columns. */
export interface ColumnWish {
	/** Paths that are shown, in order; none for all, as the guide has them. */
	cols: readonly string[];
	/** Paths that stay in sight beside the name. */
	pin: readonly string[];
	/** Whether the columns are in the groups of the guide. */
	grouped: boolean;
	/** Groups of which only the first column is shown. */
	folded: readonly string[];
}

/** Columns under one title. */
export interface Band {
	title: string;
	/** Place of its first column among those that are shown, and how many there are. */
	from: number;
	count: number;
	/** How many are folded away. */
	hidden: number;
}

export interface Arranged {
	/** Paths of the columns, the pinned ones first. */
	paths: string[];
	pinned: number;
	bands: Band[];
}

/** The columns that are shown, in their order. */
export function arrange(
	{ columns, groups }: Pick<TableView, 'columns' | 'groups'>,
	{ cols, pin, grouped, folded }: ColumnWish
): Arranged {
	const byPath = new Map(columns.map((column) => [column.path, column]));
	const wanted = cols.filter((path) => byPath.has(path));
	const shown = wanted.length > 0 ? wanted : [...byPath.keys()];
	const pins = pin.filter((path) => shown.includes(path));
	let rest = shown.filter((path) => !pins.includes(path));
	const bands: Band[] = [];
	if (grouped) {
		const titles = [...new Set([...groups, ...columns.map(({ group }) => group ?? '')])];
		const kept: string[] = [];
		for (const title of titles) {
			const own = rest.filter((path) => (byPath.get(path)!.group ?? '') === title);
			if (own.length === 0) continue;
			const some = folded.includes(title) ? own.slice(0, 1) : own;
			bands.push({
				title,
				from: pins.length + kept.length,
				count: some.length,
				hidden: own.length - some.length
			});
			kept.push(...some);
		}
		rest = kept;
	}
	return { paths: [...pins, ...rest], pinned: pins.length, bands };
}

/** Width of a column in pixels, by its head and its longest value. */
export const widthOf = ({ title, unit, letters, ticks }: Column): number =>
	Math.min(
		280,
		Math.max(ticks ? 84 : 52, Math.max(title.length + (unit ? unit.length + 1 : 0) + 2, letters) * 8 + 18)
	);

/** Left edges of columns that stand side by side from `start` on, in pixels. */
export function leftsOf(widths: readonly number[], start: number): number[] {
	let sum = start;
	return widths.map((own) => (sum += own) - own);
}

/**
 * The first and the last column, behind those that are pinned, that can be seen between two edges, with one more at
 * both ends.
 */
export function inSight(
	lefts: readonly number[],
	widths: readonly number[],
	pinned: number,
	[left, right]: readonly [number, number]
): [number, number] {
	let from = pinned;
	while (from < lefts.length - 1 && lefts[from]! + widths[from]! <= left) from++;
	let to = from;
	while (to < lefts.length && lefts[to]! < right) to++;
	return [Math.max(pinned, from - 1), Math.min(lefts.length - 1, to)];
}

/** Letters of an id are so wide, a name has so much room beside it, and both together have at most this, in px. */
const HEAD = { letter: 7.3, name: 130, most: 400 };

/** Width of the first column, in px: room for the longest id, beside the name where rows have one. */
export const headWidth = ({ named, letters }: Pick<TableView, 'named' | 'letters'>): number =>
	Math.round(
		Math.min(HEAD.most, Math.max(named ? 232 : 200, letters * HEAD.letter + 40 + (named ? HEAD.name : 0)))
	);
