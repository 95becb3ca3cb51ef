import { largest, smallest } from '../gather';
import { coverage, type Band } from '../numbers';
import { derived, type Table } from '../stack';
import { snagAt, type Rule } from './snag';

/** The ranges of a kind's records on some axes, with the row of each; those without are left out. */
export function bandsOf(
	table: Table,
	axes: readonly { from: string; to: string }[]
): (Band & { row: number })[] {
	const name = `bands ${axes.map(({ from, to }) => `${from} ${to}`).join(' ')}`;
	return derived(table, name, () => readBands(table, axes));
}

function readBands(table: Table, axes: readonly { from: string; to: string }[]): (Band & { row: number })[] {
	const columns = axes.map(({ from, to }) => [table.column(from), table.column(to)] as const);
	const number = (value: number) => (value < 0 ? NaN : table.pool.number(value));
	const bands: (Band & { row: number })[] = [];
	for (let row = 0; row < table.count; row++) {
		const ranges = columns.map(([from, to]): [number, number] => [number(from[row]!), number(to[row]!)]);
		if (ranges.every(([from, to]) => from < to))
			bands.push({ id: table.pool.at(table.rows.ids[row]!), row, ranges });
	}
	return bands;
}

/** Rules over ranges that overlap, or that leave gaps which nothing else covers. */
export const overlaps: Rule = {
	id: 'overlaps',
	title: 'Ranges overlap or leave gaps',
	reads: ['records'],
	*find({ stack }) {
		for (const table of stack.tables.values())
			for (const { axes, fallback, found } of table.guide.covers ?? []) {
				if (found && found.sure < 0.9) continue;
				const bands = bandsOf(table, axes);
				if (bands.length === 0) continue;
				const ends = axes.map(({ low, high }, axis): [number, number] => [
					low ?? smallest(bands.map(({ ranges }) => ranges[axis]![0])),
					high ?? largest(bands.map(({ ranges }) => ranges[axis]![1]))
				]);
				const said = new Set<number>();
				for (const { ranges, over } of coverage(bands, ends)) {
					const where = ranges.map(([from, to], axis) => `${axes[axis]!.from} ${from} to ${to}`).join(', ');
					if (over.length > 1) {
						const [first, second] = [bands[over[0]!]!, bands[over[1]!]!];
						if (said.has(second.row)) continue;
						said.add(second.row);
						const record = table.record(second.row);
						yield snagAt(stack, record, record.presences.at(-1)!, {
							rule: 'overlaps',
							severity: 'warns',
							field: axes[0]!.from,
							message: `${second.id} overlaps ${first.id} at ${where}. The game uses the first and never reaches the other there.`,
							repairable: false
						});
					} else if (over.length === 0 && fallback === undefined && !said.has(-1)) {
						said.add(-1);
						const record = table.record(bands[0]!.row);
						yield snagAt(stack, record, record.presences.at(-1)!, {
							rule: 'overlaps',
							severity: 'warns',
							message: `No ${table.guide.title.toLowerCase()} covers ${where}, and there is no fallback.`,
							repairable: false
						});
					}
				}
			}
	}
};
