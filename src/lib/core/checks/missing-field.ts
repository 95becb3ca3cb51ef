import { effectiveColumn, isEditable, rowsWhere } from '../stack';
import { isSaid } from './fields';
import { consequence, snagAt, type Rule } from './snag';

/** A field that the game needs and that a record does not have at all. */
export const missingField: Rule = {
	id: 'missing-field',
	title: 'Missing field',
	reads: ['records'],
	local: true,
	*find({ stack }) {
		for (const table of stack.tables.values()) {
			if (table.count === 0) continue;
			for (const [path, field] of Object.entries(table.guide.fields)) {
				if (!field.required || field.unused || /[#*[]/.test(path) || path === table.guide.key) continue;
				// That all records of the base have a field does not say that the game needs it.
				if (!isSaid(field, 'required')) continue;
				const column = effectiveColumn(table, path);
				for (const [row] of rowsWhere(table, `absent ${path}`, (at) => (column[at]! < 0 ? true : null))) {
					const record = table.record(row);
					const presence = record.presences.at(-1)!;
					yield snagAt(stack, record, presence, {
						rule: 'missing-field',
						severity: 'blocks',
						field: path,
						message: `${field.title ?? path} is missing. ${consequence(stack, record)} (line ${presence.line}).`,
						repairable: isEditable(presence.layer)
					});
				}
			}
		}
	}
};
