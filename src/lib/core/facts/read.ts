import type { Facts } from './facts';

/** One field of a record as the facts have it. */
export interface FactField {
	path: string;
	value: string;
	/** What the value is where the format has types; see `kindOfScalar`. */
	type: number;
	remark?: string;
}

const places = new WeakMap<Int32Array, Map<number, number>>();

/** Where each path is in a wide shape, by the number of its text. */
function placesOf(shape: Int32Array): Map<number, number> {
	let known = places.get(shape);
	if (!known) {
		known = new Map();
		for (let at = 0; at < shape.length; at++) known.set(shape[at]!, at);
		places.set(shape, known);
	}
	return known;
}

/** Paths up to which a shape is gone through: that takes no longer than a map of them, of which thousands would be kept. */
const FEW = 24;

/**
 * Where a path, by the number of its text, is in a shape; undefined where it is not. The later one counts where it is
 * there twice.
 */
export function placeIn(shape: Int32Array, path: number): number | undefined {
	if (shape.length > FEW) return placesOf(shape).get(path);
	for (let at = shape.length - 1; at >= 0; at--) if (shape[at] === path) return at;
	return undefined;
}

/** The cell of a field of the n-th record, by its path's number; -1 where it has none. */
export function cellIn(facts: Facts, nth: number, path: number): number {
	const shape = facts.shapes[facts.shape[nth]!];
	const place = shape && placeIn(shape, path);
	return place === undefined ? -1 : facts.firsts[nth]! + place;
}

/** The text of a field of the n-th record, as its number; -1 where it has none. */
export function valueIn(facts: Facts, nth: number, path: number): number {
	const cell = cellIn(facts, nth, path);
	return cell < 0 ? -1 : facts.values[cell]!;
}

/** The value of a field of the n-th record; undefined where it has none. */
export function valueAt(facts: Facts, nth: number, path: string): string | undefined {
	const value = valueIn(facts, nth, facts.pool.find(path));
	return value < 0 ? undefined : facts.pool.at(value);
}

/** First entry of `list` (groups of `step` numbers, sorted by the first of each) for `nth`. */
export function firstOf(list: Int32Array, step: number, nth: number): number {
	let low = 0;
	let high = list.length / step;
	while (low < high) {
		const middle = (low + high) >> 1;
		if (list[middle * step]! < nth) low = middle + 1;
		else high = middle;
	}
	return low * step;
}

/** Commentary that stands with the n-th record. */
export function remarkAt(facts: Facts, nth: number): string | undefined {
	const at = firstOf(facts.remarks, 2, nth);
	return facts.remarks[at] === nth ? facts.pool.at(facts.remarks[at + 1]!) : undefined;
}

/** One field of the n-th record; undefined where it has none. */
export function fieldAt(facts: Facts, nth: number, path: string): FactField | undefined {
	const { pool, values, types, firsts, fieldRemarks } = facts;
	const cell = cellIn(facts, nth, pool.find(path));
	if (cell < 0) return undefined;
	const field: FactField = { path, value: pool.at(values[cell]!), type: types[cell]! };
	const place = cell - firsts[nth]!;
	for (let at = firstOf(fieldRemarks, 3, nth); fieldRemarks[at] === nth; at += 3)
		if (fieldRemarks[at + 1] === place) field.remark = pool.at(fieldRemarks[at + 2]!);
	return field;
}

/** The fields of the n-th record in the order of the file. */
export function fieldsAt(facts: Facts, nth: number): FactField[] {
	const shape = facts.shapes[facts.shape[nth]!];
	if (!shape) return [];
	const first = facts.firsts[nth]!;
	const fields = Array.from(shape, (path, at): FactField => ({
		path: facts.pool.at(path),
		value: facts.pool.at(facts.values[first + at]!),
		type: facts.types[first + at]!
	}));
	const { fieldRemarks } = facts;
	for (let at = firstOf(fieldRemarks, 3, nth); fieldRemarks[at] === nth; at += 3)
		fields[fieldRemarks[at + 1]!]!.remark = facts.pool.at(fieldRemarks[at + 2]!);
	return fields;
}
