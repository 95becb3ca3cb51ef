// Cells as text, for the clipboard: a line for each row, its cells with tabs between them.
import type { TableRow } from '$core/views';

type Row = Pick<TableRow, 'id' | 'cells'> | undefined;

/** Rows as lines of the cells at some places; before them the id, where that is asked for. */
export const asLines = (rows: readonly Row[], places: readonly number[], withId: boolean): string =>
	rows
		.map((row) =>
			[...(withId ? [row?.id ?? ''] : []), ...places.map((at) => row?.cells[at] ?? '')].join('\t')
		)
		.join('\n');

/** Lines of cells from a text; the end of the last line counts for nothing. */
export const linesOf = (text: string): string[][] =>
	text
		.replace(/\r?\n$/, '')
		.split(/\r?\n/)
		.map((line) => line.split('\t'));

const isOne = (lines: readonly string[][]) => lines.length === 1 && lines[0]!.length === 1;

/** How many rows and columns lines of cells go over; one value alone fills all that is chosen. */
export const sizeOf = (lines: readonly string[][], rows: number, columns: number): [number, number] =>
	isOne(lines) ? [rows, columns] : [lines.length, Math.max(...lines.map((line) => line.length))];

/** What changes where lines of cells go over rows; cells that say the same already are left out. */
export function overCells(
	rows: readonly Row[],
	columns: readonly { path: string; index: number }[],
	lines: readonly string[][]
): { id: string; field: string; value: string }[] {
	const one = isOne(lines) ? lines[0]![0]! : null;
	return rows.flatMap((row, y) =>
		columns.flatMap(({ path, index }, x) => {
			const value = one ?? lines[y]?.[x];
			return row && value !== undefined && row.cells[index] !== value
				? [{ id: row.id, field: path, value }]
				: [];
		})
	);
}
