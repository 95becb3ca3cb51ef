// What a plan does to texts that are not data, line by line: for data its values say it.
import { applySplices, lineRuns, linesWithEnds, type Plan } from '../change';
import { claimsOf } from '../guide';
import { fileBelow, type Stack } from '../stack';

/** Lines in the place of others. */
export interface ChangedRun {
	/** Line (from 1) in the text as it is. */
	line: number;
	removed: string[];
	added: string[];
}

/** The lines of a text that a plan changes: of my mod's, else beside the one that the game reads. */
export interface ChangedLines {
	path: string;
	runs: ChangedRun[];
	/** Runs beyond those that are named. */
	more: number;
}

const MOST_RUNS = 8;
const MOST_LINES = 8;

const short = (lines: readonly string[]): string[] => {
	const bare = lines.map((line) => line.replace(/[\r\n]+$/, ''));
	return bare.length <= MOST_LINES
		? bare
		: [...bare.slice(0, MOST_LINES - 1), `… ${bare.length - MOST_LINES + 1} more lines`];
};

/** The changed lines of the texts in a plan that are not data. */
export function changedLines(stack: Stack, { changes }: Pick<Plan, 'changes'>): ChangedLines[] {
	return changes.flatMap((change): ChangedLines[] => {
		const { path } = change;
		if (change.of !== 'text' || change.after === null || claimsOf(stack.guide, path).length > 0) return [];
		const mine = stack.mine?.files.get(change.movedFrom ?? path)?.text?.text;
		const before = linesWithEnds(mine ?? fileBelow(stack, path)?.text?.text ?? '');
		const after = linesWithEnds(applySplices(mine ?? '', change.splices));
		const runs = lineRuns(before, after);
		return [
			{
				path,
				runs: runs.slice(0, MOST_RUNS).map((run) => ({
					line: run.before[0] + 1,
					removed: short(before.slice(...run.before)),
					added: short(after.slice(...run.after))
				})),
				more: Math.max(0, runs.length - MOST_RUNS)
			}
		];
	});
}
