import { isEditable, baseValueOf, rowsWhere } from '../stack';
import { fieldsIn } from './fields';
import { quoted, snagAt, type Rule } from './snag';

/** Something of mine that the game never reads: a field that does nothing, or one that only counts when another is set. */
export const withoutEffect: Rule = {
	id: 'without-effect',
	title: 'Has no effect',
	reads: ['records'],
	*find({ stack }) {
		if (!stack.mine) return;
		for (const table of stack.tables.values())
			for (const [path, field] of fieldsIn(table)) {
				const { unused, onlyIf } = field;
				if (!unused && !onlyIf) continue;
				const column = table.column(path);
				const deciding = onlyIf ? table.column(onlyIf.field) : null;
				const decided = (row: number) =>
					deciding && deciding[row]! >= 0 ? table.pool.at(deciding[row]!) : '';
				const idle = (row: number) =>
					column[row]! > 0 && (unused || !onlyIf!.is.includes(decided(row))) ? true : null;
				const isMine = (row: number) => isEditable(table.record(row).said(path)!.presence.layer) || null;
				for (const [row] of rowsWhere(table, `idle ${path}`, (at) => idle(at) && isMine(at))) {
					const record = table.record(row);
					const value = record.said(path)!;
					if (baseValueOf(record, path) === value.value) continue;
					yield snagAt(stack, record, value.presence, {
						rule: 'without-effect',
						severity: 'note',
						field: path,
						message: unused
							? `${field.title ?? path} ${quoted(value.value)} does nothing: the game never reads it (line ${value.presence.line}).`
							: `${field.title ?? path} ${quoted(value.value)} is ignored, because ${onlyIf!.field} is ${quoted(decided(row))} and not ${onlyIf!.is.join(' or ')} (line ${value.presence.line}).`,
						repairable: true
					});
				}
			}
	}
};
