// A query cut into what is looked for.
import type { Wanted, WantedWord } from './clues';
import { fold, numberOf, wordsOf } from './fold';
import type { SearchOptions } from './types';

/** One thing that each record has to have: a run of letters, or a number. */
export interface Unit {
	part: string | null;
	/** The same run as it was typed. */
	typed: string;
	number: number;
	word: WantedWord;
}

/** A query as it is looked for. */
export function wantedOf(
	query: string,
	{ exactCase = false, whole = false, pattern = false }: SearchOptions
): Wanted {
	const typed = query.trim();
	const parts = (pattern ? [typed] : typed.split(/\s+/)).filter((word) => word !== '');
	return {
		typed,
		phrase: fold(typed),
		words: parts.map((word) => {
			const folded = fold(word);
			return { typed: word, folded, parts: wordsOf(folded), number: numberOf(word) };
		}),
		exactCase,
		whole,
		pattern
	};
}

/** What each record has to have for a query; in no particular order. */
export function unitsOf({ words, pattern }: Wanted): Unit[] {
	if (pattern) return words.map((word) => ({ part: null, typed: word.typed, number: NaN, word }));
	return words.flatMap((word): Unit[] => {
		const [only] = word.parts;
		if (!Number.isNaN(word.number))
			return [{ part: word.parts.length === 1 ? only! : null, typed: word.typed, number: word.number, word }];
		const typed = word.typed.split(/[^\p{L}\p{N}\p{M}]+/u).filter((part) => part !== '');
		return word.parts.map((part, at) => ({
			part,
			typed: typed.length === word.parts.length ? typed[at]! : '',
			number: numberOf(part),
			word
		}));
	});
}

/** The longest run of letters and digits that a pattern asks for. */
export const longestRun = (pattern: string): string =>
	pattern
		.split(/[^\p{L}\p{N}]+/u)
		.sort((a, b) => b.length - a.length)
		.at(0) ?? '';
