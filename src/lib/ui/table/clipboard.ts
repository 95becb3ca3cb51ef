// A chosen block of a grid, out to the clipboard and over it from there.
import { asLines, linesOf, overCells, sizeOf } from './cells';
import type { Block } from './focus.svelte';
import type { Rows } from './rows.svelte';

/** A column that is shown, with its number among all columns of the table. */
interface Shown {
	column: { path: string };
	index: number;
}

/** The chosen block as lines of cells; with nothing chosen but a row, its id. */
export async function chosenText(rows: Rows, block: Block, columns: readonly Shown[]): Promise<string> {
	const list = await rows.between(block.top, block.bottom);
	const order = columns.slice(Math.max(0, block.first), block.last + 1);
	return asLines(
		list,
		order.map(({ index }) => index),
		block.first < 0
	);
}

/** How many values a block holds. */
export const valuesIn = ({ top, bottom, first, last }: Block): number =>
	(bottom - top + 1) * (last - Math.max(0, first) + 1);

/**
 * What a text changes that is put over the cells from the first of a block on; one value alone fills the whole block.
 * @param count rows of the table
 */
export async function pastedCells(
	rows: Rows,
	block: Block,
	columns: readonly Shown[],
	count: number,
	text: string
): Promise<ReturnType<typeof overCells>> {
	const lines = linesOf(text);
	const [height, across] = sizeOf(lines, block.bottom - block.top + 1, block.last - block.first + 1);
	const list = await rows.between(block.top, Math.min(count - 1, block.top + height - 1));
	const into = columns.slice(block.first, block.first + across);
	return overCells(
		list,
		into.map(({ column, index }) => ({ path: column.path, index })),
		lines
	);
}
