export type Eol = 'lf' | 'crlf' | 'cr' | 'mixed' | 'none';

const BREAKS = /\r\n|\n|\r/g;

/** Which line ends a text uses; `none` when it has one line only. */
export function detectEol(text: string): Eol {
	const seen = new Set<string>();
	for (const match of text.matchAll(BREAKS)) {
		seen.add(match[0]);
		if (seen.size > 1) return 'mixed';
	}
	const [only] = seen;
	return only === undefined ? 'none' : only === '\n' ? 'lf' : only === '\r\n' ? 'crlf' : 'cr';
}

/**
 * The line end to write new lines with: the one the text uses first, so that an insert looks like its neighbours;
 * `\n` in a text of one line.
 */
export function toEol(text: string): string {
	return /\r\n|\n|\r/.exec(text)?.[0] ?? '\n';
}
