/** Offsets at which lines start, in UTF-16 code units; the first is 0. */
export type LineIndex = readonly number[];

/** A place for people: both counted from 1. */
export interface Place {
	line: number;
	column: number;
}

/** The starts of all lines, whatever their ends are (`\n`, `\r\n` or `\r`). */
export function lineIndex(text: string): LineIndex {
	const starts = [0];
	for (let at = 0; at < text.length; at++) {
		const code = text.charCodeAt(at);
		if (code === 10) starts.push(at + 1);
		else if (code === 13) {
			if (text.charCodeAt(at + 1) === 10) at++;
			starts.push(at + 1);
		}
	}
	return starts;
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
