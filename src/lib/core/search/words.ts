// A table of words that is filled from long texts without making a string of each word: an open-addressed hash table over
// character codes (FNV-1a, Fowler, Noll and Vo; linear probing).
import { fold, wordsOf } from './fold';

/** Words numbered in the order in which they were first seen. */
export interface WordTable {
	readonly words: string[];
	/** Calls `take` with the number of each word of a text, folded; a word that comes twice is given twice. */
	each(text: string, take: (word: number) => void): void;
}

/** Of each ASCII code what it is folded to; 0 for what is between words. */
const FOLDED = Uint8Array.from({ length: 128 }, (_, code) => {
	const letter = String.fromCharCode(code).toLowerCase();
	return /[a-z0-9]/.test(letter) ? letter.charCodeAt(0) : 0;
});

/** An empty table. */
export function createWordTable(): WordTable {
	const words: string[] = [];
	let slots = new Int32Array(1 << 12).fill(-1);
	let hashes = new Int32Array(1 << 11);

	const grow = () => {
		const wider = new Int32Array(hashes.length * 2);
		wider.set(hashes);
		hashes = wider;
		slots = new Int32Array(slots.length * 2).fill(-1);
		for (let word = 0; word < words.length; word++) {
			let at = hashes[word]! & (slots.length - 1);
			while (slots[at]! >= 0) at = (at + 1) & (slots.length - 1);
			slots[at] = word;
		}
	};

	/** The number of the word that stands in `text` from `from` to `to`, both in folded letters of the table's own. */
	const find = (text: string, from: number, to: number, hash: number): number => {
		let at = hash & (slots.length - 1);
		for (let word = slots[at]!; word >= 0; at = (at + 1) & (slots.length - 1), word = slots[at]!) {
			if (hashes[word] !== hash || words[word]!.length !== to - from) continue;
			const known = words[word]!;
			let same = 0;
			while (same < known.length) {
				const code = text.charCodeAt(from + same);
				if (known.charCodeAt(same) !== (code < 128 ? FOLDED[code]! : code)) break;
				same++;
			}
			if (same === known.length) return word;
		}
		const word = words.length;
		words.push(text.slice(from, to).toLowerCase());
		hashes[word] = hash;
		slots[at] = word;
		if (words.length === hashes.length) grow();
		return word;
	};

	const whole = (word: string): number => {
		let hash = 0x811c9dc5;
		for (let at = 0; at < word.length; at++) hash = Math.imul(hash ^ word.charCodeAt(at), 0x01000193);
		return find(word, 0, word.length, hash | 0);
	};

	return {
		words,
		each(text, take) {
			let from = -1;
			let hash = 0x811c9dc5;
			for (let at = 0; at <= text.length; at++) {
				const code = at < text.length ? text.charCodeAt(at) : 32;
				if (code >= 128) {
					// Not plain: the words before this place are given again with all others, which does no harm.
					for (const word of wordsOf(fold(text))) take(whole(word));
					return;
				}
				const folded = FOLDED[code]!;
				if (folded !== 0) {
					if (from < 0) from = at;
					hash = Math.imul(hash ^ folded, 0x01000193);
				} else if (from >= 0) {
					take(find(text, from, at, hash | 0));
					from = -1;
					hash = 0x811c9dc5;
				}
			}
		}
	};
}
