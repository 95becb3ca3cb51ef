import * as z from 'zod';
import { fieldOf } from '../../guide';
import { displayName } from '../../stack';
import { lowestField } from '../batch';
import { setField } from '../steps';
import { find, note, NotPossible } from '../work';
import { another } from './another';
import { copy } from './copy';
import { declining, name, value, type Drafted } from './intention';

const schema = z.object({
	do: z.literal('stand'),
	kind: name,
	id: name,
	/** The id of the new one, where records of the kind have one. */
	newId: name.optional(),
	/** What is different from the model: its position, mostly. */
	values: z.record(name, value),
	...declining
});

/** Another record like one that stands somewhere, at another place. */
export const stand: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, id, newId, values }, besides) {
		const { stack, draft } = work;
		const record = find(stack, kind, id);
		const title =
			newId === undefined
				? another.draft(work, { do: 'another', kind, id }, besides)
				: copy.draft(work, { do: 'copy', kind, id, newId, names: {} }, besides);
		const made = newId ?? work.values.find((one) => one.kind === kind && one.field === 'record')?.id;
		const path = draft
			.changes()
			.map((change) => change.path)
			.find((one) => made !== undefined && draft.record({ path: one, kind, id: made }));
		if (made === undefined || path === undefined)
			throw new NotPossible(`The copy of ${id} was not found again; nothing has changed.`);
		for (const [field, said] of Object.entries(values)) {
			const about = { type: fieldOf(stack.guide.kinds[kind], field)?.type, like: lowestField(record, field) };
			setField(draft, { path, kind, id: made }, { field, value: said, about, say: work.say });
			note(work, { kind, id: made }, field, null, said);
		}
		return newId === undefined ? title : `Add ${newId}, like ${displayName(stack, record)}`;
	},
	words: ({ said }) => `Put another one like ${said('id')} on the map`
};
