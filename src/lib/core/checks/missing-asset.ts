import { fillPattern } from '../guide';
import { valueOf } from '../stack';
import { quoted, snagAt, type Rule } from './snag';

/** A file that belongs to a record by its name and is not there, or only in another case of its letters. */
export const missingAsset: Rule = {
	id: 'missing-asset',
	title: 'File of a record is not there',
	reads: ['files', 'records'],
	*find({ stack }) {
		if (Object.values(stack.guide.kinds).every(({ assets }) => !assets)) return;
		const paths = new Set(stack.layers.flatMap((layer) => [...(layer.paths ?? layer.files.keys())]));
		const folded = new Map([...paths].map((path) => [path.toLowerCase(), path]));
		for (const table of stack.tables.values())
			for (const { label, path, required, found } of table.guide.assets ?? []) {
				if (!required || (found && found.sure < 0.9)) continue;
				for (const record of table.records) {
					const wanted = fillPattern(path, (name) => (name === 'id' ? record.id : valueOf(record, name)));
					if (wanted === null || paths.has(wanted)) continue;
					const other = folded.get(wanted.toLowerCase());
					const presence = record.presences.at(-1)!;
					yield snagAt(stack, record, presence, {
						rule: 'missing-asset',
						severity: 'warns',
						field: null,
						message: other
							? `${label} of ${quoted(record.id)} is ${quoted(wanted)}, and the file is called ${quoted(other)}. Where case counts, the game would go without it (line ${presence.line}).`
							: `${label} of ${quoted(record.id)} is ${quoted(wanted)}, and no layer has it. The game would go without it (line ${presence.line}).`,
						repairable: false
					});
				}
			}
	}
};
