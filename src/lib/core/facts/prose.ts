/** Endings of texts that are pictures all the same. */
const PICTURES = /\.(svg|eps|xpm|ppm|pgm)$/i;

/** Texts longer than this (characters) are data of some unknown sort. */
const LONGEST = 4 * 2 ** 20;
/** Characters of a line that can be found. */
const WIDEST = 400;

/** Whether a text that is no data is worth finding line by line: scripts, read-mes, lists. */
export const isProse = (path: string, size: number): boolean => size <= LONGEST && !PICTURES.test(path);

/** The lines of a text that hold anything, with their numbers from 1. */
export function* proseOf(text: string): Generator<[number, string]> {
	let number = 1;
	for (let from = 0; from < text.length; number++) {
		let end = text.indexOf('\n', from);
		if (end < 0) end = text.length;
		const line = text.slice(from, Math.min(end, from + WIDEST)).trim();
		if (line !== '') yield [number, line];
		from = end + 1;
	}
}
