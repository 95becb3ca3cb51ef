import { beside } from '../guide';
import { isEditable, rowsWhere } from '../stack';
import { fieldsIn, isSaid } from './fields';
import { consequence, quoted, snagAt, type Rule, gravity } from './snag';

/** Whether a number or a date is below another; what cannot be compared does not. */
export function below(value: string, other: string): boolean {
	const [a, b] = [Number(value), Number(other)];
	if (Number.isFinite(a) && Number.isFinite(b)) return a < b;
	return /^\d{4}-\d\d-\d\d/.test(value) && /^\d{4}-\d\d-\d\d/.test(other) && value < other;
}

/** An end before its beginning. */
export const outOfOrder: Rule = {
	id: 'out-of-order',
	title: 'End before start',
	reads: ['records'],
	*find({ stack }) {
		for (const table of stack.tables.values())
			for (const [path, field] of fieldsIn(table)) {
				if (field.notBefore === undefined) continue;
				const other = beside(path, field.notBefore);
				const [ends, starts] = [table.column(path), table.column(other)];
				const wrong = (row: number) => {
					if (ends[row]! <= 0 || starts[row]! <= 0) return null;
					const pair = [table.pool.at(ends[row]!), table.pool.at(starts[row]!)] as const;
					return below(...pair) ? pair : null;
				};
				for (const [row, [end, start]] of rowsWhere(table, `order ${path}`, wrong)) {
					const record = table.record(row);
					const { presence } = record.said(path)!;
					yield snagAt(stack, record, presence, {
						rule: 'out-of-order',
						severity: gravity(isSaid(field, 'notBefore') ? undefined : field.found),
						field: path,
						message: `${field.title ?? path} ${quoted(end)} lies before ${table.guide.fields[field.notBefore]?.title ?? other} ${quoted(start)}. ${consequence(stack, record)} (line ${presence.line}).`,
						repairable: isEditable(presence.layer)
					});
				}
			}
	}
};
