import { placeIn, rankIn, sortedColumn, type Sorted } from '../numbers';
import { baseValueOf, cellsOf, isEditable, isWide } from '../stack';
import { fieldsIn, myRows } from './fields';
import { limitFault, typeFault } from './values';
import { quoted, snagAt, type Rule } from './snag';

/** Records from which on what others have says something. */
const ENOUGH = 8;

/** The second smallest and the second largest of the different numbers of a column; null where they say nothing. */
function endsOf({ numbers, filled }: Sorted): [number, number] | null {
	if (numbers.length < ENOUGH || numbers.length < filled * 0.9) return null;
	const low = placeIn(numbers, numbers[0]!, true);
	const high = placeIn(numbers, numbers.at(-1)!, false) - 1;
	// Fewer than four different numbers are no spread.
	if (low >= high || numbers[low] === numbers[high]) return null;
	return [numbers[low]!, numbers[high]!];
}

/** A number of mine that lies far from all others of its kind. */
export const unusualValue: Rule = {
	id: 'unusual-value',
	title: 'Unusual value',
	reads: ['records'],
	*find({ stack }) {
		if (!stack.mine) return;
		for (const table of stack.tables.values()) {
			const mine = table.files.some(({ layer }) => isEditable(layer));
			if (!mine || table.count < ENOUGH) continue;
			const rows = myRows(table);
			// Of a wide table only what my records have.
			const own = isWide(table)
				? new Set([...rows].flatMap((row) => [...table.record(row).values.keys()]))
				: null;
			for (const [path, field] of fieldsIn(table)) {
				if (own && !own.has(path)) continue;
				if (field.reference || field.unused || field.type === 'flags' || field.type === 'code') continue;
				const ends = endsOf(sortedColumn(table, path));
				if (!ends) continue;
				const [low, high] = ends;
				const width = high - low;
				const isFar = (number: number) => number < low - width || number > high + width;
				const cell = table.guide.inherits ? () => -1 : cellsOf(table, path);
				for (const row of rows) {
					// Most are not, which the column tells without a look into the record.
					const text = cell(row);
					const told = text < 0 ? NaN : table.pool.number(text);
					if (!Number.isNaN(told) && !isFar(told)) continue;
					const record = table.record(row);
					const value = record.said(path);
					if (!value || !isEditable(value.presence.layer) || value.value === '') continue;
					if (typeFault(field, value.value) || limitFault(field, value.value)) continue;
					const number = Number(value.value);
					if (!isFar(number) || baseValueOf(record, path) === value.value) continue;
					const place = Math.round(rankIn(sortedColumn(table, path).numbers, number) * 100);
					yield snagAt(stack, record, value.presence, {
						rule: 'unusual-value',
						severity: 'note',
						field: path,
						message: `${field.title ?? path} ${quoted(value.value)} is unusual: all others but one lie between ${low} and ${high}, and it is higher than ${place} % of them (line ${value.presence.line}).`,
						repairable: true
					});
				}
			}
		}
	}
};
