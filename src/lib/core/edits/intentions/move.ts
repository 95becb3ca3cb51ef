import * as z from 'zod';
import { displayName } from '../../stack';
import { take } from '../steps';
import { find, note, NotPossible } from '../work';
import { name, type Drafted } from './intention';

const schema = z.object({
	do: z.literal('move'),
	kind: name,
	id: name,
	to: z.int().min(0),
	file: name.optional()
});

/** The record to another place among those of its file, from 0; `file` where my mod has it in several. */
export const move: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, id, to, file }) {
		const { stack, draft } = work;
		const record = find(stack, kind, id);
		const path = file !== undefined && draft.has(file) ? file : take(draft, record, work.say);
		const doc = draft.doc(path, kind)!;
		const node = draft.record({ path, kind, id });
		if (!node) throw new NotPossible(`${path} has no record ${id}.`);
		const from = doc.records.indexOf(node);
		const place = Math.min(to, doc.records.length - 1);
		if (from === place) throw new NotPossible('The record is already there.');
		draft.edit(path, draft.format(path).move(doc, node, place));
		note(work, record, 'place in the file', String(from + 1), String(place + 1));
		if (stack.guide.kinds[kind]!.reversed)
			work.say(
				`The game shows ${path} in reverse: players see this as number ${doc.records.length - place} of ${doc.records.length}.`
			);
		return `Move ${displayName(stack, record)} to place ${place + 1} of ${doc.records.length} in ${path}`;
	},
	words: ({ said }) => `Move ${said('id')} in its file`
};
