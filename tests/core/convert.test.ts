// Values in the units that people think in, and back in the style of what was there.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
	asWritten,
	coverage,
	degreesOf,
	hexOf,
	inWords,
	readingsOf,
	rgbOf,
	sharesOf,
	switched,
	windOf,
	withColour,
	withoutPart,
	withPart,
	withPartMoved,
	withPartText,
	withWeight
} from '$core/numbers';
import { faultOf, limitFault, textSchema, typeFault, valueSchema } from '$core/checks';
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

describe('weighted lists are edited where they stand', () => {
	const rule = { list: '|', weight: ':' };
	const id = fc.stringMatching(/^[a-z]{1,6}$/);
	const space = fc.constantFrom('', ' ');
	const lists = fc
		.array(fc.tuple(space, id, fc.integer({ min: 0, max: 99 }), space), { minLength: 1, maxLength: 6 })
		.map((parts) =>
			parts.map(([before, name, weight, after]) => `${before}${name}:${weight}${after}`).join('|')
		);
	test('another weight is read back, and nothing else is touched', () => {
		fc.assert(
			fc.property(lists, fc.nat(5), fc.integer({ min: 0, max: 99 }), (list, nth, weight) => {
				const before = sharesOf(list, rule);
				fc.pre(nth < before.length);
				const after = withWeight(list, rule, nth, String(weight));
				expect(sharesOf(after, rule).map((part) => [part.id, part.weight])).toEqual(
					before.map((part, at) => [part.id, at === nth ? weight : part.weight])
				);
				expect(withWeight(after, rule, nth, String(before[nth]!.weight))).toBe(list);
			})
		);
	});
	test('a part more and a part less: shares come to one, and the others stay', () => {
		fc.assert(
			fc.property(lists, id, fc.nat(6), (list, name, nth) => {
				const before = sharesOf(list, rule);
				const longer = withPart(list, rule, name, '3');
				expect(sharesOf(longer, rule).map((part) => part.id)).toEqual([
					...before.map((part) => part.id),
					name
				]);
				expect(sharesOf(longer, rule).reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 9);
				const shorter = withoutPart(longer, rule, nth);
				const kept = sharesOf(longer, rule).filter((_, at) => at !== nth);
				expect(sharesOf(shorter, rule).map((part) => part.id)).toEqual(kept.map((part) => part.id));
			})
		);
		expect(withPart('', rule, 'cook', '1')).toBe('cook:1');
		expect(withPart('pilot', rule, 'cook', '2')).toBe('pilot|cook:2');
		expect(withWeight('pilot | cook', rule, 1, '4')).toBe('pilot | cook:4');
	});
	test('a part at another place, or with another text: there and back gives the same, also without weights', () => {
		for (const by of [rule, { list: '|' }])
			fc.assert(
				fc.property(lists, fc.nat(5), fc.nat(5), id, (list, nth, to, text) => {
					const ids = (value: string) => sharesOf(value, by).map((part) => part.id);
					const before = ids(list);
					fc.pre(nth < before.length && to < before.length);
					const order = [...before];
					order.splice(to, 0, ...order.splice(nth, 1));
					const moved = withPartMoved(list, by, nth, to);
					expect(ids(moved)).toEqual(order);
					expect(withPartMoved(moved, by, to, nth)).toBe(list);
					const other = withPartText(list, by, nth, text);
					expect(ids(other)).toEqual(before.map((part, at) => (at === nth ? text : part)));
					expect(withPartText(other, by, nth, before[nth]!)).toBe(list);
				})
			);
		expect(withPartMoved('a, b,c', { list: ',' }, 2, 0)).toBe('c, a,b');
		expect(withPartMoved('a', { list: ',' }, 2, 0)).toBe('a');
	});
});

describe('a value is turned into the other ways of writing it', () => {
	const as = (typed: string, perSecond = 20) =>
		Object.fromEntries(readingsOf(typed, perSecond).map(({ what, value }) => [what, value]));
	test('each sort', () => {
		expect(as('31')).toEqual({ hex: '0x1F', 'bits that are set': '0, 1, 2, 3, 4', wind: 'NNE' });
		expect(as('0x1F')).toEqual({ number: '31', 'bits that are set': '0, 1, 2, 3, 4' });
		expect(as('bits 0, 3 5')).toEqual({ 'number with these bits': '41', hex: '0x29' });
		expect(as('12.5 %')).toEqual({ share: '0.125' });
		expect(as('0.125')).toMatchObject({ 'per cent': '12.5 %' });
		expect(as('1.5 min')).toEqual({ ticks: '1800', seconds: '90' });
		expect(as('30 ticks')).toEqual({ ticks: '30', seconds: '1.5' });
		expect(as('61°30\'15"N')).toEqual({ 'signed degrees': '61.504167' });
		expect(as('-7.25')).toEqual({ 'degrees, minutes, seconds': '-7°15′0″' });
		expect(as('#a1b2c3')).toMatchObject({ 'red, green, blue': '161, 178, 195' });
		expect(as('nothing like it')).toEqual({});
		expect(as('')).toEqual({});
	});
	test('bits and degrees come back', () => {
		fc.assert(
			fc.property(fc.nat(2 ** 31 - 1), (number) => {
				const bits = as(String(number))['bits that are set']!;
				if (number > 0) expect(as(`bits ${bits}`)['number with these bits']).toBe(String(number));
				expect(as(as(String(number)).hex!).number).toBe(String(number));
			})
		);
		fc.assert(
			fc.property(
				fc.integer({ min: -17_999, max: 17_999 }).filter((one) => one % 100 !== 0),
				(hundredths) => {
					const written = as(String(hundredths / 100))['degrees, minutes, seconds']!;
					expect(degreesOf(written)).toBeCloseTo(hundredths / 100, 5);
				}
			)
		);
	});
});

describe('the schema of a field says what the checks say', () => {
	const about = fc.record({
		type: fc.constantFrom(
			'whole',
			'decimal',
			'chance',
			'switch',
			'date',
			'colour',
			'text',
			'flags'
		) as fc.Arbitrary<'whole' | 'decimal' | 'text'>,
		required: fc.boolean(),
		unused: fc.constant(false),
		min: fc.option(fc.integer({ min: -9, max: 0 }), { nil: undefined }),
		max: fc.option(fc.integer({ min: 1, max: 9 }), { nil: undefined })
	});
	test('for any value', () => {
		const value = fc.oneof(
			fc.string({ maxLength: 6 }),
			fc.integer({ min: -20, max: 20 }).map(String),
			fc.constantFrom('', 'true', '0.5', '1931-05-24', '#fff')
		);
		fc.assert(
			fc.property(about, value, (field, text) => {
				const said = faultOf(valueSchema(field), text);
				const wrong = typeFault(field, text) ?? limitFault(field, text)?.said ?? null;
				expect(said === null).toBe(wrong === null);
				if (wrong !== null) expect(said).toContain(wrong);
			})
		);
	});
	test('texts have the room that the guide tells, counted in letters', () => {
		const schema = textSchema({ longest: 4, oneLine: true });
		expect(faultOf(schema, '船船船船')).toBeNull();
		expect(faultOf(schema, '🚢🚢🚢🚢')).toBeNull();
		expect(faultOf(schema, 'boats')).toBe('has 5 letters; the game has room for 4');
		expect(faultOf(schema, 'a\nb')).toBe('has several lines; the game shows one');
	});
});
