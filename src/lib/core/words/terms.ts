// Words that a project always translates in one way, held against its texts.
import type { WordsGuide } from '../guide';
import { numberRows, type Table } from '../stack';

type Terms = NonNullable<WordsGuide['terms']>;

/** A term that a text has in the main language, and whose word the translation lacks. */
export interface TermFault {
	source: string;
	wanted: string;
}

const LETTER = /[\p{L}\p{N}]/u;

/** Whether a word stands in a text by itself, in any case of its letters; a word of a writing without spaces, anywhere. */
function hasWord(text: string, word: string): boolean {
	const [all, one] = [text.toLowerCase(), word.toLowerCase()];
	for (let at = all.indexOf(one); at >= 0; at = all.indexOf(one, at + 1)) {
		const [before, after] = [all[at - 1] ?? '', all[at + one.length] ?? ''];
		if (!LETTER.test(before) && !LETTER.test(after)) return true;
	}
	return false;
}

/**
 * Terms that a translation does not follow. A word of the translation counts with any ending and within others, as
 * languages have them.
 */
export function termFaults(
	source: string,
	text: string,
	terms: Terms,
	main: string,
	code: string
): TermFault[] {
	if (source === '' || text === '') return [];
	const said = text.toLowerCase();
	return terms.flatMap((term) => {
		const [from, to] = [term[main], term[code]];
		return from === undefined || to === undefined || !hasWord(source, from) || said.includes(to.toLowerCase())
			? []
			: [{ source: from, wanted: to }];
	});
}

/** Rows whose text in a language does not follow the terms, each with how many; -1 for all others. */
export const againstTermRows = (table: Table, code: string, main: string, terms: Terms): Int32Array =>
	numberRows(table, `terms ${code} ${main} ${JSON.stringify(terms)}`, (row) => {
		if (terms.length === 0 || code === main) return -1;
		const [a, b] = [table.column(code)[row]!, table.column(main)[row]!];
		if (!(a > 0 && b > 0)) return -1;
		return termFaults(table.pool.at(b), table.pool.at(a), terms, main, code).length || -1;
	});
