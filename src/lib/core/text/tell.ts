// Which encoding bytes without a mark may be in: what the file says of itself, then statistics.
import { analyse } from 'chardet';
import type { Candidate, Encoding } from './encoding';

/** Bytes that are looked at for a guess. */
const SAMPLE = 64 * 1024;
/** Bytes at the start in which a declaration is looked for. */
const HEAD = 2048;

const latin = new TextDecoder('windows-1252');

const ascii = (bytes: Uint8Array) => latin.decode(bytes.subarray(0, HEAD));

/** A name as it is used here: the wider of two encodings that are mixed up everywhere. */
function usual(name: string): Encoding {
	const lower = name.toLowerCase();
	if (/^(?:iso-8859-1|latin-?1|us-ascii|ascii|cp-?1252)$/.test(lower)) return 'windows-1252';
	if (/^(?:utf8)$/.test(lower)) return 'utf-8';
	if (/^(?:utf-16|utf16)$/.test(lower)) return 'utf-16le';
	if (/^(?:sjis|shift-jis|x-sjis|windows-31j|cp932|ms_kanji)$/.test(lower)) return 'shift_jis';
	if (/^(?:gbk|gb2312)$/.test(lower)) return 'gb18030';
	if (/^cp-?(125\d)$/.test(lower)) return lower.replace(/^cp-?/, 'windows-');
	return lower;
}

/**
 * The encoding that a text names in its first lines: an XML declaration, a page's `charset`, a message catalogue's
 * header, or a `coding:` comment. Null where none does.
 */
export function declaredIn(bytes: Uint8Array): Encoding | null {
	const head = ascii(bytes);
	if (!/charset|coding/i.test(head)) return null;
	const found =
		/^<\?xml[^>]*\sencoding\s*=\s*["']([\w.:-]+)["']/.exec(head) ??
		/<meta[^>]*\scharset\s*=\s*["']?\s*([\w.:-]+)/i.exec(head) ??
		/"Content-Type:[^"]*charset=([\w.:-]+)/i.exec(head) ??
		/^[^\r\n]{0,8}(?:#|--|;|\/\/)[^\r\n]*\bcoding[:=]\s*([\w.-]+)/m.exec(head) ??
		/^@charset "([\w.-]+)"/.exec(head);
	const name = found?.[1];
	return name === undefined || /^charset$/i.test(name) ? null : usual(name);
}

/** UTF-16 without a mark: every other byte of ordinary text is zero. Null where it is not so. */
export function utf16Of(bytes: Uint8Array): Encoding | null {
	if (bytes.length < 8 || bytes.length % 2 !== 0) return null;
	const sample = bytes.subarray(0, SAMPLE);
	let even = 0;
	let odd = 0;
	for (let at = 0; at < sample.length; at++) {
		if (sample[at] !== 0) continue;
		if (at % 2 === 0) even++;
		else odd++;
	}
	const half = sample.length / 2;
	const little = odd > half * 0.4 && even < half * 0.02;
	if (!little && !(even > half * 0.4 && odd < half * 0.02)) return null;
	// Small numbers in pairs of bytes look the same, but no text is made of control characters.
	let controls = 0;
	for (let at = 0; at + 1 < sample.length; at += 2) {
		const [low, high] = little ? [sample[at]!, sample[at + 1]!] : [sample[at + 1]!, sample[at]!];
		if (high === 0 && (low < 9 || (low > 13 && low < 32))) controls++;
	}
	return controls > half * 0.02 ? null : little ? 'utf-16le' : 'utf-16be';
}

/** Whether bytes are no text: they hold zeros and are no UTF-16. */
export function looksBinary(bytes: Uint8Array): boolean {
	const head = bytes.subarray(0, 8000);
	if (!head.includes(0)) return false;
	if ((head[0] === 0xff && head[1] === 0xfe) || (head[0] === 0xfe && head[1] === 0xff)) return false;
	return utf16Of(bytes) === null;
}

const isLetter = (byte: number | undefined) =>
	byte !== undefined && ((byte >= 65 && byte <= 90) || (byte >= 97 && byte <= 122));

/** Share of the bytes above ASCII that are letters of Western Europe inside or beside Latin words. */
function latinShare(bytes: Uint8Array): number {
	let high = 0;
	let words = 0;
	for (let at = 0; at < bytes.length; at++) {
		const byte = bytes[at]!;
		if (byte < 0x80) continue;
		high++;
		if (byte >= 0xc0 && (isLetter(bytes[at - 1]) || isLetter(bytes[at + 1]))) words++;
	}
	return high === 0 ? 0 : words / high;
}

/** Share of the bytes above ASCII that are in pairs as Japanese texts in Shift_JIS have them: kana and common kanji. */
function japaneseShare(bytes: Uint8Array): number {
	let high = 0;
	let pairs = 0;
	for (let at = 0; at < bytes.length; at++) {
		const byte = bytes[at]!;
		if (byte < 0x80) continue;
		high++;
		const next = bytes[at + 1] ?? 0;
		const lead = byte >= 0x81 && byte <= 0x98;
		if (lead && next >= 0x40 && next <= 0xfc && next !== 0x7f) {
			pairs++;
			at++;
		}
	}
	return high === 0 ? 0 : pairs / high;
}

/**
 * Encodings that bytes may be in, likeliest first. Long texts are detected by the statistics of `chardet`; it gives little
 * for the few words of a game's file, where the neighbours of the bytes above ASCII say more. The last one, iso-8859-1,
 * holds any bytes.
 */
export function guessesFor(bytes: Uint8Array): Candidate[] {
	const first = bytes.findIndex((byte) => byte >= 0x80);
	const from = Math.max(0, Math.min(first, bytes.length - SAMPLE));
	const sample = bytes.subarray(from, from + SAMPLE);
	const found = new Map<Encoding, number>();
	const add = (encoding: Encoding, confidence: number) =>
		found.set(encoding, Math.max(found.get(encoding) ?? 0, Math.round(confidence * 100) / 100));
	for (const { name, confidence } of analyse(sample))
		if (!/^(?:ASCII|UTF-8|UTF-16|UTF-32)/i.test(name)) add(usual(name), confidence / 100);
	const latin = latinShare(sample);
	if (latin > 0.8) add('windows-1252', 0.4 + 0.3 * latin);
	const japanese = japaneseShare(sample);
	if (japanese > 0.9) add('shift_jis', 0.5 * japanese);
	add('windows-1252', 0.05);
	add('iso-8859-1', 0.01);
	return [...found]
		.map(([encoding, confidence]) => ({ encoding, confidence }))
		.sort((a, b) => b.confidence - a.confidence);
}
