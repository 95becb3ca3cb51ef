import { nearest } from '../links';
import { cellsOf, isEditable, rowsWhere, rowsWith, type Table } from '../stack';
import { fieldsIn } from './fields';
import { pathsOf, type Paths } from './paths';
import { quoted, snagAt, withCandidates, type Rule } from './snag';

/** Files that are compared with a name that is not there. */
const MOST_COMPARED = 5000;

/** Rows whose value in a field is none of some paths. */
function rowsWithout(table: Table, field: string, paths: Paths): readonly (readonly [number, true])[] {
	const there = new Map<number, boolean>();
	const cell = cellsOf(table, field);
	const isGone = (row: number) => {
		const value = cell(row);
		if (value <= 0) return null;
		let known = there.get(value);
		if (known === undefined) there.set(value, (known = paths.has(table.pool.at(value))));
		return known ? null : true;
	};
	return rowsWhere(table, `files ${field} ${paths.token}`, isGone, () => rowsWith(table, field));
}

/** A field that names a file which no layer has. Pictures and sounds are known by name only, which is enough for this. */
export const missingFile: Rule = {
	id: 'missing-file',
	title: 'Missing file',
	reads: ['files', 'records'],
	*find({ stack }) {
		const paths = pathsOf(stack);
		for (const table of stack.tables.values())
			for (const [path, field] of fieldsIn(table)) {
				if (field.type !== 'file' || (field.found && field.found.sure < 0.9)) continue;
				for (const [row] of rowsWithout(table, path, paths)) {
					const record = table.record(row);
					const { value, presence } = record.said(path)!;
					const snag = snagAt(stack, record, presence, {
						rule: 'missing-file',
						severity: 'warns',
						field: path,
						message: `${field.title ?? path} ${quoted(value)} is in no layer. The game ignores it in ${quoted(record.id)} (line ${presence.line}).`,
						repairable: isEditable(presence.layer)
					});
					yield withCandidates(snag, () => (paths.count > MOST_COMPARED ? [] : nearest(value, paths.all())));
				}
			}
	}
};
