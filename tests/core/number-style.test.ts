import fc from 'fast-check';
import { expect, test } from 'vitest';
import { inStyleOf } from '$core/formats/number-style';

test('a number is written as the one that it replaces', () => {
	for (const [old, typed, written] of [
		['1.2500', '1.5', '1.5000'],
		['007', '12', '012'],
		['+3', '4', '+4'],
		['+3', '-4', '-4'],
		['0x0F', '10', '0x0A'],
		['0xff', '10', '0x0a'],
		['1e3', '2000', '2e3'],
		['1.50E+02', '250', '2.50E+02'],
		['12 kn', '14', '14 kn'],
		['50%', '60', '60%'],
		['.5', '0.25', '.25'],
		['3', '4', '4'],
		['fast', '4', '4'],
		['12', 'fast', 'fast'],
		['1.50', '0x10', '0x10']
	] as const)
		expect([old, typed, inStyleOf(old, typed).text]).toEqual([
			old,
			typed,
			written === '.25' ? '.25' : written
		]);
});

test('what a style cannot hold is said, and nothing of the value is lost', () => {
	expect(inStyleOf('1.50', '2.125')).toEqual({ text: '2.125', note: expect.stringContaining('3 decimals') });
	expect(inStyleOf('007', '1234').note).toContain('longer than the 3 digits');
	expect(inStyleOf('5', '5.5').note).toContain('whole number');
	expect(inStyleOf('0x0f', '300').note).toContain('3 hex digits');
	expect(inStyleOf('1e3', '2500')).toEqual({ text: '2500', note: expect.stringContaining('more digits') });
	expect(inStyleOf('0x0f', '1.5')).toMatchObject({ text: '1.5' });
});

test('whatever the style, the value is the one that was typed', () => {
	const styles = fc.constantFrom(
		'1.2500',
		'007',
		'+3',
		'0x0F',
		'1',
		'-2.5',
		'.50',
		'12.',
		'1e3',
		'-1.25e-03'
	);
	const typed = fc.oneof(
		fc.integer({ min: -99_999, max: 99_999 }).map(String),
		fc.tuple(fc.integer({ min: -999, max: 999 }), fc.nat(999)).map(([whole, behind]) => `${whole}.${behind}`)
	);
	fc.assert(
		fc.property(styles, typed, (old, value) => {
			const { text } = inStyleOf(old, value);
			const number = /^-0x/i.test(text) ? -Number(text.slice(1)) : Number(text);
			expect(number).toBe(Number(value));
		}),
		{ numRuns: 500 }
	);
});
