// Scenarios: what a program prints, both sides held against each other, and intervals that hold what they promise.
import { mean } from 'd3-array';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parseGuide } from '$core/guide';
import { assembleStack } from '$core/model';
import {
	argumentsOf,
	compareSteps,
	meanSteps,
	namesIn,
	pairsOf,
	playIn,
	playsAsCsv,
	shares,
	workedOut
} from '$core/scenario';
import { randomBy } from '../random';

/** Goes through all steps at once. */
function inOneGo<T>(steps: Generator<void, T>): T {
	for (;;) {
		const step = steps.next();
		if (step.done) return step.value;
	}
}
const comparedBy = (...given: Parameters<typeof compareSteps>) => inOneGo(compareSteps(...given));
const meanOf = (numbers: Float64Array) => inOneGo(meanSteps(numbers));

/** A number as it is normally distributed, by Box and Muller. */
const normal = (random: () => number) =>
	Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());

const guide = (scenario: string) => parseGuide(`guide: 1\nscenarios:\n  one: ${scenario}\n`).scenarios!.one!;

describe('what a program prints', () => {
	test('a line of JSON with a seed is a play; words, broken lines and what is no number are not', () => {
		expect(playIn('{"seed":3,"saved":2,"won":true,"by":"tug","none":null}')).toEqual({
			seed: 3,
			values: { saved: 2, won: 1 }
		});
		for (const line of ['loaded cleanly', '{"saved":2}', '{"seed":"3"}', '{"seed":3', '[1]', ''])
			expect(playIn(line)).toBeNull();
	});

	test('law: whatever is printed is a play or none, and never a fault', () => {
		fc.assert(
			fc.property(fc.oneof(fc.string(), fc.json()), (line) => {
				const play = playIn(line);
				if (play) expect(Object.values(play.values).every(Number.isFinite)).toBe(true);
			})
		);
	});

	test('law: shares are all seeds once, in as many pieces as there are workers at most', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 1, max: 5000 }),
				fc.nat(1000),
				fc.integer({ min: 1, max: 16 }),
				(times, seed, workers) => {
					const all = shares(times, seed, workers);
					expect(all.length).toBeLessThanOrEqual(workers);
					expect(all.flatMap((one) => Array.from({ length: one.times }, (_, nth) => one.seed + nth))).toEqual(
						Array.from({ length: times }, (_, nth) => seed + nth)
					);
				}
			)
		);
	});

	test('places of the arguments are filled; what is typed there is one word, whatever it holds', () => {
		const scenario = guide(
			`{ title: One, arguments: [play, '{vessel}', '--times={times}', '{seed}', '{other}'], inputs: { vessel: { kind: vessel } } }`
		);
		expect(argumentsOf(scenario, { inputs: { vessel: 'a; rm -rf {seed}' }, times: 5, seed: 7 })).toEqual([
			'play',
			'a; rm -rf {seed}',
			'--times=5',
			'7',
			'{other}'
		]);
	});

	test('a scenario is either played or worked out', () => {
		expect(() => guide('{ title: One }')).toThrow(/arguments/);
		expect(() => guide('{ title: One, arguments: [a], formula: b, kind: c }')).toThrow(/arguments/);
		expect(() => guide('{ title: One, formula: b }')).toThrow(/arguments/);
	});
});

describe('two sides', () => {
	const plays = (numbers: number[], first = 0) =>
		numbers.map((saved, nth) => ({ seed: first + nth, values: { saved } }));

	test('plays are paired by seed; what only one side has is left out', () => {
		const [base, mine] = [plays([1, 2, 3], 5), plays([9, 4, 4], 6)];
		expect(namesIn(base, mine)).toEqual(['saved']);
		const pairs = pairsOf('saved', base, mine);
		expect(pairs.seeds).toEqual([6, 7]);
		expect([...pairs.base]).toEqual([2, 3]);
		expect([...pairs.mine]).toEqual([9, 4]);
		expect(comparedBy('saved', pairs)).toMatchObject({
			count: 2,
			difference: { value: 4 },
			more: 2,
			less: 0,
			same: 0
		});
		expect(comparedBy('saved', pairsOf('saved', plays([1]), plays([1], 9)))).toBeNull();
	});

	test('law: bars hold every play of both sides, and the difference is that of the means', () => {
		const numbers = fc.array(
			fc.oneof(fc.integer({ min: -5, max: 30 }), fc.double({ min: -1e6, max: 1e6, noNaN: true })),
			{
				minLength: 1,
				maxLength: 60
			}
		);
		fc.assert(
			fc.property(numbers, numbers, (one, other) => {
				const count = Math.min(one.length, other.length);
				const [base, mine] = [plays(one.slice(0, count)), plays(other.slice(0, count))];
				const found = comparedBy('saved', pairsOf('saved', base, mine))!;
				for (const side of ['base', 'mine'] as const)
					expect(found.bins.reduce((sum, bar) => sum + bar[side], 0)).toBe(count);
				expect(found.difference.value).toBeCloseTo(found.mine.mean - found.base.mean, 5);
				expect(found.more + found.less + found.same).toBe(count);
				const { low, high, value } = found.difference;
				// A mean of few numbers can lie a hair beside all of its samples, by rounding.
				const hair = 1e-9 * Math.max(1, Math.abs(value));
				expect(low).toBeLessThanOrEqual(value + hair);
				expect(high).toBeGreaterThanOrEqual(value - hair);
			}),
			{ numRuns: 60 }
		);
	});

	test('of intervals said to be 95 % sure, about 95 of 100 hold the truth', () => {
		let held = 0;
		for (let seed = 1; seed <= 200; seed++) {
			const random = randomBy(seed);
			const { low, high } = meanOf(Float64Array.from({ length: 80 }, () => 3 + 2 * normal(random)));
			if (low <= 3 && 3 <= high) held++;
		}
		expect(held).toBeGreaterThanOrEqual(180);
		expect(held).toBeLessThanOrEqual(198);
	});

	test('the same numbers give the same interval, and pairs a narrower one than their sides', () => {
		const random = randomBy(4);
		const nights = Array.from({ length: 300 }, () => 20 * random());
		const pairs = pairsOf(
			'saved',
			plays(nights),
			plays(nights.map((number) => number + 0.5 + 0.2 * normal(random)))
		);
		const [one, two] = [comparedBy('saved', pairs)!, comparedBy('saved', pairs)!];
		expect(one).toEqual(two);
		expect(one.difference.low).toBeGreaterThan(0.4);
		expect(one.difference.high).toBeLessThan(0.6);
		const side = meanOf(pairs.base);
		expect(side.high - side.low).toBeGreaterThan(10 * (one.difference.high - one.difference.low));
		expect(side.value).toBe(mean(pairs.base));
	});

	test('of very many numbers the interval is as of many', () => {
		const random = randomBy(8);
		const numbers = Float64Array.from({ length: 5001 }, () => 3 + 2 * normal(random));
		const [many, more] = [meanOf(numbers.subarray(0, 5000)), meanOf(numbers)];
		expect(Math.abs(many.low - more.low)).toBeLessThan(0.01);
		expect(Math.abs(many.high - more.high)).toBeLessThan(0.01);
	});

	test('every play is in the table', () => {
		expect(
			playsAsCsv([
				{ side: 'base', plays: plays([1, 2]) },
				{ side: 'mine', plays: [{ seed: 0, values: { saved: 3, 'a,b': 4 } }] }
			])
		).toBe('side,seed,saved,"a,b"\nbase,0,1,\nbase,1,2,\nmine,0,3,4\n');
	});
});

test('a formula is worked out for every record of both sides; what it gives no number for is named', () => {
	const bytes = (text: string) => new TextEncoder().encode(text);
	const kinds = parseGuide(
		'guide: 1\nkinds: { cart: { title: Cart, files: [carts.csv], key: id, merge: record } }\n'
	);
	const stack = (mine: string | null) =>
		assembleStack(
			[
				{
					id: 'base',
					title: 'Base',
					owner: 'game' as const,
					files: new Map([['carts.csv', bytes('id,load,fee\na,2,3\nb,5,1\nc,,4\n')]])
				},
				{
					id: 'mine',
					title: 'Mine',
					owner: 'me' as const,
					files: new Map(mine === null ? [] : [['carts.csv', bytes(mine)]])
				}
			],
			kinds
		);
	const { pairs, ids, without } = workedOut(
		stack(null),
		stack('id,load,fee\nb,5,2\nd,9,9\n'),
		'cart',
		'load * fee'
	);
	expect(ids).toEqual(['a', 'b']);
	expect([...pairs.base]).toEqual([6, 5]);
	expect([...pairs.mine]).toEqual([6, 10]);
	expect(without).toEqual([{ id: 'c', why: expect.stringContaining('load') as string }]);
});
