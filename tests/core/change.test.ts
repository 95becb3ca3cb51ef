import fc from 'fast-check';
import { expect, test } from 'vitest';
import {
	bytesOf,
	applyPlan,
	applySplices,
	ChangedUnderneath,
	changeOf,
	composeSplices,
	invertPlan,
	invertSplices,
	mapSplices,
	type Splice
} from '$core/change';
import { decode, type TextFile } from '$core/text';

const text = fc.string({ maxLength: 60 });

/** Some splices over a text: cuts in order, so that none overlap. */
const splicesOver = (length: number): fc.Arbitrary<Splice[]> =>
	fc.array(fc.tuple(fc.nat(length), fc.nat(6), fc.string({ maxLength: 5 })), { maxLength: 5 }).map((list) => {
		const splices: Splice[] = [];
		let at = 0;
		for (const [from, size, insert] of list.sort((a, b) => a[0] - b[0])) {
			if (from < at || (from === at && at > 0)) continue;
			const to = Math.min(length, from + size);
			splices.push({ from, to, insert });
			at = to;
		}
		return splices;
	});

const edited = text.chain((before) => fc.tuple(fc.constant(before), splicesOver(before.length)));

test('an inverse takes the splices back', () => {
	fc.assert(
		fc.property(edited, ([before, splices]) => {
			expect(applySplices(applySplices(before, splices), invertSplices(before, splices))).toBe(before);
		})
	);
});

test('a composition does what one after the other does', () => {
	const twice = edited.chain(([before, first]) => {
		const between = applySplices(before, first);
		return fc.tuple(fc.constant(before), fc.constant(first), splicesOver(between.length));
	});
	fc.assert(
		fc.property(twice, ([before, first, second]) => {
			expect(applySplices(before, composeSplices(first, second))).toBe(
				applySplices(applySplices(before, first), second)
			);
		})
	);
});

test('splices mapped over others that touch other places lead to the same text either way round', () => {
	const two = text.chain((before) =>
		fc.tuple(fc.constant(before), splicesOver(before.length), splicesOver(before.length))
	);
	fc.assert(
		fc.property(two, ([before, a, b]) => {
			const aOverB = mapSplices(a, b);
			const bOverA = mapSplices(b, a);
			if (aOverB === null || bOverA === null) return;
			// Inserts at one and the same point have no order of their own.
			if (a.some((x) => b.some((y) => x.from === y.from || x.to === y.from || y.to === x.from))) return;
			expect(applySplices(applySplices(before, b), aOverB)).toBe(
				applySplices(applySplices(before, a), bOverA)
			);
		})
	);
	expect(mapSplices([{ from: 1, to: 3, insert: 'x' }], [{ from: 2, to: 4, insert: 'y' }])).toBeNull();
});

test('splices outside the text or out of order are refused', () => {
	expect(() => applySplices('abc', [{ from: 2, to: 9, insert: '' }])).toThrow(RangeError);
	expect(() =>
		applySplices('abc', [
			{ from: 2, to: 2, insert: '' },
			{ from: 0, to: 1, insert: '' }
		])
	).toThrow(RangeError);
});

const asFile = (content: string): TextFile => decode(new TextEncoder().encode(content));

test('a plan and then its inverse is the identity on bytes, with files made and dropped', () => {
	const well = fc.string({ unit: 'grapheme', maxLength: 30 });
	fc.assert(
		fc.property(well, well, well, (kept, dropped, made) => {
			const files = new Map([
				['a', asFile(kept)],
				['b', asFile(dropped)]
			]);
			const first = files.get('a')!.text;
			const change = { from: 0, to: Math.min(1, first.length), insert: 'ä' };
			// A splice must not cut a letter that is written as two units.
			if (/^[\ud800-\udbff]/.test(first)) change.to = 2;
			const plan = {
				title: 'some',
				values: [],
				notes: [],
				changes: [
					changeOf('a', files.get('a'), { ...files.get('a')!, text: applySplices(first, [change]) }, [
						change
					]),
					changeOf('b', files.get('b'), undefined, [
						{ from: 0, to: files.get('b')!.text.length, insert: '' }
					]),
					changeOf('c', undefined, asFile(made), [{ from: 0, to: 0, insert: asFile(made).text }])
				]
			};
			const after = applyPlan(files, plan);
			expect([...after.keys()].sort()).toEqual(['a', 'c']);
			const back = applyPlan(after, invertPlan(files, plan));
			expect([...back].map(([path, file]) => [path, [...bytesOf(file)]]).sort()).toEqual(
				[...files].map(([path, file]) => [path, [...bytesOf(file)]]).sort()
			);
			expect(() => applyPlan(after, plan)).toThrow(ChangedUnderneath);
		})
	);
});
