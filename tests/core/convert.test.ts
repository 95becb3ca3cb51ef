// Values in the units that people think in, and back in the style of what stood there.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
	asWritten,
	coverage,
	degreesOf,
	hexOf,
	inWords,
	rgbOf,
	sharesOf,
	switched,
	windOf,
	withColour
} from '$core/numbers';
import './sample-parts';

describe('what is typed becomes what is written', () => {
	test('per cent becomes a share with as many decimals, and more only where it has to', () => {
		expect(asWritten({ type: 'chance' }, '25 %', '0.500')).toBe('0.250');
		expect(asWritten({ type: 'chance' }, '12.5%', '0.5')).toBe('0.125');
		expect(asWritten({ type: 'chance' }, '0.3', '0.500')).toBe('0.3');
		expect(inWords({ type: 'chance' }, '0.125')).toBe('12.5 %');
		fc.assert(
			fc.property(fc.integer({ min: 0, max: 10_000 }), (parts) => {
				const written = asWritten({ type: 'chance' }, `${parts / 100} %`, '0.5');
				expect(Number(written)).toBeCloseTo(parts / 10_000, 9);
				expect(inWords({ type: 'chance' }, written)).toBe(`${parts / 100} %`);
			})
		);
	});
	test('degrees, minutes and seconds become signed degrees', () => {
		expect(degreesOf('61°30\'15"N')).toBeCloseTo(61.504167, 6);
		expect(degreesOf('7 15 W')).toBe(-7.25);
		expect(degreesOf('-7.25')).toBe(-7.25);
		expect(degreesOf('61 75 N')).toBeNull();
		expect(degreesOf('north')).toBeNull();
		expect(asWritten({ type: 'position' }, "61°30'N", '61.0000')).toBe('61.5000');
		expect(asWritten({ type: 'position' }, '61.25', '61.0000')).toBe('61.25');
		fc.assert(
			fc.property(
				fc.nat(179),
				fc.nat(59),
				fc.nat(59),
				fc.constantFrom('N', 'S', 'E', 'W'),
				(d, m, s, letter) => {
					const size = d + m / 60 + s / 3600;
					expect(degreesOf(`${d}°${m}'${s}"${letter}`)).toBeCloseTo('SW'.includes(letter) ? -size : size, 9);
				}
			)
		);
	});
	test('winds become angles, seconds become ticks', () => {
		expect(asWritten({ type: 'angle' }, 'nne', '20')).toBe('22.5');
		expect(asWritten({ type: 'angle' }, 'E', '20.0')).toBe('90.0');
		for (const degrees of [0, 22.5, 90, 337.5])
			expect(asWritten({ type: 'angle' }, windOf(degrees), '0')).toBe(String(degrees));
		expect(windOf(-90)).toBe('W');
		expect(asWritten({ type: 'duration', perSecond: 20 }, '3 s', '40')).toBe('60');
		expect(asWritten({ type: 'duration' }, '3 s', '40')).toBe('3 s');
		expect(inWords({ type: 'duration', perSecond: 20 }, '50')).toBe('2.5 s');
	});
	test('a colour stays in the way it was written', () => {
		const part = fc.integer({ min: 0, max: 255 });
		const written = fc.constantFrom(
			'#A0B1C2',
			'0xa0b1c2',
			'a0b1c2',
			'#a0b1c2ff',
			'1, 2, 3',
			'10;20;30',
			'#abc'
		);
		fc.assert(
			fc.property(written, fc.tuple(part, part, part), (text, rgb) => {
				const next = withColour(text, rgb);
				expect(rgbOf(next)).toEqual(rgb);
				expect(rgbOf(hexOf(rgb))).toEqual(rgb);
				if (text.endsWith('ff')) expect(next.endsWith('ff')).toBe(true);
			})
		);
		expect(withColour('#A0B1C2', [171, 2, 3])).toBe('#AB0203');
		expect(withColour('1,  2; 3', [9, 8, 7])).toBe('9,  8; 7');
		expect(rgbOf('300, 1, 2')).toBeNull();
	});
	test('a switch keeps its words and case', () => {
		for (const value of ['true', 'False', 'YES', 'off', '1']) {
			const once = switched(value)!;
			expect(switched(once.other)).toMatchObject({ on: !once.on, other: value });
		}
		expect(switched('maybe')).toBeNull();
	});
	test('a weighted list has shares that add up', () => {
		expect(sharesOf('mate:3;cook:1', { list: ';', weight: ':' })).toEqual([
			{ id: 'mate', weight: 3, share: 0.75 },
			{ id: 'cook', weight: 1, share: 0.25 }
		]);
		expect(inWords({ type: 'weights', separator: ';', weight: ':' }, 'mate:3;cook:1')).toBe(
			'mate 75 %, cook 25 %'
		);
	});
});

describe('what ranges cover', () => {
	const span = fc
		.tuple(fc.nat(10), fc.nat(10))
		.map(([a, b]): [number, number] => [Math.min(a, b), Math.max(a, b) + 1]);
	test('every point of the field lies in one cell, with just the rules that hold there', () => {
		fc.assert(
			fc.property(fc.array(fc.tuple(span, span), { maxLength: 6 }), fc.nat(10), fc.nat(10), (list, x, y) => {
				const bands = list.map((ranges, nth) => ({ id: `b${nth}`, ranges: [...ranges] }));
				const cells = coverage(bands, [
					[0, 11],
					[0, 11]
				]).filter(({ ranges: [a, b] }) => a![0] <= x && x < a![1] && b![0] <= y && y < b![1]);
				expect(cells).toHaveLength(1);
				const holding = list.flatMap(([a, b], nth) =>
					a[0] <= x && x < a[1] && b[0] <= y && y < b[1] ? [nth] : []
				);
				expect(cells[0]!.over).toEqual(holding);
			})
		);
	});
});
