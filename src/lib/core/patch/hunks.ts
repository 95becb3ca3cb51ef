// Runs of lines as stretches of a unified diff, and back.
import type { LineRun } from '../change';
import { bare, MOST_AROUND, type Hunk, type Part } from './parts';

/** Lines that may be made where they are needed. */
export interface Lines {
	length: number;
	slice(from: number, to: number): string[];
}

const NO_END = '\\ No newline at end of file';

/** A line with its mark, and what says that it has no end. */
const marked = (mark: string, line: string): string[] =>
	line.endsWith('\n') ? [mark + bare(line)] : [mark + line, NO_END];

/**
 * Stretches of a unified diff.
 * @param around lines around each run; runs whose surroundings touch are in one stretch
 */
export function hunksOf(
	before: Lines,
	after: Lines,
	runs: readonly LineRun[],
	around: readonly number[]
): Hunk[] {
	const groups: { runs: LineRun[]; from: number; to: number }[] = [];
	runs.forEach((run, nth) => {
		const from = Math.max(0, run.before[0] - around[nth]!);
		const to = Math.min(before.length, run.before[1] + around[nth]!);
		const last = groups.at(-1);
		if (last && from <= last.to) {
			last.runs.push(run);
			last.to = Math.max(last.to, to);
		} else groups.push({ runs: [run], from, to });
	});
	return groups.map((group) => {
		const lines: string[] = [];
		let at = group.from;
		const keep = (to: number) => {
			for (const line of before.slice(at, to)) lines.push(...marked(' ', line));
			at = to;
		};
		for (const { before: gone, after: come } of group.runs) {
			keep(gone[0]);
			for (const line of before.slice(gone[0], gone[1])) lines.push(...marked('-', line));
			for (const line of after.slice(come[0], come[1])) lines.push(...marked('+', line));
			at = gone[1];
		}
		keep(group.to);
		const [first, last] = [group.runs[0]!, group.runs.at(-1)!];
		const newFrom = first.after[0] - (first.before[0] - group.from);
		const newTo = last.after[1] + (group.to - last.before[1]);
		return {
			oldStart: group.from + 1,
			oldLines: group.to - group.from,
			newStart: newFrom + 1,
			newLines: newTo - newFrom,
			lines
		};
	});
}

/** The parts of a stretch, each with the lines around it as they were before any of them. */
export function hunkParts({ oldStart, lines }: Hunk): Part[] {
	const old: string[] = [];
	const runs: { from: number; to: number; added: string[] }[] = [];
	let open: (typeof runs)[number] | null = null;
	lines.forEach((line, nth) => {
		const mark = line[0];
		if (mark === '\\') return;
		const text = line.slice(1) + (lines[nth + 1]?.startsWith('\\') ? '' : '\n');
		if (mark !== '-' && mark !== '+') {
			old.push(text);
			open = null;
			return;
		}
		if (!open) runs.push((open = { from: old.length, to: old.length, added: [] }));
		if (mark === '+') open.added.push(text);
		else {
			old.push(text);
			open.to = old.length;
		}
	});
	return runs.map(({ from, to, added }) => ({
		line: oldStart + from,
		removed: old.slice(from, to),
		added,
		above: old.slice(Math.max(0, from - MOST_AROUND), from),
		below: old.slice(to, to + MOST_AROUND),
		anchor: null
	}));
}
