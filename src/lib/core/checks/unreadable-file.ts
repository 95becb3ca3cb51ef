import type { Problem } from '../formats';
import { claimOf, type Guide } from '../guide';
import { isEditable, isGame, type Layer } from '../stack';
import { counted } from '../wording';
import { filesWith } from './paths';
import { quoted, snagOfFile, type Rule, type Severity, type Snag } from './snag';

/** What the game does with a file, as far as that is known, and how grave a fault in it is. */
function consequence(guide: Guide, path: string, told: boolean): { does: string; severity: Severity } {
	const claim = claimOf(guide, path);
	const kind = claim && guide.kinds[claim.kind]!;
	// How it is read was only detected from what is in it: that never blocks.
	const guessed = kind ? kind.inferred && kind.written !== undefined : told;
	return {
		does: kind && !kind.inferred ? 'The game refuses the file.' : 'The game may refuse the file.',
		severity: guessed ? 'warns' : 'blocks'
	};
}

const at = ({ line, column }: Problem) => `at line ${line}, column ${column}`;

/** One fault of a file of mine. */
const mine = (layer: Layer, path: string, problem: Problem, does: string, severity: Severity): Snag => ({
	...snagOfFile(
		layer,
		path,
		{
			rule: 'unreadable-file',
			severity,
			line: problem.line,
			message: `${quoted(path)} cannot be read ${at(problem)}: ${problem.message} ${does}`
		},
		problem.line,
		problem.column
	),
	excerpt: problem.excerpt
});

/** All faults of a file that others made, said once: the game itself loads, whatever cannot be read of it here. */
function others(
	layer: Layer,
	path: string,
	problems: readonly Problem[],
	does: string,
	severity: Severity
): Snag {
	const [first] = problems;
	const more = problems.length > 1 ? ` The file has ${counted(problems.length - 1, 'more such place')}.` : '';
	const then = isGame(layer) ? 'What cannot be read stays as it is.' : does;
	return {
		...snagOfFile(layer, path, {
			rule: 'unreadable-file',
			severity: isGame(layer) ? 'note' : severity,
			line: first!.line,
			message: `${quoted(path)} cannot be read ${at(first!)}: ${first!.message}${more} ${then}`
		}),
		excerpt: first!.excerpt
	};
}

/** A file that does not parse: every fault of mine with its line and column and the text around it. */
export const unreadableFile: Rule = {
	id: 'unreadable-file',
	title: 'File cannot be read',
	reads: ['files'],
	*find({ stack: { layers, guide } }) {
		const game = layers.find(isGame);
		for (const layer of layers) {
			for (const [{ path }, facts] of filesWith(layer, 'problems')) {
				const { does, severity } = consequence(guide, path, facts.told !== undefined);
				const known = layer === game ? [] : (game?.files.get(path)?.facts?.problems ?? []);
				const inGame = new Set(known.map(({ excerpt }) => excerpt));
				const own = facts.problems.filter(({ excerpt }) => !inGame.has(excerpt));
				if (own.length === 0) continue;
				if (isEditable(layer)) for (const problem of own) yield mine(layer, path, problem, does, severity);
				else yield others(layer, path, own, does, severity);
			}
		}
	}
};
