import { z } from 'zod';
import { fieldOf } from '../../guide';
import { displayName, valueOf } from '../../stack';
import { setValues } from '../follow';
import { find, isText, mustBe, textBefore, write } from '../work';
import { declining, expected, name, value, type Drafted } from './intention';

const schema = z.object({
	do: z.literal('set'),
	kind: name,
	id: name,
	field: name,
	value,
	expected,
	...declining
});

/** One value of one record or text. */
export const set: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, id, field, value, expected }) {
		const { stack } = work;
		if (isText(stack, kind)) {
			const before = textBefore(stack, id, field);
			mustBe(field, expected, before);
			write(work, id, field, value);
			return `Set text ${id} (${field})`;
		}
		const record = find(stack, kind, id);
		const before = valueOf(record, field) ?? null;
		mustBe(field, expected, before);
		setValues(work, [{ record, field, value }]);
		const after = work.values[0]?.after ?? value;
		const title = (fieldOf(stack.guide.kinds[kind], field)?.title ?? field).toLowerCase();
		return `Set ${title} of ${displayName(stack, record)}: ${before || 'nothing'} to ${after || 'nothing'}`;
	},
	words: ({ said }) => `Set ${said('field')} of ${said('id')} to ${said('value') || 'nothing'}`,
	opens: ({ kind, field, value }, open) => ({ value: open.value(value, open.fieldTitle(kind, field)) })
};
