export type Eol = 'lf' | 'crlf' | 'cr' | 'mixed' | 'none';

/** Which line ends a text uses; `none` when it has one line only. */
export function detectEol(text: string): Eol {
	// Most texts have nothing else, and looking for one letter is soon done.
	if (!text.includes('\r')) return text.includes('\n') ? 'lf' : 'none';
	const seen: Eol[] = [];
	if (text.includes('\r\n')) seen.push('crlf');
	if (/\r(?!\n)/.test(text)) seen.push('cr');
	if (/(?<!\r)\n/.test(text)) seen.push('lf');
	return seen.length === 1 ? seen[0]! : 'mixed';
}

/**
 * The line end to write new lines with: the one the text uses first, so that an insert looks like its neighbours;
 * `\n` in a text of one line.
 */
export function toEol(text: string): string {
	return /\r\n|\n|\r/.exec(text)?.[0] ?? '\n';
}
