// Files that are pairs of lines, told by another file that has the same first ones: found without comparing all with all.
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { createPool, settleFacts } from '$core/facts';
import { pairsIn } from '$core/infer/pairs';
import { readFacts } from '$core/stack';

const word = fc.constantFrom('gull', 'tern', 'auk', 'skua', 'ruff', 'rail', 'coot', 'smew', 'dunlin', 'knot');
const line = fc.tuple(word, word, word).map((words) => words.join(' '));
const sides = (texts: readonly string[], rest: number) => new Set(texts.filter((_, at) => at % 2 === rest));
const common = (a: ReadonlySet<string>, b: ReadonlySet<string>) =>
	[...a].filter((text) => b.has(text)).length / Math.max(1, Math.min(a.size, b.size));

test('are those that comparing each with each finds', () => {
	// A few sets of first lines, which files take more or less of.
	const firsts = fc.array(fc.array(line, { minLength: 12, maxLength: 20 }), { minLength: 1, maxLength: 3 });
	const file = fc.record({
		from: fc.nat(2),
		skip: fc.nat(9),
		others: fc.array(line, { minLength: 40, maxLength: 40 }),
		own: fc.array(line, { maxLength: 8 })
	});
	let all = 0;
	let some = 0;
	fc.assert(
		fc.property(firsts, fc.array(file, { minLength: 2, maxLength: 7 }), (firsts, files) => {
			const pool = createPool();
			const made = files.map(({ from, skip, others, own }, nth) => {
				const taken = [...firsts[from % firsts.length]!.slice(skip), ...own];
				const texts = taken.flatMap((first, at) => [`> ${first}`, others[at % others.length]!]);
				const path = `talk/day_${nth}.txt`;
				const bytes = new TextEncoder().encode(`${texts.join('\n')}\n`);
				return {
					texts,
					file: { path, facts: settleFacts(readFacts(path, bytes, { hints: { none: true } })!, pool) }
				};
			});
			const long = made.filter(({ texts }) => texts.length >= 20);
			const expected = long.filter((a) =>
				long.some(
					(b) =>
						a !== b &&
						common(sides(a.texts, 0), sides(b.texts, 0)) >= 0.5 &&
						common(sides(a.texts, 1), sides(b.texts, 1)) <= 0.3
				)
			);
			const found = pairsIn(made.map(({ file }) => file));
			expect([...found.keys()].map(({ path }) => path)).toEqual(expected.map(({ file }) => file.path));
			all += made.length;
			some += expected.length;
		})
	);
	expect(some).toBeGreaterThan(0);
	expect(some).toBeLessThan(all);
});
