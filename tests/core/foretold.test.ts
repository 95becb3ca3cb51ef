// What was foretold, held against what the game said, both ways.
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { heldAgainst, type Foretold } from '$core/checks';
import { runs } from '../runs';

const snag = (about: Partial<Foretold>): Foretold => ({
	id: 'x',
	rule: 'r',
	layer: 'mine',
	file: 'a.csv',
	line: 1,
	kind: 'cart',
	record: 'hand',
	field: null,
	message: 'm',
	...about
});
const refused = { kind: null, record: null, layer: null, path: null, line: null };

test('by the record that both speak of, else by the place', () => {
	const whole = snag({ kind: null, record: null, file: 'b.csv', line: 7 });
	const all = [snag({}), snag({ record: 'pony', line: 2 }), whole];
	const { by, unseen } = heldAgainst(
		[
			{ ...refused, kind: 'cart', record: 'hand' },
			{ ...refused, record: 'hand' },
			{ ...refused, kind: 'boat', record: 'hand' },
			{ ...refused, layer: 'mine', path: 'a.csv', line: 2 },
			{ ...refused, layer: 'base', path: 'a.csv', line: 2 },
			{ ...refused, layer: 'mine', path: 'b.csv', line: 99 },
			refused
		],
		all
	);
	expect(by).toEqual([all[0], all[0], null, all[1], null, whole, null]);
	expect(unseen).toEqual([]);
	expect(heldAgainst([], all).unseen).toEqual(all);
});

test('law: every snag is seen or not, and a line is foretold exactly if one of them speaks of its record', () => {
	const records = fc.uniqueArray(fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f'), { maxLength: 6 });
	fc.assert(
		fc.property(records, records, (said, seen) => {
			const foretold = said.map((record, line) => snag({ record, line }));
			const { by, unseen } = heldAgainst(
				seen.map((record) => ({ ...refused, kind: 'cart', record })),
				foretold
			);
			expect(by.map((one) => one?.record ?? null)).toEqual(
				seen.map((record) => (said.includes(record) ? record : null))
			);
			expect(unseen.map(({ record }) => record)).toEqual(said.filter((record) => !seen.includes(record)));
		}),
		{ numRuns: runs(200) }
	);
});
