import { FOLDER, fillPattern } from '../guide';
import { isEditable, rowsWhere } from '../stack';
import { fieldsIn } from './fields';
import { consequence, gravity, quoted, snagAt, SURE_ENOUGH, type Rule } from './snag';

/** Patterns that say that a value is the name of the record's own file or folder. */
const OWN_NAME = ['{id}', `{${FOLDER}}`];

/** A value that has to be the name of the file or folder that the record is kept in, and is another. */
export const wrongName: Rule = {
	id: 'wrong-name',
	title: 'Name does not match its file or folder',
	reads: ['records'],
	*find({ stack }) {
		for (const table of stack.tables.values())
			for (const [path, field] of fieldsIn(table)) {
				const { derive, found } = field;
				if (!derive || !OWN_NAME.includes(derive) || (found && found.sure < SURE_ENOUGH)) continue;
				if (derive === '{id}' && !table.guide.id) continue;
				const [own, column] = [
					table.column(derive.slice(1, -1) === 'id' ? '#id' : FOLDER),
					table.column(path)
				];
				const other = (row: number) => (column[row]! >= 0 && column[row] !== own[row] ? true : null);
				for (const [row] of rowsWhere(table, `not its name ${path}`, other)) {
					const record = table.record(row);
					const { value, presence } = record.said(path)!;
					const wanted = fillPattern(derive, () => table.pool.at(own[row]!))!;
					yield snagAt(stack, record, presence, {
						rule: 'wrong-name',
						severity: gravity(found),
						field: path,
						message: `${field.title ?? path} is ${quoted(value)}, and ${derive === '{id}' ? 'the record' : 'its folder'} is called ${quoted(wanted)}. ${consequence(stack, record)} (line ${presence.line}).`,
						candidates: [wanted],
						repairable: isEditable(presence.layer)
					});
				}
			}
	}
};
