// A table of words that is filled from long texts without making a string of each word: an open-addressed hash table over
// bytes (FNV-1a, Fowler, Noll and Vo; linear probing).
import { fold, wordsOf } from './fold';

/** Words numbered in the order in which they were first seen. */
export interface WordTable {
	/** All words, made into strings when asked for. */
	words(): string[];
	/** Calls `take` with the number of each word of a text, folded; a word that comes twice is given twice. */
	each(text: string, take: (word: number) => void): void;
}

/** Of each ASCII code what it is folded to; 0 for what is between words. */
const FOLDED = Uint8Array.from({ length: 128 }, (_, code) => {
	const letter = String.fromCharCode(code).toLowerCase();
	return /[a-z0-9]/.test(letter) ? letter.charCodeAt(0) : 0;
});

const START = 0x811c9dc5;
const PRIME = 0x01000193;

/** An empty table. */
export function createWordTable(): WordTable {
	const encoder = new TextEncoder();
	let count = 0;
	let slots = new Int32Array(1 << 12).fill(-1);
	let hashes = new Int32Array(1 << 11);
	/** Bytes of all words behind each other in UTF-8, and where each begins. */
	let letters = new Uint8Array(1 << 14);
	let starts = new Int32Array((1 << 11) + 1);
	let bytes = new Uint8Array(1 << 12);

	const grow = () => {
		const more = <T extends Int32Array>(list: T, length: number) => {
			const wider = new Int32Array(length);
			wider.set(list);
			return wider;
		};
		hashes = more(hashes, hashes.length * 2);
		starts = more(starts, hashes.length + 1);
		slots = new Int32Array(hashes.length * 2).fill(-1);
		for (let word = 0; word < count; word++) {
			let at = hashes[word]! & (slots.length - 1);
			while (slots[at]! >= 0) at = (at + 1) & (slots.length - 1);
			slots[at] = word;
		}
	};

	/** The number of the word whose folded bytes are in `bytes` from `from` to `to`. */
	const find = (from: number, to: number, hash: number): number => {
		const length = to - from;
		let at = hash & (slots.length - 1);
		for (let word = slots[at]!; word >= 0; at = (at + 1) & (slots.length - 1), word = slots[at]!) {
			const start = starts[word]!;
			if (hashes[word] !== hash || starts[word + 1]! - start !== length) continue;
			let same = 0;
			while (same < length && letters[start + same] === bytes[from + same]) same++;
			if (same === length) return word;
		}
		const start = starts[count]!;
		if (start + length > letters.length) {
			const wider = new Uint8Array(Math.max(letters.length * 2, start + length));
			wider.set(letters);
			letters = wider;
		}
		letters.set(bytes.subarray(from, to), start);
		starts[count + 1] = start + length;
		hashes[count] = hash;
		slots[at] = count;
		if (++count === hashes.length) grow();
		return count - 1;
	};

	const encode = (text: string): number => {
		if (text.length * 3 > bytes.length) bytes = new Uint8Array(text.length * 3 + 1024);
		return encoder.encodeInto(text, bytes).written;
	};

	const whole = (word: string): number => {
		const length = encode(word);
		let hash = START;
		for (let at = 0; at < length; at++) hash = Math.imul(hash ^ bytes[at]!, PRIME);
		return find(0, length, hash | 0);
	};

	return {
		words() {
			const decoder = new TextDecoder();
			return Array.from({ length: count }, (_, word) =>
				decoder.decode(letters.subarray(starts[word]!, starts[word + 1]!))
			);
		},
		each(text, take) {
			// Reading bytes from an array is several times faster than letters from a string that is a part of another.
			const length = encode(text);
			let from = -1;
			let hash = START;
			for (let at = 0; at <= length; at++) {
				const code = at < length ? bytes[at]! : 32;
				if (code >= 128) {
					// Not plain: the words before this place are given again with all others, which does no harm.
					for (const word of wordsOf(fold(text))) take(whole(word));
					return;
				}
				const folded = FOLDED[code]!;
				if (folded !== 0) {
					if (from < 0) from = at;
					bytes[at] = folded;
					hash = Math.imul(hash ^ folded, PRIME);
				} else if (from >= 0) {
					take(find(from, at, hash | 0));
					from = -1;
					hash = START;
				}
			}
		}
	};
}
