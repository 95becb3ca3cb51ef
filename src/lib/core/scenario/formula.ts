// A scenario that is a formula over the fields of each record: worked out for the game without my mod and with it.
import { FormulaFault, formulaFor } from '../numbers';
import type { EffectiveRecord, Stack } from '../stack';
import type { Pairs } from './outcomes';

/** What a formula gives for the records of a kind. */
export interface Worked {
	/** Of the records that both have, in the order of the kind; `seeds` are their places in `ids`. */
	pairs: Pairs;
	ids: string[];
	/** Records of which it gives no number, with why, at most a few. */
	without: { id: string; why: string }[];
}

/** Records without a number that are named. */
const NAMED = 5;

/**
 * Works a formula out for all records of a kind that both stacks have.
 * @throws FormulaFault where it cannot be read
 */
export function workedOut(base: Stack, mine: Stack, kind: string, formula: string): Worked {
	const value = formulaFor(formula);
	const ids: string[] = [];
	const [was, is]: [number[], number[]] = [[], []];
	const without: Worked['without'] = [];
	const numberOf = (record: EffectiveRecord): number => {
		const found = value((name) => record.value(name));
		if (typeof found !== 'number') throw new FormulaFault('the result is a text');
		return found;
	};
	for (const record of base.tables.get(kind)?.records ?? []) {
		const { id } = record;
		const other = mine.tables.get(kind)?.byId.get(id);
		if (!other) continue;
		try {
			const [one, two] = [numberOf(record), numberOf(other)];
			ids.push(id);
			was.push(one);
			is.push(two);
		} catch (fault) {
			if (!(fault instanceof FormulaFault)) throw fault;
			if (without.length < NAMED) without.push({ id, why: fault.message });
		}
	}
	return {
		pairs: { seeds: ids.map((_, nth) => nth), base: Float64Array.from(was), mine: Float64Array.from(is) },
		ids,
		without
	};
}
