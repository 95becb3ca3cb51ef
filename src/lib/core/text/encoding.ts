import iconv from 'iconv-lite';
import { detectEol, type Eol } from './eol';
import { declaredIn, guessesFor, utf16Of } from './tell';

/** An encoding by its usual name in lower case: `utf-8`, `utf-16le`, `windows-1252`, `shift_jis`, or another that iconv-lite knows. */
export type Encoding = string;

/** How an encoding was told: chosen by people, by its mark, by what the file says of itself, by being valid in it, or as a guess. */
export type Told = 'chosen' | 'mark' | 'declared' | 'valid' | 'guess';

/** An encoding that a file may be in. */
export interface Candidate {
	encoding: Encoding;
	/** From 0 to 1. */
	confidence: number;
}

/** A text with all that is needed to write the same bytes again. */
export interface TextFile {
	text: string;
	encoding: Encoding;
	/** Whether the bytes begin with a byte-order mark. It is never part of `text`. */
	bom: boolean;
	eol: Eol;
	told: Told;
	/** How sure it is, from 0 to 1; 1 where it is not a guess. */
	confidence: number;
	/** Other encodings in which these bytes are readable and writable, likeliest first. Empty where it is no guess. */
	others: Candidate[];
}

const MARKS: [Encoding, number[]][] = [
	['utf-8', [0xef, 0xbb, 0xbf]],
	['utf-16le', [0xff, 0xfe]],
	['utf-16be', [0xfe, 0xff]]
];

/** Below this confidence people are asked. */
export const SURE = 0.6;

/** Encodings that are offered where one has to be chosen. */
export const COMMON: readonly Encoding[] = [
	'utf-8',
	'utf-16le',
	'utf-16be',
	'windows-1252',
	'shift_jis',
	'windows-1251',
	'windows-1250',
	'windows-1253',
	'windows-1254',
	'windows-1257',
	'koi8-r',
	'euc-jp',
	'gb18030',
	'big5',
	'euc-kr',
	'cp437',
	'macintosh',
	'iso-8859-1'
];

/** Whether an encoding can be read and written here. */
export const isEncoding = (name: string): boolean => iconv.encodingExists(name);

const startsWith = (bytes: Uint8Array, mark: number[]) => mark.every((byte, at) => bytes[at] === byte);

function sameBytes(a: Uint8Array, b: Uint8Array): boolean {
	if (a.length !== b.length) return false;
	for (let at = 0; at < a.length; at++) if (a[at] !== b[at]) return false;
	return true;
}

function bytesOf(text: string, encoding: Encoding): Uint8Array {
	return encoding === 'utf-8'
		? new TextEncoder().encode(text)
		: iconv.encode(text, encoding, { addBOM: false });
}

const strict = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });

/** The text of the bytes in an encoding, or null when writing it back would not give these bytes. */
function faithful(bytes: Uint8Array, encoding: Encoding): string | null {
	if (encoding === 'utf-8') {
		try {
			return strict.decode(bytes);
		} catch {
			return null;
		}
	}
	if (!isEncoding(encoding)) return null;
	const text = iconv.decode(bytes, encoding, { stripBOM: false });
	return sameBytes(bytesOf(text, encoding), bytes) ? text : null;
}

/** Bytes in an encoding, whatever they are: what is none of its letters stands as �, and a mark is not looked for. */
export const decodeAs = (bytes: Uint8Array, encoding: Encoding): string =>
	encoding === 'utf-8'
		? new TextDecoder('utf-8', { ignoreBOM: true }).decode(bytes)
		: iconv.decode(bytes, encoding, { stripBOM: false });

const fileOf = (
	text: string,
	encoding: Encoding,
	told: Told,
	bom = false,
	confidence = 1,
	others: Candidate[] = []
): TextFile => ({ text, encoding, bom, eol: detectEol(text), told, confidence, others });

/** A text as the file `like` is written; what was known of it stays known. */
export function textLike(text: string, like: Pick<TextFile, 'encoding' | 'bom'>, known?: TextFile): TextFile {
	const { told, confidence, others } = known ?? { told: 'valid', confidence: 1, others: [] };
	return { text, encoding: like.encoding, bom: like.bom, eol: detectEol(text), told, confidence, others };
}

/** What fits bytes without any hint, likeliest first; each can be written back byte for byte. */
function guessed(bytes: Uint8Array): TextFile {
	const fits: { candidate: Candidate; text: string }[] = [];
	for (const candidate of guessesFor(bytes)) {
		if (fits.some((other) => other.candidate.encoding === candidate.encoding)) continue;
		const text = faithful(bytes, candidate.encoding);
		if (text !== null) fits.push({ candidate, text });
	}
	const [best, ...rest] = fits;
	if (!best) throw new Error('unreachable: iso-8859-1 holds any bytes');
	const others = rest.map(({ candidate }) => candidate);
	return fileOf(best.text, best.candidate.encoding, 'guess', false, best.candidate.confidence, others);
}

/**
 * Reads bytes as text. Law: `encode(decode(bytes))` is `bytes`, for any bytes whatever and any choice.
 * The encoding is told by a byte-order mark; else it is the one chosen where the bytes are valid in it; else what the
 * file declares, or UTF-8 where letters beyond ASCII are valid in it; else `like`, the encoding of the file that this
 * one is over; else detected by statistics, with a confidence and the others that would do.
 */
export function decode(bytes: Uint8Array, chosen?: Encoding, like?: Encoding): TextFile {
	for (const [encoding, mark] of MARKS) {
		if (!startsWith(bytes, mark)) continue;
		const text = faithful(bytes.subarray(mark.length), encoding);
		if (text !== null) return fileOf(text, encoding, 'mark', true);
	}
	if (chosen !== undefined) {
		const text = faithful(bytes, chosen);
		if (text !== null) return fileOf(text, chosen, 'chosen');
	}
	const wide = utf16Of(bytes);
	if (wide) {
		const text = faithful(bytes, wide);
		if (text !== null) return fileOf(text, wide, 'guess', false, 0.95);
	}
	const declared = declaredIn(bytes);
	if (declared !== null && declared !== 'utf-8') {
		const text = faithful(bytes, declared);
		if (text !== null) return fileOf(text, declared, 'declared');
	}
	const utf8 = faithful(bytes, 'utf-8');
	if (utf8 !== null && (like === undefined || /[^\x00-\x7f]/.test(utf8)))
		return fileOf(utf8, 'utf-8', declared === 'utf-8' ? 'declared' : 'valid');
	const alike = like === undefined ? null : faithful(bytes, like);
	if (alike !== null) return fileOf(alike, like!, 'chosen');
	if (utf8 !== null) return fileOf(utf8, 'utf-8', 'valid');
	return guessed(bytes);
}

/** A text holds a character that its file's encoding has no bytes for. */
export class Unwritable extends Error {}

/**
 * The bytes of a text in its file's encoding.
 * @throws Unwritable naming the first character that the encoding cannot hold, with its line and column.
 */
export function encode(file: Pick<TextFile, 'text' | 'encoding' | 'bom'>): Uint8Array {
	const body = bytesOf(file.text, file.encoding);
	if (faithful(body, file.encoding) !== file.text) {
		for (let at = 0; at < file.text.length; at++) {
			const char = String.fromCodePoint(file.text.codePointAt(at)!);
			if (faithful(bytesOf(char, file.encoding), file.encoding) !== char) {
				const before = file.text.slice(0, at).split(/\r\n|\n|\r/);
				const place = `line ${before.length}, column ${before.at(-1)!.length + 1}`;
				throw new Unwritable(`The character “${char}” (${place}) cannot be written in ${file.encoding}.`);
			}
			at += char.length - 1;
		}
	}
	const mark = file.bom ? (MARKS.find(([encoding]) => encoding === file.encoding)?.[1] ?? []) : [];
	const bytes = new Uint8Array(mark.length + body.length);
	bytes.set(mark);
	bytes.set(body, mark.length);
	return bytes;
}
