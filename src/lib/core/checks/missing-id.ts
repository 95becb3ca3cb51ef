import type { Table, TableFile } from '../stack';
import { snagAt, type Rule } from './snag';

/** Whether every file has all its ids written. Of the files below my mod this is asked once. */
function allWritten({ files, rows }: Table): boolean {
	const { derived: known, rowsOf } = rows.below;
	const written = (list: readonly TableFile[]) => list.every(({ facts }) => !facts.written.includes(0));
	if (!known.has('all ids written')) known.set('all ids written', written(files.slice(0, rowsOf.length)));
	return known.get('all ids written') === true && written(files.slice(rowsOf.length));
}

/** A record without the id that its kind is known by. */
export const missingId: Rule = {
	id: 'missing-id',
	title: 'Missing id',
	reads: ['files'],
	*find({ stack }) {
		for (const table of stack.tables.values()) {
			if (table.guide.key === undefined || table.guide.inferred) continue;
			// Most kinds have every id written.
			if (allWritten(table)) continue;
			for (const record of table.records) {
				const presence = record.presences.at(-1)!;
				if (presence.written) continue;
				yield snagAt(stack, record, presence, {
					rule: 'missing-id',
					severity: 'blocks',
					field: table.guide.key,
					message: `This ${table.guide.title.toLowerCase()} (line ${presence.line}) has no ${table.guide.key}. The game skips it.`,
					repairable: false
				});
			}
		}
	}
};
