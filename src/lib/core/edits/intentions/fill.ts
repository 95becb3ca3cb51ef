import { counted } from '../../wording';
import * as z from 'zod';
import { fieldOf } from '../../guide';
import { displayName, valueOf } from '../../stack';
import { setAsked } from '../follow';
import { find } from '../work';
import { declining, name, value, type Drafted } from './intention';

const schema = z.object({
	do: z.literal('fill'),
	kind: name,
	id: name,
	values: z
		.array(z.object({ field: name, value }))
		.min(1)
		.max(500),
	/** Where the values are from, for the title of the step. */
	from: z.string().max(200).default(''),
	...declining
});

/** Several values of one record: fields copied from another, for example. */
export const fill: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, id, values, from }) {
		const record = find(work.stack, kind, id);
		const cells = values
			.filter(({ field, value }) => (valueOf(record, field) ?? '') !== value)
			.map(({ field, value }) => ({ record, field, value }));
		setAsked(work, cells);
		const [only] = cells;
		const what =
			only && cells.length === 1
				? (fieldOf(work.stack.guide.kinds[kind], only.field)?.title ?? only.field).toLowerCase()
				: counted(cells.length, 'field');
		return `Set ${what} of ${displayName(work.stack, record)}${from ? ` from ${from}` : ''}`;
	},
	words: ({ said, many }) =>
		`Set ${many('values')
			.map(({ field }) => String(field))
			.join(', ')} of ${said('id')}`,
	opens: ({ kind, values }, open) => ({
		values: values.map(({ field, value }) => ({
			field,
			value: open.value(value, open.fieldTitle(kind, field))
		}))
	})
};
