import type { Table, TableFile } from '../stack';
import { snagAt, type Rule } from './snag';

/** Records from which on it says something that all of them have an id. */
const ENOUGH = 20;

const written = (files: readonly TableFile[]) => files.every(({ facts }) => !facts.written.includes(0));

/** Whether every file below my mod has all its ids written; asked once. */
function allWrittenBelow({ files, rows }: Table): boolean {
	const { derived: known, rowsOf } = rows.below;
	if (!known.has('all ids written')) known.set('all ids written', written(files.slice(0, rowsOf.length)));
	return known.get('all ids written') === true;
}

/** Whether every file has all its ids written. */
const allWritten = (table: Table): boolean =>
	allWrittenBelow(table) && written(table.files.slice(table.rows.below.rowsOf.length));

/** A record without the id that its kind is known by. */
export const missingId: Rule = {
	id: 'missing-id',
	title: 'Missing id',
	reads: ['files'],
	*find({ stack }) {
		for (const table of stack.tables.values()) {
			if (table.guide.key === undefined) continue;
			// Most kinds have every id written.
			if (allWritten(table)) continue;
			// What was only found is held against mine where all records below have an id.
			const { inferred } = table.guide;
			if (inferred && !(table.count >= ENOUGH && allWrittenBelow(table))) continue;
			for (const record of table.records) {
				const presence = record.presences.at(-1)!;
				if (presence.written) continue;
				yield snagAt(stack, record, presence, {
					rule: 'missing-id',
					severity: inferred ? 'warns' : 'blocks',
					field: table.guide.key,
					message: inferred
						? `This ${table.guide.title.toLowerCase()} (line ${presence.line}) has no ${table.guide.key}. All others in the game have one; the game may skip it.`
						: `This ${table.guide.title.toLowerCase()} (line ${presence.line}) has no ${table.guide.key}. The game skips it.`,
					repairable: false
				});
			}
		}
	}
};
