import { z } from 'zod';
import { displayName } from '../../stack';
import { recountItems } from '../follow';
import { take } from '../steps';
import { find, note, NotPossible } from '../work';
import { declining, name, value, type Drafted } from './intention';

const schema = z.object({
	do: z.literal('item'),
	kind: name,
	id: name,
	list: name,
	at: z.int().min(0),
	change: z.discriminatedUnion('how', [
		z.object({ how: z.literal('insert'), value }),
		z.object({ how: z.literal('copy') }),
		z.object({ how: z.literal('remove') }),
		z.object({ how: z.literal('move'), to: z.int().min(0) })
	]),
	...declining
});

/** An item of a list of a record: put in before number `at`, taken out, or moved. */
export const item: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, id, list, at, change }) {
		const { stack, draft } = work;
		const record = find(stack, kind, id);
		const path = take(draft, record, work.say);
		const node = draft.record({ path, kind, id });
		if (!node) throw new NotPossible(`${path} has no record ${id}.`);
		const doc = draft.doc(path)!;
		const format = draft.format(path);
		const was = node.fields.find((field) => field.path === `${list}[${at}]`);
		const before = was ? String(was.value ?? '') : null;
		const name = displayName(stack, record);
		const place = `${list}[${at}]`;
		switch (change.how) {
			case 'insert':
				draft.edit(path, format.insertItem(doc, node, list, at, { value: change.value }));
				note(work, record, place, null, change.value);
				break;
			case 'copy':
				draft.edit(path, format.insertItem(doc, node, list, at + 1, { copyOf: at }));
				note(work, record, `${list}[${at + 1}]`, null, before ?? `as ${place}`);
				break;
			case 'remove':
				draft.edit(path, format.removeItem(doc, node, list, at));
				note(work, record, place, before ?? 'an item', null);
				break;
			case 'move':
				draft.edit(path, format.moveItem(doc, node, list, at, change.to));
				note(work, record, list, `${before ?? 'the item'} in place ${at + 1}`, `in place ${change.to + 1}`);
				break;
		}
		recountItems(work, record, path, list);
		const did = {
			insert: 'Add one to',
			copy: 'Repeat one in',
			remove: 'Remove one from',
			move: 'Move one in'
		};
		return `${did[change.how]} ${list} of ${name}`;
	},
	words: ({ said }) => `Change the items of ${said('list')} of ${said('id')}`
};
