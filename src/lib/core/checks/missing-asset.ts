import { fillPattern } from '../guide';
import { rowsWhere, valueOf } from '../stack';
import { pathsOf } from './paths';
import { quoted, snagAt, type Rule } from './snag';

/** A file that belongs to a record by its name and is not there, or only in another case of its letters. */
export const missingAsset: Rule = {
	id: 'missing-asset',
	title: 'Missing file of a record',
	reads: ['files', 'records'],
	local: true,
	*find({ stack }) {
		if (Object.values(stack.guide.kinds).every(({ assets }) => !assets)) return;
		const paths = pathsOf(stack);
		for (const table of stack.tables.values())
			for (const { label, path, required, found } of table.guide.assets ?? []) {
				if (!required || (found && found.sure < 0.9)) continue;
				const absent = (row: number) => {
					const record = table.record(row);
					const wanted = fillPattern(path, (name) => (name === 'id' ? record.id : valueOf(record, name)));
					return wanted === null || paths.has(wanted) ? null : wanted;
				};
				for (const [row, wanted] of rowsWhere(table, `asset ${path} ${paths.token}`, absent)) {
					const record = table.record(row);
					const other = paths.folded(wanted);
					const presence = record.presences.at(-1)!;
					yield snagAt(stack, record, presence, {
						rule: 'missing-asset',
						severity: 'warns',
						field: null,
						message: other
							? `${label} of ${quoted(record.id)} is ${quoted(wanted)}, and the file is called ${quoted(other)}. Where the case of letters matters, the game runs without it (line ${presence.line}).`
							: `${label} of ${quoted(record.id)} is ${quoted(wanted)}, and no layer has it. The game runs without it (line ${presence.line}).`,
						repairable: false
					});
				}
			}
	}
};
