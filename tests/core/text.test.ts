import fc from 'fast-check';
import { expect, test } from 'vitest';
import { decode, detectEol, digestOf, encode, excerptAt, lineIndex, placeOf } from '$core/text';

test('reading any bytes and writing them back is the identity', () => {
	const marks = fc.constantFrom<number[]>([], [0xef, 0xbb, 0xbf], [0xff, 0xfe], [0xfe, 0xff]);
	fc.assert(
		fc.property(marks, fc.uint8Array({ maxLength: 80 }), (mark, rest) => {
			const bytes = new Uint8Array([...mark, ...rest]);
			expect(encode(decode(bytes))).toEqual(bytes);
		}),
		{ numRuns: 2000 }
	);
});

test('text in an old code page is readable and goes back as it was', () => {
	const file = decode(new Uint8Array([0x4d, 0xf6, 0x77, 0x65, 0x20, 0x80]));
	expect(file).toMatchObject({ text: 'Möwe €', encoding: 'windows-1252', told: 'guess' });
	expect([...encode({ ...file, text: 'Bö' })]).toEqual([0x42, 0xf6]);
});

test('a character that the encoding cannot hold is refused with its place', () => {
	expect(() => encode({ text: 'a\nb漢', encoding: 'windows-1252', bom: false })).toThrow(
		'“漢” (line 2, column 2)'
	);
	expect(() => encode({ text: '\ud800', encoding: 'utf-8', bom: false })).toThrow(RangeError);
});

test('line ends, places and excerpts', () => {
	expect(['', 'a\n', 'a\r\n', 'a\r', 'a\n\r\n'].map(detectEol)).toEqual([
		'none',
		'lf',
		'crlf',
		'cr',
		'mixed'
	]);
	const text = 'one\r\ntwo\rthree\n';
	const index = lineIndex(text);
	expect(placeOf(index, text.indexOf('three') + 2)).toEqual({ line: 3, column: 3 });
	expect(excerptAt(text, index, 1)).toBe('one');
	expect(digestOf(new Uint8Array())).toBe('e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855');
});
