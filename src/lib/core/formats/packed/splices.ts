// Splices of packed files, with the check sums that follow from them.
import { applySplices, composeSplices, type Splice } from '../../change';
import { numberAt, numberBytes, sumOf } from './numbers';
import type { PackedField, PackedLayout } from './schema';
import { placesOf, summedBytes } from './places';

export type Bytes = Splice<Uint8Array>;

/** What a field of a number is written as. */
export type NumberField = Exclude<PackedField['as'], 'text' | 'bytes'>;

/** Bytes in the place of as many others. */
export const over = (from: number, insert: Uint8Array): Bytes => ({ from, to: from + insert.length, insert });

/** Whether two runs of bytes are the same. */
export const sameBytes = (a: Uint8Array, b: Uint8Array) =>
	a.length === b.length && a.every((byte, nth) => byte === b[nth]);

/** Splices, and the check sums that follow from them. */
export function summedUp(bytes: Uint8Array, layout: PackedLayout, splices: readonly Bytes[]): Bytes[] {
	if (layout.sums.length === 0) return [...splices];
	let next = applySplices(bytes, splices);
	let all = [...splices];
	for (const one of placesOf(next, layout).sums) {
		const sort = `u${(one.width * 8) as 8 | 16 | 32}` as const;
		const sum = sumOf(summedBytes(next, one), one.sum.as);
		if (Number(numberAt(next, one.at, sort, one.order)) === sum) continue;
		const own = [{ from: one.at, to: one.at + one.width, insert: numberBytes(String(sum), sort, one.order) }];
		all = composeSplices(all, own);
		next = applySplices(next, own);
	}
	return all;
}
