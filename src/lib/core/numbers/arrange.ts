import type { TableRow, TableView } from '../views';

const COMPARE = /^([^<>=\s]+)\s*(<=|>=|<|>|=)\s*(-?\d+(?:\.\d+)?)$/;

type Test = (row: TableRow) => boolean;

/** A word of a filter: `speed>20` compares a column, anything else must stand somewhere in the row. */
function testOf(table: Pick<TableView, 'columns'>, word: string): Test {
	const match = COMPARE.exec(word);
	const wanted = match?.[1]?.toLowerCase();
	const column = table.columns.findIndex(
		(candidate) => candidate.path.toLowerCase() === wanted || candidate.title.toLowerCase() === wanted
	);
	if (!match || column < 0) {
		const folded = word.toLowerCase();
		return (row) =>
			[row.id, row.name ?? '', ...row.cells].some((text) => text.toLowerCase().includes(folded));
	}
	const limit = Number(match[3]);
	const compare: Record<string, (value: number) => boolean> = {
		'<': (value) => value < limit,
		'>': (value) => value > limit,
		'<=': (value) => value <= limit,
		'>=': (value) => value >= limit,
		'=': (value) => value === limit
	};
	return (row) => row.cells[column] !== '' && compare[match[2]!]!(Number(row.cells[column]));
}

/**
 * The rows of a table that pass a filter, sorted. Words of the filter must all pass; sorting is by a column's path,
 * downwards with `-` before it, `name` and `id` too; numbers by value and behind them what is no number.
 */
export function arrange(
	table: Pick<TableView, 'columns' | 'rows'>,
	{ filter, sort, only }: { filter: string; sort: string; only: boolean }
): TableRow[] {
	const tests = filter
		.split(/\s+/)
		.filter((word) => word !== '')
		.map((word) => testOf(table, word));
	const rows = table.rows.filter((row) => (!only || row.mine) && tests.every((test) => test(row)));
	if (sort === '') return rows;
	const down = sort.startsWith('-');
	const path = down ? sort.slice(1) : sort;
	const column = table.columns.findIndex((candidate) => candidate.path === path);
	const value = (row: TableRow) =>
		column >= 0 ? row.cells[column]! : path === 'name' ? (row.name ?? '') : row.id;
	const numeric = column >= 0 && table.columns[column]!.numeric;
	const collator = new Intl.Collator('en', { numeric: true });
	return rows.sort((a, b) => {
		const [x, y] = [value(a), value(b)];
		if ((x === '') !== (y === '')) return x === '' ? 1 : -1;
		return (numeric ? Number(x) - Number(y) : collator.compare(x, y)) * (down ? -1 : 1);
	});
}
