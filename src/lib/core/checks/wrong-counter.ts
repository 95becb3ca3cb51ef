import { addTo } from '../gather';
import { isEditable, derived, rowsWhere, type Table } from '../stack';
import { fieldsIn } from './fields';
import { consequence, quoted, snagAt, type Rule, gravity } from './snag';

/** Of each row, how many items a list of the record has. */
const lengths = (table: Table, list: string): Int32Array =>
	derived(table, `lengths ${list}`, () => countItems(table, list));

function countItems(table: Table, list: string): Int32Array {
	const items = new Map<string, Int32Array[]>();
	for (const path of table.columns) {
		if (!path.startsWith(`${list}[`)) continue;
		const item = path.slice(0, path.indexOf(']', list.length) + 1);
		addTo(items, item, table.column(path));
	}
	const counts = new Int32Array(table.count);
	for (const columns of items.values())
		for (let row = 0; row < table.count; row++)
			if (columns.some((column) => column[row]! >= 0)) counts[row]!++;
	return counts;
}

/** A number that counts something and is wrong. */
export const wrongCounter: Rule = {
	id: 'wrong-counter',
	title: 'Counter is wrong',
	reads: ['records'],
	*find({ stack }) {
		for (const table of stack.tables.values())
			for (const [path, field] of fieldsIn(table)) {
				const { counts } = field;
				if (counts === undefined) continue;
				const kind = counts.startsWith('kind:') ? stack.tables.get(counts.slice(5)) : undefined;
				const items = kind ? null : lengths(table, counts);
				const column = table.column(path);
				const rightAt = (row: number) => kind?.count ?? items?.[row] ?? 0;
				const wrong = (row: number) => {
					const number = column[row]! < 0 ? NaN : table.pool.number(column[row]!);
					return Number.isNaN(number) || number === rightAt(row) ? null : true;
				};
				for (const [row] of rowsWhere(table, `counter ${path} ${kind?.count ?? ''}`, wrong)) {
					const right = rightAt(row);
					const record = table.record(row);
					const { value, presence } = record.said(path)!;
					yield snagAt(stack, record, presence, {
						rule: 'wrong-counter',
						severity: gravity(field.found),
						field: path,
						message: `${field.title ?? path} ${quoted(value)} counts ${kind ? (kind.guide.plural ?? kind.guide.title).toLowerCase() : `the items of ${counts}`}, of which there are ${right}. ${consequence(stack, record)} (line ${presence.line}).`,
						candidates: [String(right)],
						repairable: isEditable(presence.layer)
					});
				}
			}
	}
};
