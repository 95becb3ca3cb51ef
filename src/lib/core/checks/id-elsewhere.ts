import { isEditable, type Table } from '../stack';
import { quoted, snagAt, type Rule } from './snag';

/** Records, and files, from which on it says something that no two files of the game have one id. */
const ENOUGH = { records: 20, files: 3 };

/** Whether no id is in two files below my mod, as far as there is enough to tell. */
function areApartBelow({ files, rows: { below } }: Table): boolean {
	const { derived: known } = below;
	if (!known.has('ids in one file')) {
		const { firsts, file, count } = below;
		let apart = count >= ENOUGH.records && below.rowsOf.length >= ENOUGH.files;
		for (let row = 0; row < count && apart; row++)
			for (let at = firsts[row]! + 1; at < firsts[row + 1]! && apart; at++)
				apart = files[file[at]!]!.file.path === files[file[at - 1]!]!.file.path;
		known.set('ids in one file', apart);
	}
	return known.get('ids in one file') === true;
}

/** A record of mine whose id a file has that mine does not stand in for, where no two files of the game share one. */
export const idElsewhere: Rule = {
	id: 'id-elsewhere',
	title: 'Id in another file',
	reads: ['records'],
	*find({ stack }) {
		for (const table of stack.tables.values()) {
			const { files, rows, guide } = table;
			// Texts are in a file for each language, and twins in two; records that are merged are known by their id alone.
			if (guide.merge !== 'file' || guide.twins || table.kind === stack.guide.words?.kind) continue;
			const mine = files.flatMap(({ layer, language }, at) =>
				isEditable(layer) && language === undefined ? [at] : []
			);
			if (mine.length === 0 || !areApartBelow(table)) continue;
			for (const at of mine) {
				const { facts, file } = files[at]!;
				for (const [nth, row] of rows.rowsOf[at]!.entries()) {
					if (row < 0 || facts.written[nth] === 0) continue;
					const first = rows.firsts[row]!;
					const before = rows.file.subarray(first, rows.firsts[row + 1]!).indexOf(at);
					if (before <= 0) continue;
					const other = files[rows.file[first + before - 1]!]!;
					if (other.file.path === file.path) continue;
					const record = table.record(row);
					const presence = record.presences[before]!;
					const holder = isEditable(other.layer) ? 'My mod also has' : `${other.layer.title} has`;
					yield snagAt(stack, record, presence, {
						rule: 'id-elsewhere',
						severity: 'warns',
						message: `${holder} ${quoted(record.id)} in ${quoted(other.file.path)}, and this file (line ${presence.line}) does not replace that one. No two files of the game have the same id; the game may refuse the second, or use either.`,
						repairable: false
					});
				}
			}
		}
	}
};
