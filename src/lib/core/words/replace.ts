// One word in place of another, in texts that people read: capitals are kept, and the forms of a word are told apart.
import { spansOf } from './tokens';

/** What is put in place of what. */
export interface Replacing {
	find: string;
	with: string;
	/** Any capitals are found, and what is put there has those of what it replaces: all, the first, or none. */
	keepCase?: boolean | undefined;
	/** Placeholders and tags stay as they are. */
	outside?: boolean | undefined;
	/** Forms that stay, in small letters: words in which it is found, such as `terns` and `lantern`. */
	leave?: readonly string[] | undefined;
}

interface Hit {
	from: number;
	to: number;
	/** The whole word that it is in, in small letters. */
	form: string;
}

const LETTER = /[\p{L}\p{N}\p{M}]/u;
const isOfWord = (text: string, at: number): boolean => {
	const own = text[at];
	if (own === undefined) return false;
	return (
		LETTER.test(own) ||
		(/['’]/.test(own) && LETTER.test(text[at - 1] ?? '') && LETTER.test(text[at + 1] ?? ''))
	);
};

/** Where it is found, in order, but for what stays because it is a placeholder or a tag. */
function hitsIn(text: string, { find, keepCase, outside }: Replacing): Hit[] {
	if (find === '') return [];
	const pattern = new RegExp(find.replace(/[\\^$.*+?()[\]{}|/]/g, '\\$&'), keepCase ? 'giu' : 'gu');
	const fixed = outside ? spansOf(text) : [];
	return [...text.matchAll(pattern)].flatMap(({ 0: hit, index }) => {
		let [from, to] = [index, index + hit.length];
		if (fixed.some((span) => from < span.to && span.from < to)) return [];
		while (isOfWord(text, from - 1) && isOfWord(text, from)) from--;
		while (isOfWord(text, to) && isOfWord(text, to - 1)) to++;
		return [{ from: index, to: index + hit.length, form: text.slice(from, to).toLowerCase() }];
	});
}

/** A word with the capitals of another: all of them, the first, or as it is. */
function inCaseOf(word: string, model: string): string {
	const [first = ''] = model;
	const isUpper = (part: string) => part !== part.toLowerCase() && part === part.toUpperCase();
	if ([...model].length > 1 && isUpper(model)) return word.toUpperCase();
	if (!isUpper(first)) return word;
	const [own = ''] = word;
	return own.toUpperCase() + word.slice(own.length);
}

/** A text with one thing in place of another. */
export function replaced(text: string, how: Replacing): string {
	const leave = new Set(how.leave);
	let [made, at] = ['', 0];
	for (const { from, to, form } of hitsIn(text, how)) {
		if (leave.has(form)) continue;
		made += text.slice(at, from) + (how.keepCase ? inCaseOf(how.with, text.slice(from, to)) : how.with);
		at = to;
	}
	return made + text.slice(at);
}

/** The words in which it is found, in small letters, with how often each is there: the most frequent first. */
export function formsIn(texts: Iterable<string>, how: Replacing): { form: string; count: number }[] {
	const counts = new Map<string, number>();
	for (const text of texts)
		for (const { form } of hitsIn(text, how)) counts.set(form, (counts.get(form) ?? 0) + 1);
	return [...counts].map(([form, count]) => ({ form, count })).sort((a, b) => b.count - a.count);
}
