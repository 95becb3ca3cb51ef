// Plans beyond one text: bytes, files that move, plans beside each other, plans as they are kept.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
	applyPlan,
	applySplices,
	becomesOf,
	besides,
	bytesOf,
	changeOf,
	composeSplices,
	contentOf,
	invertPlan,
	invertSplices,
	joined,
	joinSplices,
	keptPlan,
	leanPlan,
	mapPlace,
	mapSplices,
	PLAN_FORMAT,
	PlanFault,
	readPlan,
	type Content,
	type FileChange,
	type FileContent,
	type Files,
	type Plan,
	type Splice
} from '$core/change';
import { decode } from '$core/text';

const planOf = (...changes: FileChange[]): Plan => ({ title: 'some', changes, values: [], notes: [] });
const asFile = (text: string): FileContent => decode(new TextEncoder().encode(text));
const bytesIn = (files: Files) =>
	[...files].map(([path, file]) => [path, [...bytesOf(file)]] as const).sort(([a], [b]) => (a < b ? -1 : 1));

/** Splices over some length, as places and what is put there. */
const cutsOver = (length: number) =>
	fc
		.array(fc.tuple(fc.nat(length), fc.nat(4), fc.array(fc.nat(255), { maxLength: 4 })), { maxLength: 6 })
		.map((list) => {
			const splices: Splice<Uint8Array>[] = [];
			let at = 0;
			for (const [from, size, insert] of list.sort((a, b) => a[0] - b[0])) {
				if (from < at || (from === at && at > 0)) continue;
				const to = Math.min(length, from + size);
				splices.push({ from, to, insert: Uint8Array.from(insert) });
				at = to;
			}
			return splices;
		});

const bytes = fc.uint8Array({ maxLength: 40 });
const cut = bytes.chain((before) => fc.tuple(fc.constant(before), cutsOver(before.length)));
const twoCuts = bytes.chain((before) =>
	fc.tuple(fc.constant(before), cutsOver(before.length), cutsOver(before.length))
);

describe('splices of bytes keep the laws of those of texts', () => {
	test('applied and inverted', () => {
		fc.assert(
			fc.property(cut, ([before, splices]) => {
				expect(applySplices(applySplices(before, splices), invertSplices(before, splices))).toEqual(before);
			})
		);
	});

	test('composed', () => {
		const twice = cut.chain(([before, first]) =>
			fc.tuple(fc.constant(before), fc.constant(first), cutsOver(applySplices(before, first).length))
		);
		fc.assert(
			fc.property(twice, ([before, first, second]) => {
				expect(applySplices(before, composeSplices(first, second))).toEqual(
					applySplices(applySplices(before, first), second)
				);
			})
		);
	});

	test('joined where they do not touch: the same as one after the other, whichever comes first', () => {
		let joinedOnes = 0;
		fc.assert(
			fc.property(twoCuts, ([before, a, b]) => {
				const both = joinSplices(a, b);
				const [aOverB, bOverA] = [mapSplices(a, b), mapSplices(b, a)];
				expect(both === null).toBe(aOverB === null || bOverA === null);
				if (!both) return;
				joinedOnes++;
				const once = applySplices(before, both);
				expect(applySplices(applySplices(before, a), bOverA!)).toEqual(once);
				expect(applySplices(applySplices(before, b), aOverB!)).toEqual(once);
			}),
			{ numRuns: 500 }
		);
		expect(joinedOnes).toBeGreaterThan(50);
	});
});

test('a place keeps to what stands on its side, whatever changes around it', () => {
	expect(mapPlace(2, [{ from: 2, to: 2, insert: 'xy' }])).toBe(2);
	expect(mapPlace(2, [{ from: 2, to: 2, insert: 'xy' }], 'behind')).toBe(4);
	expect(mapPlace(3, [{ from: 1, to: 5, insert: 'xy' }])).toBe(1);
	expect(mapPlace(3, [{ from: 1, to: 5, insert: 'xy' }], 'behind')).toBe(3);
	fc.assert(
		fc.property(cut, fc.nat(40), ([before, splices], pick) => {
			if (before.length === 0) return;
			const at = pick % before.length;
			// A byte that nothing touches is found again behind its place.
			if (splices.some(({ from, to }) => from <= at && at < to)) return;
			const after = applySplices(before, splices);
			expect(after[mapPlace(at, splices, 'behind')]).toBe(before[at]);
			expect(mapPlace(at, splices)).toBeLessThanOrEqual(mapPlace(at, splices, 'behind'));
		})
	);
});

test('composing many splices costs about as much more as there are more of them', () => {
	const many = (count: number) =>
		Array.from({ length: count }, (_, nth) => ({ from: nth * 3, to: nth * 3 + 1, insert: 'ab' }));
	// Counted, not timed: each step of either list is taken once.
	for (const count of [10, 1000, 100_000]) {
		const both = composeSplices(many(count), [{ from: 0, to: 1, insert: 'x' }]);
		expect(both).toHaveLength(count);
		expect(both[0]).toEqual({ from: 0, to: 1, insert: 'xb' });
	}
});

/** Files, and a plan over them with a text and bytes changed, one moved, one made, one gone, one that becomes bytes. */
const scene = fc
	.record({
		text: fc.string({ unit: 'grapheme', maxLength: 20 }),
		cut,
		moved: fc.string({ maxLength: 10 }),
		made: bytes
	})
	.map(({ text, cut: [before, splices], moved, made }) => {
		const files: Files = new Map([
			['a.txt', asFile(text)],
			['b.bin', before],
			['c.txt', asFile(moved)],
			['d.bin', made],
			['e.txt', asFile('to become bytes')]
		]);
		const insert = [{ from: 0, to: 0, insert: 'new ' }] as Splice<Content>[];
		const changes = [
			changeOf('a.txt', files.get('a.txt'), asFile(`new ${text}`), insert),
			changeOf('b.bin', before, applySplices(before, splices), splices),
			changeOf('moved/c.txt', files.get('c.txt'), asFile(`new ${moved}`), insert, 'c.txt'),
			changeOf('d.bin', made, undefined, null),
			changeOf('e.txt', files.get('e.txt'), Uint8Array.from([0, 1, 2]), null),
			changeOf('f.bin', undefined, made, null)
		];
		return { files, plan: planOf(...changes) };
	});

test('a plan over texts and bytes, and then its inverse, is the identity on bytes', () => {
	fc.assert(
		fc.property(scene, ({ files, plan }) => {
			const after = applyPlan(files, plan);
			expect([...after.keys()].sort()).toEqual(['a.txt', 'b.bin', 'e.txt', 'f.bin', 'moved/c.txt']);
			expect(bytesIn(applyPlan(after, invertPlan(files, plan)))).toEqual(bytesIn(files));
			expect(plan.changes.map(becomesOf)).toEqual(['changed', 'changed', 'moved', 'gone', 'changed', 'new']);
		})
	);
});

test('a plan one after the other is one plan, also over files that move', () => {
	fc.assert(
		fc.property(scene, fc.string({ maxLength: 5 }), ({ files, plan }, more) => {
			const between = applyPlan(files, plan);
			const moved = between.get('moved/c.txt')!;
			const text = contentOf(moved) as string;
			const next = planOf(
				changeOf(
					'c.txt',
					moved,
					asFile(`${text}${more}`),
					[{ from: text.length, to: text.length, insert: more }],
					'moved/c.txt'
				)
			);
			const both = joined('both', [plan, next]);
			expect(bytesIn(applyPlan(files, both))).toEqual(bytesIn(applyPlan(between, next)));
		})
	);
});

test('plans for the same files are one where they do not touch, and clash by name where they do', () => {
	const files: Files = new Map([
		['a.txt', asFile('one two three')],
		['b.bin', Uint8Array.from([1, 2, 3])]
	]);
	const edit = (path: string, from: number, to: number, insert: string) => {
		const text = contentOf(files.get(path)!) as string;
		const splices = [{ from, to, insert }];
		return planOf(changeOf(path, files.get(path), asFile(applySplices(text, splices)), splices));
	};
	const both = besides(files, edit('a.txt', 0, 3, '1'), edit('a.txt', 8, 13, '3'));
	if (!('changes' in both)) throw new Error('they do not touch');
	expect(contentOf(applyPlan(files, both).get('a.txt')!)).toBe('1 two 3');
	expect(besides(files, edit('a.txt', 0, 5, 'x'), edit('a.txt', 4, 6, 'y'))).toEqual({ path: 'a.txt' });
	const gone = planOf(changeOf('b.bin', files.get('b.bin'), undefined, null));
	expect(besides(files, gone, edit('a.txt', 0, 0, 'x'))).toHaveProperty('changes');
	const bytes = planOf(
		changeOf('b.bin', files.get('b.bin'), Uint8Array.from([9, 2, 3]), [
			{ from: 0, to: 1, insert: Uint8Array.from([9]) }
		])
	);
	expect(besides(files, gone, bytes)).toEqual({ path: 'b.bin' });
	const other = planOf(
		changeOf('b.bin', files.get('b.bin'), Uint8Array.from([1, 2, 8]), [
			{ from: 2, to: 3, insert: Uint8Array.from([8]) }
		])
	);
	const two = besides(files, bytes, other);
	if (!('changes' in two)) throw new Error('they do not touch');
	expect(applyPlan(files, two).get('b.bin')).toEqual(Uint8Array.from([9, 2, 8]));
});

describe('a plan as it is kept', () => {
	test('reads as it was written, through JSON', () => {
		fc.assert(
			fc.property(scene, ({ files, plan }) => {
				const read = readPlan(JSON.parse(JSON.stringify(keptPlan(plan))));
				expect(bytesIn(applyPlan(files, read))).toEqual(bytesIn(applyPlan(files, plan)));
				const lean = readPlan(JSON.parse(JSON.stringify(keptPlan(leanPlan(plan)))));
				expect(lean.changes.map(({ path, before, after }) => [path, before, after])).toEqual(
					plan.changes.map(({ path, before, after }) => [path, before, after])
				);
				// Small changes of bytes are kept, whole files are not.
				expect(lean.changes.map(({ splices }) => splices === null)).toEqual([
					false,
					false,
					false,
					true,
					false,
					true
				]);
			})
		);
	});

	test('of the format before this one is read as well', () => {
		const digest = 'a'.repeat(64);
		const first = {
			title: 'old',
			changes: [
				{
					path: 'a',
					before: digest,
					after: digest,
					encoding: 'utf-8',
					bom: false,
					splices: [{ from: 0, to: 1, insert: 'x' }]
				},
				{
					path: 'b',
					before: null,
					after: digest,
					encoding: 'iso-8859-1',
					bom: false,
					splices: [],
					whole: true
				}
			],
			values: [{ kind: 'k', id: 'i', name: 'n', field: 'f', before: null, after: '1' }],
			notes: []
		};
		expect(readPlan(first).changes).toEqual([
			{
				path: 'a',
				before: digest,
				after: digest,
				of: 'text',
				encoding: 'utf-8',
				bom: false,
				splices: [{ from: 0, to: 1, insert: 'x' }]
			},
			{ path: 'b', before: null, after: digest, of: 'bytes', splices: null }
		]);
	});

	test('that is damaged, or of a format to come, is refused by name', () => {
		const plan = keptPlan(planOf(changeOf('a', undefined, asFile('x'), [{ from: 0, to: 0, insert: 'x' }])));
		const broken: [unknown, RegExp][] = [
			[{ ...plan, format: PLAN_FORMAT + 1 }, /format/],
			[{ ...plan, changes: [{ ...plan.changes[0], before: 'short' }] }, /changes\.0\.before/],
			[
				{ ...plan, changes: [{ ...plan.changes[0], splices: [{ from: 3, to: 1, insert: '' }] }] },
				/out of order/
			],
			[{ title: 'x' }, /./],
			['text', /./],
			[null, /./]
		];
		for (const [data, said] of broken) {
			expect(() => readPlan(data)).toThrow(PlanFault);
			expect(() => readPlan(data)).toThrow(said);
		}
	});
});
