import type { Table } from '../stack';
import { fieldsIn, gravity } from './fields';
import { consequence, quoted, snagAt, type Rule } from './snag';

/** Of each row, how many items a list of the record has. */
function lengths(table: Table, list: string): Int32Array {
	const items = new Map<string, Int32Array[]>();
	for (const path of table.columns) {
		if (!path.startsWith(`${list}[`)) continue;
		const item = path.slice(0, path.indexOf(']', list.length) + 1);
		items.set(item, [...(items.get(item) ?? []), table.column(path)]);
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
				for (let row = 0; row < column.length; row++) {
					const right = kind?.count ?? items?.[row] ?? 0;
					const number = column[row]! < 0 ? NaN : table.pool.number(column[row]!);
					if (Number.isNaN(number) || number === right) continue;
					const record = table.record(row);
					const { value, presence } = record.values.get(path)!;
					yield snagAt(stack, record, presence, {
						rule: 'wrong-counter',
						severity: gravity(field.found),
						field: path,
						message: `${field.title ?? path} ${quoted(value)} counts ${kind ? (kind.guide.plural ?? kind.guide.title).toLowerCase() : `the items of ${counts}`}, of which there are ${right}. ${consequence(stack, record)} (line ${presence.line}).`,
						candidates: [String(right)],
						repairable: presence.layer.role === 'mine'
					});
				}
			}
	}
};
