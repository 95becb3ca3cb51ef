// Values set: one, several of a record, a block, one field of many records.
import { fieldOf } from '../guide';
import { displayName, valueOf } from '../stack';
import type { CellWrite } from './batch';
import { setValues } from './follow';
import type { Intention } from './intention';
import { howInWords, newValues, type SaidBy } from './many';
import { find, isText, NotPossible, plural, StaleValue, textBefore, write, type Work } from './work';

type Of<D extends Intention['do']> = Extract<Intention, { do: D }>;

/** One value of one record or text. */
export function set(work: Work, { kind, id, field, value, expected }: Of<'set'>): string {
	const { stack } = work;
	if (isText(stack, kind)) {
		const before = textBefore(stack, id, field);
		if (expected !== undefined && expected !== before) throw new StaleValue(field, expected, before);
		write(work, id, field, value);
		return `Set text ${id} (${field})`;
	}
	const record = find(stack, kind, id);
	const before = valueOf(record, field) ?? null;
	if (expected !== undefined && expected !== before) throw new StaleValue(field, expected, before);
	setValues(work, [{ record, field, value }]);
	const after = work.values[0]?.after ?? value;
	const title = (fieldOf(stack.guide.kinds[kind], field)?.title ?? field).toLowerCase();
	return `Set ${title} of ${displayName(stack, record)}: ${before || 'nothing'} to ${after || 'nothing'}`;
}

/** Several values of one record. */
export function fill(work: Work, { kind, id, values, from }: Of<'fill'>): string {
	const record = find(work.stack, kind, id);
	const cells = values
		.filter(({ field, value }) => (valueOf(record, field) ?? '') !== value)
		.map(({ field, value }) => ({ record, field, value }));
	setValues(work, cells);
	return `Set ${plural(cells.length, 'field')} of ${displayName(work.stack, record)}${from ? ` from ${from}` : ''}`;
}

/** A block of values of one kind. */
export function cells(work: Work, { kind, cells: asked }: Of<'cells'>): string {
	const { stack } = work;
	const writes: CellWrite[] = [];
	let count = 0;
	const ids = new Set<string>();
	for (const { id, field, value, expected } of asked) {
		if (isText(stack, kind)) {
			const before = textBefore(stack, id, field);
			if (expected !== undefined && expected !== before) throw new StaleValue(field, expected, before);
			if (before === value) continue;
			write(work, id, field, value);
		} else {
			const record = find(stack, kind, id);
			const before = valueOf(record, field) ?? null;
			if (expected !== undefined && expected !== before) throw new StaleValue(field, expected, before);
			if ((before ?? '') === value) continue;
			writes.push({ record, field, value });
		}
		count++;
		ids.add(id);
	}
	setValues(work, writes);
	const guide = stack.guide.kinds[kind]!;
	const what = ids.size === 1 ? guide.title : (guide.plural ?? guide.title);
	return `Set ${plural(count, 'value')} of ${ids.size} ${what.toLowerCase()}`;
}

/** One field of many records. */
export function change(work: Work, { kind, ids, field, how }: Of<'change'>, said?: SaidBy): string {
	const { stack } = work;
	if (isText(stack, kind)) throw new NotPossible('Texts are changed one by one or by finding and replacing.');
	const records = ids.map((id) => find(stack, kind, id));
	if (!stack.tables.get(kind)!.columns.includes(field) && !fieldOf(stack.guide.kinds[kind], field))
		throw new NotPossible(`No record of this kind has a field “${field}”. Nothing was changed.`);
	const guide = fieldOf(stack.guide.kinds[kind], field);
	const whole = guide?.type === 'whole' || guide?.type === 'flags';
	const all = newValues(records, field, how, { whole, ...(said ? { said } : {}) });
	const faults = all.filter(({ fault }) => fault !== undefined);
	const writes = all
		.filter(({ before, after, fault }) => fault === undefined && (before ?? '') !== after)
		.map(({ record, after }) => ({ record, field, value: after }));
	if (writes.length === 0 && faults.length > 0)
		throw new NotPossible(
			`None of the ${plural(records.length, 'record')} could be changed: ${field} of ${displayName(stack, faults[0]!.record)} ${faults[0]!.fault}.`
		);
	setValues(work, writes);
	if (faults.length > 0)
		work.say(
			`${plural(faults.length, 'record stays', 'records stay')} as ${faults.length === 1 ? 'it is' : 'they are'}: ${field} of ${displayName(stack, faults[0]!.record)} ${faults[0]!.fault}.`
		);
	const kindGuide = stack.guide.kinds[kind]!;
	const what = writes.length === 1 ? kindGuide.title : (kindGuide.plural ?? kindGuide.title);
	return `Change ${(guide?.title ?? field).toLowerCase()} of ${writes.length} ${what.toLowerCase()} ${howInWords(how)}`;
}
