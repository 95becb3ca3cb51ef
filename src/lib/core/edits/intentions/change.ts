import { counted, either } from '../../wording';
import * as z from 'zod';
import { fieldOf } from '../../guide';
import { displayName } from '../../stack';
import { setAsked } from '../follow';
import { howInWords, howSchema, newValues } from '../many';
import { find, isText, NotPossible, writeAll } from '../work';
import { declining, name, type Drafted } from './intention';

const schema = z.object({
	do: z.literal('change'),
	kind: name,
	ids: z.array(name).min(1).max(500_000),
	field: name,
	how: howSchema,
	...declining
});

/** One field of many records, all changed in the same way. */
export const change: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, ids, field, how }, { said }) {
		const { stack } = work;
		const records = ids.map((id) => find(stack, kind, id));
		if (!stack.tables.get(kind)!.columns.includes(field) && !fieldOf(stack.guide.kinds[kind], field))
			throw new NotPossible(`No record of this kind has the field “${field}”. Nothing has changed.`);
		const guide = fieldOf(stack.guide.kinds[kind], field);
		const whole = guide?.type === 'whole' || guide?.type === 'flags';
		const all = newValues(records, field, how, { whole, ...(said ? { said } : {}) });
		const faults = all.filter(({ fault }) => fault !== undefined);
		const writes = all
			.filter(({ before, after, fault }) => fault === undefined && (before ?? '') !== after)
			.map(({ record, after }) => ({ record, field, value: after }));
		if (writes.length === 0 && faults.length > 0)
			throw new NotPossible(
				`None of the ${counted(records.length, 'record')} could be changed: ${field} of ${displayName(stack, faults[0]!.record)} ${faults[0]!.fault}.`
			);
		if (isText(stack, kind))
			writeAll(
				work,
				writes.map(({ record, value }) => ({ key: record.id, language: field, text: value }))
			);
		else setAsked(work, writes);
		if (faults.length > 0)
			work.say(
				`${counted(faults.length, 'record stays', 'records stay')} as ${either(faults.length, 'it is', 'they are')}: ${field} of ${displayName(stack, faults[0]!.record)} ${faults[0]!.fault}.`
			);
		const kindGuide = stack.guide.kinds[kind]!;
		const what = writes.length === 1 ? kindGuide.title : (kindGuide.plural ?? kindGuide.title);
		const language = isText(stack, kind) ? stack.guide.words!.languages[field] : undefined;
		return `Change ${language ?? (guide?.title ?? field).toLowerCase()} of ${writes.length} ${what.toLowerCase()} ${howInWords(how)}`;
	},
	words({ said, count, data }) {
		const how = howSchema.safeParse(data.how);
		return `Change ${said('field')} of ${count('ids')} of ${said('kind')}${how.success ? `: ${howInWords(how.data)}` : ''}`;
	}
};
