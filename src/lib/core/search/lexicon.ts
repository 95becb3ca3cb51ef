// All words that occur, and the texts that each is in. Looking for a part of a word is a search through one long string.
import type { Pool } from '../facts';
import { distance } from '../links';
import { inRoll, lowerBound, rollOf, type Roll } from './roll';
import { createWordTable } from './words';

/** Words in sorted order, and of each the numbers of the texts that hold it. */
export interface Lexicon {
	words: string[];
	firsts: Int32Array;
	texts: Int32Array;
	/** Numbers of texts that are numbers, sorted by value, and the values. */
	numbers: Float64Array;
	numberTexts: Int32Array;
	/** All words in two rolls: Latin letters, and others. */
	rolls: { roll: Roll; words: Int32Array }[];
	/** Words without digits by length, for slips of the finger, with the letters that each has as bits. */
	byLength: Map<number, { words: number[]; letters: Int32Array }>;
}

/** How a word of the lexicon answers a word that is looked for: from 0 to 1. */
export const BEING = 1;
export const BEGINNING = 0.8;
export const INSIDE = 0.45;
export const SLIP = 0.35;

function lettersOf(word: string): number {
	let bits = 0;
	for (let at = 0; at < word.length; at++) bits |= 1 << (word.charCodeAt(at) % 31);
	return bits;
}

function bitsIn(value: number): number {
	let bits = value - ((value >>> 1) & 0x55555555);
	bits = (bits & 0x33333333) + ((bits >>> 2) & 0x33333333);
	return (((bits + (bits >>> 4)) & 0x0f0f0f0f) * 0x01010101) >>> 24;
}

function wordsRolled(words: string[], which: (word: string) => boolean): Lexicon['rolls'][number] {
	const chosen: number[] = [];
	for (let at = 0; at < words.length; at++) if (which(words[at]!)) chosen.push(at);
	return { roll: rollOf(chosen.map((word) => words[word]!)), words: Int32Array.from(chosen) };
}

const LATIN = /^[\x00-\xff]*$/;

function byLengthOf(words: string[]): Lexicon['byLength'] {
	const lists = new Map<number, number[]>();
	words.forEach((word, at) => {
		if (word.length < 3 || /\d/.test(word)) return;
		const list = lists.get(word.length) ?? [];
		lists.set(word.length, list);
		list.push(at);
	});
	return new Map(
		[...lists].map(([length, list]) => [
			length,
			{ words: list, letters: Int32Array.from(list, (at) => lettersOf(words[at]!)) }
		])
	);
}

/** Pairs of numbers in pieces: a list that grows by doubling would leave as much behind as it holds. */
function createPairs() {
	const PIECE = 1 << 18;
	const pieces: Int32Array[] = [];
	let used = PIECE;
	return {
		push(a: number, b: number) {
			if (used === PIECE) {
				pieces.push(new Int32Array(PIECE));
				used = 0;
			}
			const piece = pieces.at(-1)!;
			piece[used++] = a;
			piece[used++] = b;
		},
		each(take: (a: number, b: number) => void) {
			pieces.forEach((piece, nth) => {
				const end = nth === pieces.length - 1 ? used : PIECE;
				for (let at = 0; at < end; at += 2) take(piece[at]!, piece[at + 1]!);
			});
		}
	};
}

/** Texts between two breaths. */
const STEP = 1000;

/**
 * Builds the lexicon over those texts of a pool for which `counts` says so. A generator, so that the caller can do
 * other things in between.
 */
export function* buildLexicon(
	pool: Pool,
	counts: (text: number) => boolean,
	from = 0
): Generator<void, Lexicon> {
	const upTo = pool.size;
	const table = createWordTable();
	const pairs = createPairs();
	let text = from;
	const take = (word: number) => {
		// Texts come in ascending order: a word that is in one several times has it as its last already.
		if (word < lasts.length && lasts[word] === text) return;
		if (word >= lasts.length) {
			const wider = new Int32Array(Math.max(1024, word * 2)).fill(-1);
			wider.set(lasts);
			lasts = wider;
		}
		lasts[word] = text;
		pairs.push(word, text);
	};
	let lasts = new Int32Array(0);
	const numbers: number[] = [];
	for (; text < upTo; text++) {
		if (text % STEP === 0) yield;
		if (!counts(text)) continue;
		if (!Number.isNaN(pool.number(text))) numbers.push(text);
		table.each(pool.at(text), take);
	}
	yield;
	const seen = table.words();
	const order = Array.from(seen.keys()).sort((a, b) => (seen[a]! < seen[b]! ? -1 : 1));
	const words = order.map((word) => seen[word]!);
	yield;
	const place = new Int32Array(words.length);
	order.forEach((word, at) => (place[word] = at));
	const firsts = new Int32Array(words.length + 1);
	pairs.each((word) => firsts[place[word]! + 1]!++);
	for (let at = 0; at < words.length; at++) firsts[at + 1]! += firsts[at]!;
	yield;
	const next = firsts.slice();
	const texts = new Int32Array(firsts.at(-1)!);
	pairs.each((word, text) => (texts[next[place[word]!]!++] = text));
	yield;
	numbers.sort((a, b) => pool.number(a) - pool.number(b) || a - b);
	yield;
	const latin = wordsRolled(words, (word) => LATIN.test(word));
	yield;
	const others = wordsRolled(words, (word) => !LATIN.test(word));
	yield;
	return {
		words,
		firsts,
		texts,
		numbers: Float64Array.from(numbers, (text) => pool.number(text)),
		numberTexts: Int32Array.from(numbers),
		rolls: [latin, others],
		byLength: byLengthOf(words)
	};
}

/** Whether a word is there. */
export const hasWord = ({ words }: Lexicon, word: string): boolean => words[lowerBound(words, word)] === word;

/** The texts that are a number. */
export function textsOfNumber({ numbers, numberTexts }: Lexicon, value: number): Int32Array {
	const from = lowerBound(numbers, value);
	let to = from;
	while (to < numbers.length && numbers[to] === value) to++;
	return numberTexts.subarray(from, to);
}

/** The words that hold a part. */
export function* wordsWith({ rolls }: Lexicon, part: string): Generator<number> {
	for (const { roll, words } of rolls) for (const found of inRoll(roll, part)) yield words[found]!;
}

function* slips({ byLength, words }: Lexicon, word: string): Generator<number> {
	const most = word.length >= 8 ? 2 : 1;
	const letters = lettersOf(word);
	for (let length = word.length - most; length <= word.length + most; length++) {
		const list = byLength.get(length);
		if (!list) continue;
		for (let at = 0; at < list.words.length; at++) {
			if (bitsIn(list.letters[at]! ^ letters) > 2 * most) continue;
			const other = words[list.words[at]!]!;
			if (other !== word && distance(other, word) <= most) yield list.words[at]!;
		}
	}
}

/**
 * The words that answer a word, each with how well; the better answer first where a word answers in two ways. One or
 * two letters find only what begins with them, and digits only themselves. A word that is there itself has no slips.
 */
export function* answers(
	lexicon: Lexicon,
	word: string,
	{ whole = false, slipping = true }: { whole?: boolean; slipping?: boolean } = {}
): Generator<[word: number, likeness: number]> {
	const { words } = lexicon;
	let at = lowerBound(words, word);
	const exact = words[at] === word;
	if (exact) yield [at, BEING];
	if (whole || /^\d+$/.test(word)) return;
	for (at += exact ? 1 : 0; at < words.length && words[at]!.startsWith(word); at++) yield [at, BEGINNING];
	if (word.length >= 3 || /[^\x00-\xff]/.test(word))
		for (const found of wordsWith(lexicon, word)) if (!words[found]!.startsWith(word)) yield [found, INSIDE];
	if (slipping && !exact && word.length >= 4 && !/\d/.test(word))
		for (const found of slips(lexicon, word)) if (!words[found]!.includes(word)) yield [found, SLIP];
}
