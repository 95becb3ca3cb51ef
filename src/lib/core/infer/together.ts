// The records of many small files beside each other, as if one file held them: what is asked of every file takes as long
// for three records as for three hundred.
import type { Facts } from '../facts';
import type { DataFile } from './group';

/** Records of a file from which on what is found out of it is kept by itself: of thousands of small ones it takes much room. */
const WORTH_KEEPING = 32;

/** Whether what is found out of a file is kept by itself. */
export const isKept = ({ count }: Facts): boolean => count >= WORTH_KEEPING;

/** Which cells records have, and what is in them. */
export type Cells = Pick<Facts, 'pool' | 'count' | 'shapes' | 'shape' | 'firsts' | 'values' | 'types'>;

/** Files one after the other, and their records as those of one. */
export interface Run {
	files: readonly DataFile[];
	/** The number of the first record of each file, and one number more. */
	begins: readonly number[];
	cells: Cells;
}

let known = new WeakMap<readonly DataFile[], readonly Run[]>();

/** Some files as few runs: each large one by itself, and small ones that follow each other as one. Made once for a list. */
export function runsOf(files: readonly DataFile[]): readonly Run[] {
	let runs = known.get(files);
	if (runs) return runs;
	const found: Run[] = [];
	for (let from = 0; from < files.length;) {
		let to = from + 1;
		if (!isKept(files[from]!.facts)) while (to < files.length && !isKept(files[to]!.facts)) to++;
		found.push(runOf(files.slice(from, to)));
		from = to;
	}
	known.set(files, (runs = found));
	return runs;
}

/** Forgets the runs: they are needed while it is found out what the columns are, and take room. */
export function letRunsGo(): void {
	known = new WeakMap();
}

function runOf(files: readonly DataFile[]): Run {
	const [{ facts: first }] = files as [DataFile];
	if (files.length === 1) return { files, begins: [0, first.count], cells: first };
	let [records, size] = [0, 0];
	for (const { facts } of files) {
		records += facts.count;
		size += facts.firsts[facts.count]! - facts.firsts[0]!;
	}
	const [values, types] = [new Int32Array(size), new Uint8Array(size)];
	const [shape, firsts] = [new Int32Array(records), new Int32Array(records + 1)];
	const numbers = new Map<Int32Array, number>();
	const numberOf = (paths: Int32Array): number => {
		let number = numbers.get(paths);
		if (number === undefined) numbers.set(paths, (number = numbers.size));
		return number;
	};
	const begins: number[] = [];
	let [to, at] = [0, 0];
	for (const { facts } of files) {
		const { count, firsts: theirs, shape: their } = facts;
		const [from, end] = [theirs[0]!, theirs[count]!];
		const own = facts.shapes.map(numberOf);
		begins.push(to);
		// Most are small: cell by cell is sooner done than a view of each.
		for (let cell = from, into = at; cell < end; cell++, into++) {
			values[into] = facts.values[cell]!;
			types[into] = facts.types[cell]!;
		}
		for (let nth = 0; nth < count; nth++, to++) {
			shape[to] = own[their[nth]!] ?? -1;
			firsts[to] = theirs[nth]! - from + at;
		}
		at += end - from;
	}
	firsts[to] = at;
	begins.push(to);
	return {
		files,
		begins,
		cells: { pool: first.pool, count: records, shapes: [...numbers.keys()], shape, firsts, values, types }
	};
}
