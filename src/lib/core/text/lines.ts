/** Offsets at which lines start, in UTF-16 code units; the first is 0. */
export type LineIndex = ArrayLike<number>;

/** A place for people: both counted from 1. */
export interface Place {
	line: number;
	column: number;
}

/** The starts of all lines, whatever their ends are (`\n`, `\r\n` or `\r`). */
export function lineIndex(text: string): LineIndex {
	let starts = new Int32Array(Math.max(16, text.length >> 5));
	let count = 1;
	const add = (at: number) => {
		if (count === starts.length) {
			const wider = new Int32Array(count * 2);
			wider.set(starts);
			starts = wider;
		}
		starts[count++] = at;
	};
	let feed = text.indexOf('\n');
	let turn = text.indexOf('\r');
	while (feed >= 0 || turn >= 0) {
		if (turn < 0 || (feed >= 0 && feed < turn)) {
			add(feed + 1);
			feed = text.indexOf('\n', feed + 1);
		} else {
			const pair = feed === turn + 1;
			add(turn + (pair ? 2 : 1));
			if (pair) feed = text.indexOf('\n', feed + 1);
			turn = text.indexOf('\r', turn + 1);
		}
	}
	return starts.subarray(0, count);
}

/** Number of the line (from 1) that holds an offset; binary search. */
export function lineAt(index: LineIndex, offset: number): number {
	let low = 0;
	let high = index.length - 1;
	while (low < high) {
		const middle = (low + high + 1) >> 1;
		if (index[middle]! <= offset) low = middle;
		else high = middle - 1;
	}
	return low + 1;
}

/** Line and column (from 1) of an offset. */
export function placeOf(index: LineIndex, offset: number): Place {
	const line = lineAt(index, offset);
	return { line, column: offset - index[line - 1]! + 1 };
}

/** The text of one line without its end, cut to `most` characters: what a message quotes. */
export function excerptAt(text: string, index: LineIndex, line: number, most = 160): string {
	const from = index[line - 1] ?? text.length;
	const to = index[line] ?? text.length;
	return text.slice(from, Math.min(to, from + most)).replace(/[\r\n]+$/, '');
}
