// What the made-up files of every format are made of.
import fc from 'fast-check';
import type { FormatId, ReadHints } from '$core/formats';

// Streams do not shrink faithfully: the first counterexample is the one to look at.
fc.configureGlobal({ ...fc.readConfigureGlobal(), endOnFailure: true });

export interface Sample {
	format: FormatId;
	path: string;
	text: string;
	hints?: ReadHints;
}

export const eols = fc.constantFrom('\n', '\r\n', '\r');
const name = fc
	.stringMatching(/^[a-z][a-z0-9_]{0,7}$/)
	.filter((word) => !['constructor', '__proto__'].includes(word));
export const ids = (least = 1) => fc.uniqueArray(name, { minLength: least, maxLength: 6 });
const letters = fc.constantFrom(...'abcXYZ 019.-_äßéツ漢€"\'&<>\\#;=:,|'.split(''));
/** A value without line ends, tabs or spaces at its ends. */
export const value = fc
	.array(letters, { maxLength: 10 })
	.map((list) => list.join('').trim())
	.filter((text) => !text.startsWith('"'));

export const lines = (list: string[], eol: string, final: boolean) => list.join(eol) + (final ? eol : '');

/** One of a list, by any number. */
export const pick = <T>(list: readonly T[], nth: number): T => list[nth % list.length]!;

export const escapeXml = (text: string) =>
	text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('"', '&quot;');
