import { counted } from '../../wording';
import * as z from 'zod';
import { displayName, valueOf } from '../../stack';
import { setAsked } from '../follow';
import { find, isText, NotPossible } from '../work';
import { declining, name, type Drafted } from './intention';

const schema = z.object({
	do: z.literal('swap'),
	kind: name,
	id: name,
	/** The record that it swaps with. */
	with: name,
	fields: z.array(name).min(1).max(500),
	...declining
});

/** Values of two records of one kind, each in the place of the other's. */
export const swap: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, id, with: other, fields }) {
		const { stack } = work;
		if (isText(stack, kind)) throw new NotPossible('Texts are written one at a time.');
		if (id === other) throw new NotPossible('A record cannot be swapped with itself.');
		const [a, b] = [find(stack, kind, id), find(stack, kind, other)];
		const writes = [...new Set(fields)].flatMap((field) => {
			const [own, theirs] = [valueOf(a, field), valueOf(b, field)];
			if (own === undefined || theirs === undefined)
				throw new NotPossible(
					`${displayName(stack, own === undefined ? a : b)} has no ${field}. Nothing has changed.`
				);
			return own === theirs
				? []
				: [
						{ record: a, field, value: theirs },
						{ record: b, field, value: own }
					];
		});
		setAsked(work, writes);
		return `Swap ${counted(writes.length / 2, 'value')} of ${displayName(stack, a)} and ${displayName(stack, b)}`;
	},
	words: ({ said, data }) =>
		`Swap ${Array.isArray(data.fields) ? data.fields.join(', ') : 'values'} of ${said('id')} and ${said('with')}`
};
