import { derivedBelow, isEditable, type TableFile } from '../stack';
import { counted } from '../wording';
import { quoted, snagAt, type Rule } from './snag';

/** Records, and files, from which on it says something that no two files of the game have one id. */
const ENOUGH = { records: 20, files: 3 };

/** Whether no id is in two files below my mod, those among them that mine stand in for; as far as there is enough to tell. */
function areApart(files: readonly TableFile[]): boolean {
	const holders = new Map<number, string>();
	for (const { file, facts } of files) {
		for (const id of facts.ids) {
			const holder = holders.get(id) ?? file.path;
			if (holder !== file.path) return false;
			holders.set(id, holder);
		}
	}
	return holders.size >= ENOUGH.records && new Set(holders.values()).size >= ENOUGH.files;
}

/** Records of mine whose ids a file has that mine does not stand in for, where no two files of the game share one; once a file. */
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
			for (const at of mine) {
				const { facts, file } = files[at]!;
				const hits: { row: number; before: number; other: TableFile }[] = [];
				for (const [nth, row] of rows.rowsOf[at]!.entries()) {
					if (row < 0 || facts.written[nth] === 0) continue;
					const first = rows.firsts[row]!;
					const before = rows.file.subarray(first, rows.firsts[row + 1]!).indexOf(at);
					const other = before > 0 && files[rows.file[first + before - 1]!]!;
					if (other && other.file.path !== file.path) hits.push({ row, before, other });
				}
				const [hit, ...others] = hits;
				if (!hit || !derivedBelow(table, 'ids apart', areApart)) continue;
				const record = table.record(hit.row);
				const presence = record.presences[hit.before]!;
				const holder = isEditable(hit.other.layer) ? 'My mod also has' : `${hit.other.layer.title} has`;
				const more =
					others.length > 0
						? ` The same goes for ${counted(others.length, 'other record')} in this file.`
						: '';
				yield snagAt(stack, record, presence, {
					rule: 'id-elsewhere',
					severity: 'warns',
					message: `${holder} ${quoted(record.id)} in ${quoted(hit.other.file.path)}, and this file (line ${presence.line}) does not replace that one. No two files of the game have the same id; the game may refuse the second, or use either.${more}`,
					repairable: false
				});
			}
		}
	}
};
