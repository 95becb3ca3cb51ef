import fc from 'fast-check';
import { expect, test } from 'vitest';
import iconv from 'iconv-lite';
import {
	COMMON,
	decode,
	detectEol,
	digestOf,
	encode,
	excerptAt,
	lineIndex,
	looksBinary,
	placeOf,
	SURE,
	Unwritable
} from '$core/text';

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
	expect(() => encode({ text: '\ud800', encoding: 'utf-8', bom: false })).toThrow(Unwritable);
});

test('line ends, places and excerpts', () => {
	expect(['', 'a\n', 'a\r\n', 'a\r', 'a\n\r\n'].map(detectEol)).toEqual([
		'none',
		'lf',
		'crlf',
		'cr',
		'mixed'
	]);
	// As a count of all line ends has it.
	fc.assert(
		fc.property(fc.array(fc.constantFrom('a', '\n', '\r', '\r\n', '\u2028')), (parts) => {
			const ends = new Set(parts.join('').match(/\r\n|\n|\r/g));
			const names = { '\n': 'lf', '\r': 'cr', '\r\n': 'crlf' } as const;
			const [only = null] = ends as Set<keyof typeof names>;
			expect(detectEol(parts.join(''))).toBe(ends.size > 1 ? 'mixed' : only === null ? 'none' : names[only]);
		})
	);
	const text = 'one\r\ntwo\rthree\n';
	const index = lineIndex(text);
	expect(placeOf(index, text.indexOf('three') + 2)).toEqual({ line: 3, column: 3 });
	expect(excerptAt(text, index, 1)).toBe('one');
	expect(digestOf(new Uint8Array())).toBe('e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855');
});

test('an encoding is told by its mark, by what the file declares, by being valid, then by statistics with a confidence', () => {
	const of = (text: string, encoding: string) => decode(new Uint8Array(iconv.encode(text, encoding)));
	expect(of('<?xml version="1.0" encoding="Shift_JIS"?><a>灯台</a>', 'shift_jis')).toMatchObject({
		encoding: 'shift_jis',
		told: 'declared',
		confidence: 1
	});
	expect(of('<meta charset=windows-1251><p>Маяк', 'windows-1251')).toMatchObject({
		encoding: 'windows-1251'
	});
	expect(of('msgid ""\nmsgstr "Content-Type: text/plain; charset=koi8-r\\n"\n', 'koi8-r').text).toContain(
		'koi8'
	);
	expect(of('"Content-Type: text/plain; charset=EUC-JP\\n"\n灯', 'euc-jp')).toMatchObject({
		encoding: 'euc-jp'
	});
	expect(of('plain text, no mark', 'utf-16le')).toMatchObject({
		encoding: 'utf-16le',
		told: 'guess',
		bom: false
	});
	expect(of('plain text, no mark', 'utf-16be')).toMatchObject({ encoding: 'utf-16be' });
	expect(of('灯台の島に船が入る。風が強い日は港で待つこと。', 'shift_jis')).toMatchObject({
		encoding: 'shift_jis',
		confidence: 1
	});
	expect(of('Die Möwe fährt über das Meer und grüßt die Küste', 'windows-1252')).toMatchObject({
		encoding: 'windows-1252'
	});
	expect(of('Маяк на острове, корабль входит в гавань', 'windows-1251')).toMatchObject({
		encoding: 'windows-1251'
	});
	expect(of('grün', 'windows-1252')).toMatchObject({ encoding: 'windows-1252', told: 'guess' });

	const few = of('灯台', 'shift_jis');
	expect(few.told).toBe('guess');
	expect(few.confidence).toBeLessThan(SURE);
	expect(few.others.length).toBeGreaterThan(0);
	// A declaration that the bytes do not bear out counts for nothing.
	expect(of('<?xml version="1.0" encoding="windows-1252"?>灯', 'utf-8').encoding).not.toBe('ascii');
});

test('a chosen encoding counts where the bytes are valid in it, and any reading writes the same bytes back', () => {
	fc.assert(
		fc.property(fc.uint8Array({ maxLength: 60 }), fc.constantFrom(...COMMON), (bytes, encoding) => {
			const file = decode(bytes, encoding);
			expect(encode(file)).toEqual(bytes);
			if (file.told === 'chosen') expect(file.encoding).toBe(encoding);
		}),
		{ numRuns: 1000 }
	);
	expect(looksBinary(new Uint8Array([1, 0, 2, 3]))).toBe(true);
	expect(looksBinary(new Uint8Array(iconv.encode('plain text', 'utf-16le')))).toBe(false);
});
