import { fieldOf } from '../guide';
import { columnSpread } from '../numbers';
import { derived, type EffectiveRecord, type Stack, type Table, isWide } from '../stack';

/** A record like another, from 0 to 1, and the fields in which they differ. */
export interface Alike {
	row: number;
	likeness: number;
	differs: string[];
}

/** Texts longer than this (characters, on average) are told in words and say nothing of likeness. */
const LONG = 40;

/** How a field is compared: as a number within the range that the kind has, as a sign that is the same or not, or not at all. */
type Measure = { by: 'number'; range: number } | { by: 'sign' } | { by: 'nothing' };

function measureOf(table: Table, path: string): Measure {
	return derived(table, `measure ${path}`, (): Measure => {
		const guide = fieldOf(table.guide, path);
		if (path === table.guide.key || guide?.type === 'textKey') return { by: 'nothing' };
		const column = table.column(path);
		const different = new Set<number>();
		let filled = 0;
		let length = 0;
		for (const value of column) {
			if (value <= 0) continue;
			filled++;
			different.add(value);
			length += table.pool.at(value).length;
		}
		if (filled === 0) return { by: 'nothing' };
		const isSign =
			guide?.reference !== undefined || ['code', 'flags', 'switch', 'file'].includes(guide?.type ?? '');
		const spread = isSign ? null : columnSpread(table, path);
		if (spread)
			return spread.max > spread.min ? { by: 'number', range: spread.max - spread.min } : { by: 'nothing' };
		// Names and other texts that nearly every record has for itself alone tell nothing.
		if (length / filled > LONG || (filled > 4 && different.size > filled * 0.9 && !guide?.reference))
			return { by: 'nothing' };
		return { by: 'sign' };
	});
}

/** Works out how each field of the large kinds is compared, step by step, so that the first comparison takes no longer. */
export function* measureSteps(stack: Stack, large: number): Generator<void, void> {
	for (const table of stack.tables.values()) {
		if (table.count < large || isWide(table)) continue;
		for (const path of table.columns) {
			measureOf(table, path);
			yield;
		}
	}
}

/**
 * The records of the same kind that are most like one, by their fields: numbers by their distance within the range that
 * the kind has, codes and references by being the same (Gower's general coefficient of similarity, 1971). Ids, text
 * keys and long texts do not count.
 */
export function mostLike({ table, row }: EffectiveRecord, most = 8): Alike[] {
	const scores = new Float64Array(table.count);
	let fields = 0;
	const compared: { path: string; column: Int32Array }[] = [];
	const paths = isWide(table) ? [...table.record(row).values.keys()] : table.columns;
	for (const path of paths) {
		const measure = measureOf(table, path);
		const column = table.column(path);
		if (measure.by === 'nothing') continue;
		compared.push({ path, column });
		const own = column[row]!;
		fields++;
		if (measure.by === 'sign') {
			for (let other = 0; other < scores.length; other++) if (column[other] === own) scores[other]!++;
			continue;
		}
		const number = own > 0 ? table.pool.number(own) : NaN;
		for (let other = 0; other < scores.length; other++) {
			const value = column[other]!;
			if (value === own) scores[other]!++;
			else if (value > 0) {
				const apart = Math.abs(table.pool.number(value) - number) / measure.range;
				if (apart < 1) scores[other]! += 1 - apart;
			}
		}
	}
	if (fields === 0) return [];
	scores[row] = -1;
	const best: number[] = [];
	for (let other = 0; other < scores.length; other++) {
		if (other === row || (best.length === most && scores[other]! <= scores[best.at(-1)!]!)) continue;
		let at = best.length;
		while (at > 0 && scores[best[at - 1]!]! < scores[other]!) at--;
		best.splice(at, 0, other);
		if (best.length > most) best.pop();
	}
	return best.map((other) => ({
		row: other,
		likeness: scores[other]! / fields,
		differs: compared.filter(({ column }) => column[other] !== column[row]).map(({ path }) => path)
	}));
}
