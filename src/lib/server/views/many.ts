// What one change would make of many records, as typed: values, how they are distributed before and after, what is wrong.
import * as z from 'zod';
import { limitFault, typeFault } from '$core/checks';
import { howSchema, newValues } from '$core/edits';
import { fieldOf, type FieldGuide } from '$core/guide';
import { numberIn } from '$core/numbers';
import { formsIn } from '$core/words';
import { nameColumn } from '$core/query';
import type { ManyView } from '$core/views';
import { NotThere } from '../faults';
import type { Model } from '../model';
import { saysOf } from '../plans';
import { rowsFor } from './table';

/** The records that are meant: by their ids, or all that pass the conditions of an address. */
export const manySchema = z.object({
	kind: z.string(),
	field: z.string(),
	how: howSchema,
	ids: z.array(z.string()).max(500_000).optional(),
	rows: z.object({ where: z.array(z.string()), filter: z.string(), sort: z.array(z.string()) }).optional()
});

export type Many = z.infer<typeof manySchema>;

/** Values that are sent. */
const SHOWN = 200;
const BARS = 24;
const FORMS = 40;

function barsOf(before: readonly number[], after: readonly number[]): ManyView['bars'] {
	if (before.length === 0 && after.length === 0) return null;
	let [low, high] = [Infinity, -Infinity];
	for (const list of [before, after])
		for (const value of list) [low, high] = [Math.min(low, value), Math.max(high, value)];
	const width = high - low || 1;
	const count = (list: readonly number[]) => {
		const counts = Array<number>(BARS).fill(0);
		for (const value of list) counts[Math.min(BARS - 1, Math.floor(((value - low) / width) * BARS))]!++;
		return counts;
	};
	return { low, high, before: count(before), after: count(after) };
}

/** @throws NotThere, FormulaFault */
export async function manyOf(model: Model, { kind, field, how, ids, rows }: Many): Promise<ManyView> {
	const table = model.stack.tables.get(kind);
	if (!table) throw new NotThere(`There is no kind “${kind}” in this project.`);
	if (!table.columns.includes(field) && !fieldOf(table.guide, field))
		throw new NotThere(`${table.guide.plural ?? table.guide.title} have no field “${field}”.`);
	const numbers = ids
		? ids.map((id) => table.rowOf(id)).filter((row) => row >= 0)
		: Array.from(rowsFor(model, kind, rows ?? { where: [], filter: '', sort: [] }));
	const about: FieldGuide | undefined = fieldOf(table.guide, field);
	const whole = about?.type === 'whole' || about?.type === 'flags';
	const said = how.by === 'layer' ? await saysOf(model, how.layer) : undefined;
	const all = newValues(
		numbers.map((row) => table.record(row)),
		field,
		how,
		{ whole, ...(said ? { said } : {}) }
	);
	const names = nameColumn(model, table);
	const faults = new Map<string, number>();
	const values: ManyView['values'] = [];
	let changed = 0;
	const [before, after]: [number[], number[]] = [[], []];
	const wrong = new Map<string, string | null>();
	const wrongWith = (value: string): string | null => {
		if (!about) return null;
		let found = wrong.get(value);
		if (found === undefined) {
			found = typeFault(about, value) ?? limitFault(about, value)?.said ?? null;
			wrong.set(value, found);
		}
		return found;
	};
	all.forEach((one, nth) => {
		const differs = (one.before ?? '') !== one.after;
		if (differs) changed++;
		const fault = one.fault ?? (differs ? wrongWith(one.after) : null);
		if (fault !== null) faults.set(fault, (faults.get(fault) ?? 0) + 1);
		const [was, is] = [numberIn(one.before ?? ''), numberIn(one.after)];
		if (Number.isFinite(was)) before.push(was);
		if (Number.isFinite(is)) after.push(is);
		if (values.length >= SHOWN || !(differs || fault !== null)) return;
		const name = names[numbers[nth]!] ?? -1;
		values.push({
			id: one.record.id,
			name: name > 0 ? table.pool.at(name) : one.record.id,
			before: one.before,
			after: one.after,
			fault
		});
	});
	return {
		count: all.length,
		changed,
		values,
		faults: [...faults].map(([says, count]) => ({ says, count })).sort((a, b) => b.count - a.count),
		forms:
			how.by === 'replace'
				? formsIn(
						all.map((one) => one.before ?? ''),
						how
					).slice(0, FORMS)
				: [],
		bars: before.length > all.length * 0.5 ? barsOf(before, after) : null
	};
}
