import * as z from 'zod';
import { EditRefused } from '../../formats';
import { displayName } from '../../stack';
import { recount } from '../follow';
import { take } from '../steps';
import { find, note, NotPossible } from '../work';
import { declining, name, type Drafted } from './intention';

const schema = z.object({ do: z.literal('another'), kind: name, id: name, ...declining });

/** A copy of a record that has no name of its own, right behind it: a line, a row without a key, an item of a list. */
export const another: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, id }) {
		const { stack, draft } = work;
		const record = find(stack, kind, id);
		const about = stack.guide.kinds[kind]!;
		if (record.presences.at(-1)!.written)
			throw new NotPossible(`${id} has an id of its own; copy it as new and give the copy another id.`);
		if (about.merge !== 'file' && !draft.stack.mine?.files.has(record.presences.at(-1)!.path))
			throw new NotPossible(
				'The game merges these files record by record, and this record has no id: the copy would override another record.'
			);
		const path = take(draft, record, work.say);
		const place = { path, kind, id };
		const node = draft.record(place);
		if (!node) throw new NotPossible(`${path} has no record ${id}.`);
		const format = draft.format(path);
		const doc = draft.doc(path, kind)!;
		const at = doc.records.indexOf(node);
		draft.edit(path, format.insert(doc, doc, node));
		const grown = draft.doc(path, kind)!;
		try {
			const end = grown.records.length - 1;
			if (end > at + 1) draft.edit(path, format.move(grown, grown.records[end]!, at + 1));
		} catch (fault) {
			if (!(fault instanceof EditRefused)) throw fault;
			work.say(`The new one stands at the end of ${path}: ${fault.message}`);
		}
		const all = draft.doc(path, kind)!.records;
		const made = all[Math.min(at + 1, all.length - 1)]!;
		note(work, { kind, id: made.id }, 'record', null, `like ${id}`);
		recount(work, kind, 1);
		return `Add another ${about.title.toLowerCase()} like ${displayName(stack, record)}`;
	},
	words: ({ said }) => `Add another record like ${said('id')}`
};
