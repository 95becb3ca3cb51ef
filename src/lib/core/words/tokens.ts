// What in a text is not for reading: places that the game fills in, and marks that it draws by.
import type { Markup } from '../text';

/** What a text holds besides its words, each in the order in which it stands. */
export interface Tokens {
	/** What the game fills in: `%s`, `{name}`, `${count}`, `%(id)s`, `%RANK%`. */
	placeholders: string[];
	/** Names of tags that open, and of those that close: `b` of `<b>` and `[/b]`; those that do both are in neither. */
	opening: string[];
	closing: string[];
	/** Whether spaces stand before the first letter, and after the last. */
	before: boolean;
	after: boolean;
}

/** A per cent sign that is written twice is one that is shown. */
const PLACEHOLDER =
	/%%|%\([\w.]+\)[sdifg]|%(?:\d+\$)?[-+0#]*\d*(?:\.\d+)?[sdifgxX](?![A-Za-z0-9])|%[A-Za-z_]\w*%|\$\{[^{}\s]+\}|\{\{[^{}]+\}\}|\{[\w.:-]+\}/gu;
const TAG = /<(\/?)([A-Za-z][\w-]*)([^<>]*)>/g;
/** In brackets it is a tag only where another one closes it: `[E]` alone may be a key to press. */
const BRACKETS = /\[(\/?)([A-Za-z][\w-]*)(?:=[^[\]]*)?\]/g;

/** Tags in brackets, as they stand in a text. */
function bracketTags(text: string): RegExpExecArray[] {
	if (!text.includes('[/')) return [];
	const all = [...text.matchAll(BRACKETS)];
	const closed = new Set(all.filter(([, slash]) => slash === '/').map(([, , name]) => name));
	return all.filter(([, , name]) => closed.has(name));
}

/** Most texts have none of these signs, which shows soon. */
const MAY_HAVE = /[%{<[]|^\s|\s$/;

/** What a text holds besides its words; null where it is nothing but words. */
export function tokensOf(text: string): Tokens | null {
	if (!MAY_HAVE.test(text)) return null;
	const [opening, closing]: [string[], string[]] = [[], []];
	for (const [, slash, name, rest] of text.matchAll(TAG)) {
		if (slash === '/') closing.push(name!);
		else if (!rest!.endsWith('/')) opening.push(name!);
	}
	for (const [, slash, name] of bracketTags(text)) (slash === '/' ? closing : opening).push(name!);
	const placeholders = (text.match(PLACEHOLDER) ?? []).filter((one) => one !== '%%');
	const [before, after] = [/^\s/.test(text), /\s$/.test(text)];
	return placeholders.length + opening.length + closing.length === 0 && !before && !after
		? null
		: { placeholders, opening, closing, before, after };
}

/** Where placeholders and tags stand in a text, in order. */
export const spansOf = (text: string): { from: number; to: number }[] =>
	[...text.matchAll(PLACEHOLDER), ...text.matchAll(TAG), ...bracketTags(text)]
		.map(({ 0: found, index }) => ({ from: index, to: index + found.length }))
		.sort((a, b) => a.from - b.from);

/** What of one list is not in another, as often as it is missing there. */
function without(list: readonly string[], other: readonly string[]): string[] {
	const left = [...other];
	return list.filter((one) => {
		const at = left.indexOf(one);
		if (at < 0) return true;
		left.splice(at, 1);
		return false;
	});
}

/** One way in which a text is not like the same text in another language. */
export interface Difference {
	sort: 'placeholders' | 'tags' | 'spaces';
	/** What the other has and the text has not, and the other way round; for spaces, where they stand. */
	lacks: string[];
	adds: string[];
}

const NOTHING: Tokens = { placeholders: [], opening: [], closing: [], before: false, after: false };

const spacesOf = ({ before, after }: Tokens) => [
	...(before ? ['at the start'] : []),
	...(after ? ['at the end'] : [])
];
const tagsOf = ({ opening, closing }: Tokens) => [
	...opening.map((name) => `<${name}>`),
	...closing.map((name) => `</${name}>`)
];

/** In which ways a text is not like the same text in another language. @param other that text */
export function differencesOf(text: string, other: string): Difference[] {
	const [a, b] = [tokensOf(text), tokensOf(other)];
	if (!a && !b) return [];
	const sorts = { placeholders: (one: Tokens) => one.placeholders, tags: tagsOf, spaces: spacesOf };
	return Object.entries(sorts).flatMap(([sort, listOf]) => {
		const [own, others] = [listOf(a ?? NOTHING), listOf(b ?? NOTHING)];
		const [lacks, adds] = [without(others, own), without(own, others)];
		return lacks.length + adds.length === 0 ? [] : [{ sort: sort as Difference['sort'], lacks, adds }];
	});
}

/** Marks that a text has and the same text in another language has not, and the other way round; null for none. */
export function marksUnlike(text: string, other: string, markup: readonly Markup[]): Difference | null {
	const signs = [
		...new Set(markup.flatMap((mark) => ('code' in mark ? [mark.code] : [mark.open, mark.close])))
	];
	const [lacks, adds]: [string[], string[]] = [[], []];
	for (const sign of signs) {
		const more = text.split(sign).length - other.split(sign).length;
		(more > 0 ? adds : lacks).push(...Array<string>(Math.abs(more)).fill(sign));
	}
	return lacks.length + adds.length === 0 ? null : { sort: 'tags', lacks, adds };
}
