// What of one record a word can match, and how well: for the few best records, where every value is looked at.
import { meaningOf, fieldOf } from '../guide';
import { distance } from '../links';
import { nameFields, textKeysOf, textNamesOf, type EffectiveRecord, type Stack } from '../stack';
import { fold, numberOf, wordsOf } from './fold';
import { BEGINNING, BEING, INSIDE, SLIP } from './lexicon';

/** One thing of a record that a word can match. */
export interface Clue {
	text: string;
	folded: string;
	number: number;
	weight: number;
	field: string | null;
	/** What it is, to say why the record was found. */
	what: string;
	language: string | null;
}

/** What is looked for. */
export interface Wanted {
	/** As it was typed, without blanks around it, and folded. */
	typed: string;
	phrase: string;
	/** Between blanks: each must match something. */
	words: WantedWord[];
	exactCase: boolean;
	whole: boolean;
	pattern: boolean;
}

export interface WantedWord {
	typed: string;
	folded: string;
	/** Its runs of letters and digits. */
	parts: string[];
	number: number;
}

/** Weights of what can match: an id before a name before a text before a value before a remark. */
export const WEIGHTS = {
	id: 100,
	textId: 55,
	name: 95,
	text: 40,
	value: 30,
	meaning: 25,
	recordRemark: 20,
	remark: 15,
	file: 10
};

const clue = (
	text: string,
	weight: number,
	field: string | null,
	what: string,
	language: string | null = null
): Clue => ({ text, folded: fold(text), number: numberOf(text.trim()), weight, field, what, language });

/** Whether a folded text is what was typed, whatever stands between its words: `grey_plover` is `grey plover`. */
export function isPhrase(folded: string, { phrase, words }: Wanted): boolean {
	if (folded === phrase) return true;
	if (words.length < 2 || folded.length !== phrase.length) return false;
	const said = words.flatMap(({ parts }) => parts);
	return said.length > 1 && wordsOf(folded).join(' ') === said.join(' ');
}

/** A name or note that people gave a record. */
export interface GivenName {
	text: string;
	what: string;
}

/** All clues of a record. */
export function cluesOf(stack: Stack, record: EffectiveRecord, given: readonly GivenName[] = []): Clue[] {
	const guide = record.table.guide;
	const isText = record.kind === stack.guide.words?.kind;
	const languages = stack.guide.words?.languages ?? {};
	const clues = [clue(record.id, isText ? WEIGHTS.textId : WEIGHTS.id, null, 'id')];
	for (const { text, what } of given) clues.push(clue(text, WEIGHTS.name, null, what));
	const places = nameFields(record.table);
	// The field that has the key of the text, where it does not follow from the id.
	const holder = guide.texts.some(({ name }) => name) ? null : (places[0]?.field ?? null);
	for (const [language, name] of textNamesOf(stack, record))
		clues.push(clue(name, WEIGHTS.name, holder, `${languages[language]} name`, language));
	const texts = stack.tables.get(stack.guide.words?.kind ?? '');
	const addTexts = (key: string, label: string, field: string | null) => {
		for (const [language, value] of texts?.byId.get(key)?.values ?? [])
			clues.push(
				clue(
					value.value,
					WEIGHTS.text,
					field,
					`${languages[language] ?? language} ${label.toLowerCase()}`,
					language
				)
			);
	};
	for (const { label, key, name } of textKeysOf(stack, record))
		if (!name && key !== null) addTexts(key, label, null);
	const own = new Set(places.map(({ field }) => field));
	for (const [path, value] of record.values) {
		if (path === guide.key) continue;
		const about = fieldOf(guide, path);
		const title = isText ? `${languages[path] ?? path} text` : (about?.title ?? path);
		const language = isText ? path : null;
		const weight = own.has(path) ? WEIGHTS.name : WEIGHTS.value;
		if (value.value !== '') clues.push(clue(value.value, weight, path, title, language));
		const named = about?.reference?.kinds;
		if (texts && named?.length === 1 && named[0] === texts.kind) addTexts(value.value, title, path);
		if (value.remark) clues.push(clue(value.remark, WEIGHTS.remark, path, `remark on ${title}`));
		const meaning = about?.type === 'flags' ? null : meaningOf(about, value.value);
		if (meaning) clues.push(clue(meaning, WEIGHTS.meaning, path, `${title}: ${value.value}`));
	}
	const winner = record.presences.at(-1)!;
	if (winner.remark) clues.push(clue(winner.remark, WEIGHTS.recordRemark, null, 'remark'));
	clues.push(clue(winner.path, WEIGHTS.file, null, 'file name'));
	return clues;
}

const BREAK = /[^\p{L}\p{N}]/u;

function plainLikeness(found: Clue, word: string, number: number): number {
	if (!Number.isNaN(number) && !Number.isNaN(found.number)) return found.number === number ? BEING : 0;
	if (found.folded === word) return BEING;
	let at = found.folded.indexOf(word);
	if (at === 0) return Number.isNaN(number) || !/\d/.test(found.folded[word.length] ?? '') ? BEGINNING : 0;
	for (; at > 0; at = found.folded.indexOf(word, at + 1)) {
		const starts = BREAK.test(found.folded[at - 1]!);
		const ends = at + word.length === found.folded.length || BREAK.test(found.folded[at + word.length]!);
		if (starts && (Number.isNaN(number) || ends)) return ends ? 0.72 : 0.65;
		if (Number.isNaN(number)) return INSIDE;
	}
	if (found.weight < WEIGHTS.textId || word.length < 4 || !Number.isNaN(number)) return 0;
	const slips = word.length >= 8 ? 2 : 1;
	for (const part of wordsOf(found.folded))
		if (Math.abs(part.length - word.length) <= slips && distance(part, word) <= slips) return SLIP;
	return 0;
}

/** Whether a text fits a pattern: `*` for anything, `?` for one character. Linear in the text for each star. */
export function fits(text: string, pattern: string): boolean {
	let at = 0;
	let mark = 0;
	let star = -1;
	let from = 0;
	while (at < text.length) {
		if (pattern[mark] === '?' || (pattern[mark] === text[at] && pattern[mark] !== '*')) {
			at++;
			mark++;
		} else if (pattern[mark] === '*') {
			star = mark++;
			from = at;
		} else if (star >= 0) {
			mark = star + 1;
			at = ++from;
		} else return false;
	}
	while (pattern[mark] === '*') mark++;
	return mark === pattern.length;
}

/** How well a clue answers one word: 0 for not at all, up to 1 for being it. */
export function likeness(found: Clue, word: WantedWord, wanted: Wanted): number {
	if (wanted.pattern)
		return fits(wanted.exactCase ? found.text : found.folded, wanted.exactCase ? word.typed : word.folded)
			? BEING
			: 0;
	if (wanted.exactCase && !found.text.includes(word.typed)) return 0;
	if (wanted.whole) {
		if (found.folded === word.folded || (!Number.isNaN(word.number) && found.number === word.number))
			return BEING;
		const words = new Set(wordsOf(found.folded));
		return word.parts.length > 0 && word.parts.every((part) => words.has(part)) ? 0.72 : 0;
	}
	const plain = plainLikeness(found, word.folded, word.number);
	if (plain > 0 || word.parts.length === 0 || (word.parts.length === 1 && word.parts[0] === word.folded))
		return plain;
	// Written otherwise between its parts: `grey plover` for `grey_plover`.
	let least = 1;
	for (const part of word.parts) least = Math.min(least, plainLikeness(found, part, numberOf(part)));
	return least * 0.8;
}
