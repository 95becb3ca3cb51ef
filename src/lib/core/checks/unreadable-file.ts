import { claimOf } from '../guide';
import { filesWith } from './paths';
import { quoted, type Rule } from './snag';

/** A file that does not parse: every fault with its line and column and the text around it. */
export const unreadableFile: Rule = {
	id: 'unreadable-file',
	title: 'File cannot be read',
	reads: ['files'],
	*find({ stack }) {
		for (const layer of stack.layers) {
			for (const [{ path }, facts] of filesWith(layer, 'problems')) {
				const known = claimOf(stack.guide, path);
				const kind = known && stack.guide.kinds[known.kind]!;
				const does = kind && !kind.inferred ? 'The game refuses the file.' : 'The game may refuse the file.';
				// How it is read was only detected from what is in it: that never blocks.
				const guessed = kind ? kind.inferred && kind.written !== undefined : facts.told !== undefined;
				for (const problem of facts.problems) {
					yield {
						id: ['unreadable-file', layer.id, path, problem.line, problem.column].join('|'),
						rule: 'unreadable-file',
						severity: guessed ? 'warns' : 'blocks',
						layer: layer.id,
						file: path,
						line: problem.line,
						kind: null,
						record: null,
						name: null,
						field: null,
						message: `${quoted(path)} cannot be read at line ${problem.line}, column ${problem.column}: ${problem.message} ${does}`,
						excerpt: problem.excerpt,
						candidates: [],
						repairable: false
					};
				}
			}
		}
	}
};
