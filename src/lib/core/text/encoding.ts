import iconv from 'iconv-lite';
import { detectEol, type Eol } from './eol';

export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252' | 'iso-8859-1';

/** A text with all that is needed to write the same bytes again. */
export interface TextFile {
	text: string;
	encoding: Encoding;
	/** Whether the bytes begin with a byte-order mark. It is never part of `text`. */
	bom: boolean;
	eol: Eol;
	/** How the encoding was told: by its mark, because all bytes are valid in it, or as a guess. */
	told: 'mark' | 'valid' | 'guess';
}

const MARKS: [Encoding, number[]][] = [
	['utf-8', [0xef, 0xbb, 0xbf]],
	['utf-16le', [0xff, 0xfe]],
	['utf-16be', [0xfe, 0xff]]
];

/** Tried in this order where there is no mark; the last one can hold any bytes, so reading never fails. */
const GUESSES: Encoding[] = ['utf-8', 'windows-1252', 'iso-8859-1'];

const startsWith = (bytes: Uint8Array, mark: number[]) => mark.every((byte, at) => bytes[at] === byte);

function sameBytes(a: Uint8Array, b: Uint8Array): boolean {
	return a.length === b.length && a.every((byte, at) => byte === b[at]);
}

function bytesOf(text: string, encoding: Encoding): Uint8Array {
	return encoding === 'utf-8'
		? new TextEncoder().encode(text)
		: iconv.encode(text, encoding, { addBOM: false });
}

/** The text of the bytes in an encoding, or null when writing it back would not give these bytes. */
function faithful(bytes: Uint8Array, encoding: Encoding): string | null {
	if (encoding === 'utf-8') {
		try {
			return new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(bytes);
		} catch {
			return null;
		}
	}
	const text = iconv.decode(bytes, encoding, { stripBOM: false });
	return sameBytes(bytesOf(text, encoding), bytes) ? text : null;
}

/**
 * Reads bytes as text. Law: `encode(decode(bytes))` is `bytes`, for any bytes whatever.
 * The encoding is told by a byte-order mark, else by being valid UTF-8, else guessed as Windows-1252.
 */
export function decode(bytes: Uint8Array): TextFile {
	for (const [encoding, mark] of MARKS) {
		if (!startsWith(bytes, mark)) continue;
		const text = faithful(bytes.subarray(mark.length), encoding);
		if (text !== null) return { text, encoding, bom: true, eol: detectEol(text), told: 'mark' };
	}
	for (const encoding of GUESSES) {
		const text = faithful(bytes, encoding);
		if (text !== null)
			return {
				text,
				encoding,
				bom: false,
				eol: detectEol(text),
				told: encoding === 'utf-8' ? 'valid' : 'guess'
			};
	}
	throw new Error('unreachable: iso-8859-1 holds any bytes');
}

/**
 * The bytes of a text in its file's encoding.
 * @throws RangeError naming the first character that the encoding cannot hold, with its line and column.
 */
export function encode(file: Pick<TextFile, 'text' | 'encoding' | 'bom'>): Uint8Array {
	const body = bytesOf(file.text, file.encoding);
	if (faithful(body, file.encoding) !== file.text) {
		for (let at = 0; at < file.text.length; at++) {
			const char = String.fromCodePoint(file.text.codePointAt(at)!);
			if (faithful(bytesOf(char, file.encoding), file.encoding) !== char) {
				const before = file.text.slice(0, at).split(/\r\n|\n|\r/);
				const place = `line ${before.length}, column ${before.at(-1)!.length + 1}`;
				throw new RangeError(`The character “${char}” (${place}) cannot be written in ${file.encoding}.`);
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
