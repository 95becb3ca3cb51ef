// Narrowing down: the guilty parts are found in few tries, and a mod with some of its steps is what it should be.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { changeOf, type FileContent, type Plan } from '$core/change';
import { bisecting, digestsIn, filesWith, inRounds, type Narrowed } from '$core/narrow';
import { optionsSchema, roundsOf } from '$core/options';
import { encode, type TextFile } from '$core/text';
import { digestOf } from '$core/text';
import { runs } from '../runs';

/** Narrows down by a rule, and counts the tries. */
function narrowed(
	count: number,
	fails: (parts: ReadonlySet<number>) => boolean
): Narrowed & { tries: number } {
	const search = bisecting(count);
	let tries = 0;
	let next = search.next();
	while (!next.done) {
		tries++;
		next = search.next(fails(new Set(next.value)) ? 'fails' : 'passes');
	}
	return { ...next.value, tries };
}

describe('the guilty among 64', () => {
	test('one, wherever it is, within twice the logarithm', () => {
		for (let guilty = 0; guilty < 64; guilty++) {
			const { causes, tries } = narrowed(64, (parts) => parts.has(guilty));
			expect(causes).toEqual([[guilty]]);
			expect(tries).toBeLessThanOrEqual(2 * Math.log2(64));
		}
	});
	test('law: one, two or three that do it only together', () => {
		const several = fc.uniqueArray(fc.integer({ min: 0, max: 63 }), { minLength: 1, maxLength: 3 });
		fc.assert(
			fc.property(several, (guilty) => {
				const { causes, tries } = narrowed(64, (parts) => guilty.every((part) => parts.has(part)));
				expect(causes).toEqual([[...guilty].sort((a, b) => a - b)]);
				expect(tries).toBeLessThanOrEqual(3 + guilty.length * 7);
			}),
			{ numRuns: runs(500) }
		);
	});
	test('law: several that each do it alone, or in sets of their own', () => {
		const sets = fc
			.uniqueArray(fc.integer({ min: 0, max: 63 }), { minLength: 1, maxLength: 6 })
			.chain((parts) =>
				fc
					.array(fc.integer({ min: 0, max: 2 }), { minLength: parts.length, maxLength: parts.length })
					.map((which) =>
						[0, 1, 2]
							.map((set) => parts.filter((_, at) => which[at] === set).sort((a, b) => a - b))
							.filter((set) => set.length > 0)
					)
			);
		fc.assert(
			fc.property(sets, (guilty) => {
				const { causes } = narrowed(64, (parts) =>
					guilty.some((set) => set.every((part) => parts.has(part)))
				);
				const sorted = (all: number[][]) => all.map((one) => one.join()).sort();
				expect(sorted(causes)).toEqual(sorted(guilty));
			}),
			{ numRuns: runs(500) }
		);
	});
	test('nothing to be found is told', () => {
		expect(narrowed(64, () => true)).toMatchObject({ none: 'without any', causes: [], tries: 1 });
		expect(narrowed(64, () => false)).toMatchObject({ none: 'not with all', causes: [] });
		expect(narrowed(0, () => false)).toMatchObject({ none: 'not with all' });
	});
});

const textFile = (text: string): TextFile => ({ text, encoding: 'utf-8', bom: false, eol: 'lf' }) as TextFile;

/** Steps that each change words of their own, with the contents by digest. */
function madeSteps(edits: { word: number; file: number; to: string }[]) {
	const words = () => Array.from({ length: 12 }, (_, nth) => `w${nth}`);
	const state = [words(), words()];
	const textOf = (all: string[]) => all.join(' ');
	const contents = new Map<string, FileContent>();
	const keep = (text: string) => {
		const file = textFile(text);
		contents.set(digestOf(encode(file)), file);
		return file;
	};
	const steps: Pick<Plan, 'changes'>[] = edits.map(({ word, file, to }) => {
		const before = keep(textOf(state[file]!));
		const from = textOf(state[file]!.slice(0, word)).length + (word > 0 ? 1 : 0);
		const splice = { from, to: from + state[file]![word]!.length, insert: to };
		state[file]![word] = to;
		const after = keep(textOf(state[file]!));
		return { changes: [changeOf(`f${file}.txt`, before, after, [splice])] };
	});
	const contentOf = (digest: string) => contents.get(digest)!;
	return { steps, contentOf, words };
}

describe('my mod with some of its steps', () => {
	const edit = fc.record({
		word: fc.integer({ min: 0, max: 11 }),
		file: fc.integer({ min: 0, max: 1 }),
		to: fc.stringMatching(/^[a-z]{1,9}$/)
	});
	test('law: it is what those steps alone would have made; a step takes those along that it stands on', () => {
		fc.assert(
			fc.property(
				fc.array(edit, { minLength: 1, maxLength: 24 }),
				fc.array(fc.boolean(), { minLength: 24, maxLength: 24 }),
				(edits, which) => {
					// Nothing that is put in may equal what it replaces: such a step changes nothing.
					const real = edits.map((one, nth) => ({ ...one, to: `${one.to}${nth}` }));
					const { steps, contentOf, words } = madeSteps(real);
					const wanted = real.flatMap((_, nth) => (which[nth] ? [nth] : []));
					// Nothing is asked for that was not told before.
					const needed = digestsIn(steps);
					const told = (digest: string) => {
						expect(needed.has(digest)).toBe(true);
						return contentOf(digest);
					};
					const { files, steps: taken } = filesWith(steps, wanted, told);
					for (const step of wanted) expect(taken).toContain(step);
					// Only those came along that changed the same word before.
					for (const step of taken)
						if (!wanted.includes(step))
							expect(
								taken.some(
									(later) =>
										later > step &&
										real[later]!.word === real[step]!.word &&
										real[later]!.file === real[step]!.file
								)
							).toBe(true);
					const state = [words(), words()];
					for (const step of taken) state[real[step]!.file]![real[step]!.word] = real[step]!.to;
					for (const [path, file] of files)
						expect((file as TextFile).text).toBe(state[Number(path[1])]!.join(' '));
				}
			),
			{ numRuns: runs(1000) }
		);
	});
	test('files that came, went and moved', () => {
		const contents = new Map<string, FileContent>();
		const keep = (text: string) => {
			const file = textFile(text);
			contents.set(digestOf(encode(file)), file);
			return file;
		};
		const [a, b, c] = [keep('a'), keep('ab'), keep('xab')];
		const steps = [
			{ changes: [changeOf('new.txt', undefined, a, [])] },
			{ changes: [changeOf('new.txt', a, b, [{ from: 1, to: 1, insert: 'b' }])] },
			{ changes: [changeOf('moved.txt', b, c, [{ from: 0, to: 0, insert: 'x' }], 'new.txt')] },
			{ changes: [changeOf('moved.txt', c, undefined, [{ from: 0, to: 3, insert: '' }])] }
		];
		const having = (...wanted: number[]) => {
			const needed = digestsIn(steps);
			const { files, steps: taken } = filesWith(steps, wanted, (digest) => {
				expect(needed.has(digest)).toBe(true);
				return contents.get(digest)!;
			});
			return [
				taken,
				Object.fromEntries([...files].map(([path, file]) => [path, file && (file as TextFile).text]))
			];
		};
		expect(having()).toEqual([[], { 'new.txt': null, 'moved.txt': null }]);
		expect(having(0)).toEqual([[0], { 'new.txt': 'a', 'moved.txt': null }]);
		// A change of a file that a step made takes that step along.
		expect(having(1)).toEqual([[0, 1], { 'new.txt': 'ab', 'moved.txt': null }]);
		expect(having(0, 2)).toEqual([[0, 2], { 'new.txt': null, 'moved.txt': 'xa' }]);
		expect(having(0, 1, 2)).toEqual([[0, 1, 2], { 'new.txt': null, 'moved.txt': 'xab' }]);
		expect(having(0, 1, 2, 3)[1]).toEqual({ 'new.txt': null, 'moved.txt': null });
	});
});

test('law: of options that exclude each other the guilty one is found, and none is ever in with another of its group', () => {
	const groups = fc.array(fc.constantFrom(null, 'a', 'b', 'c'), { minLength: 1, maxLength: 9 });
	fc.assert(
		fc.property(groups, fc.nat(), (of, seed) => {
			const options = optionsSchema.parse(of.map((oneOf, nth) => ({ id: `o${nth}`, title: 'x', oneOf })));
			const guilty = seed % of.length;
			const search = inRounds(roundsOf(options));
			let next = search.next();
			while (!next.done) {
				const own = next.value.map((nth) => of[nth]!).filter((oneOf) => oneOf !== null);
				expect(new Set(own).size).toBe(own.length);
				next = search.next(next.value.includes(guilty) ? 'fails' : 'passes');
			}
			expect(next.value).toEqual({ none: null, causes: [[guilty]] });
		}),
		{ numRuns: runs(300) }
	);
});
