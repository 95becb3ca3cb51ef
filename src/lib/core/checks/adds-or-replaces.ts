import { claimsOf } from '../guide';
import { isEditable, isGame } from '../stack';
import { filesWith } from './paths';
import { quoted, snagOfFile, type Rule } from './snag';

/** A file of mine with a few of the game's records, of which nobody said whether it adds to the game's or replaces it. */
export const addsOrReplaces: Rule = {
	id: 'adds-or-replaces',
	title: 'Adds to the game’s file, or replaces it?',
	reads: ['files'],
	*find({ stack }) {
		const base = stack.layers.find(isGame);
		for (const layer of stack.layers.filter(isEditable))
			for (const [{ path }] of filesWith(layer, 'format')) {
				if (!base?.files.has(path)) continue;
				const kinds = claimsOf(stack.guide, path).map(({ kind }) => stack.guide.kinds[kind]!);
				const about = kinds.find(({ adds }) => adds);
				if (!about) continue;
				const message = `${about.adds!.because} If the game replaces whole files, say so in the field guide, under ${quoted(about.plural ?? about.title)}; the other records are then missing.`;
				yield snagOfFile(layer, path, { rule: 'adds-or-replaces', severity: 'note', line: 1, message });
			}
	}
};
