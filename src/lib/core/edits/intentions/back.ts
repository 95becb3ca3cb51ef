import { isEditable } from '../../stack';
import * as z from 'zod';
import { recount } from '../follow';
import { removeRecord } from '../steps';
import { note, NotPossible } from '../work';
import { name, type Drafted } from './intention';

const schema = z.object({ do: z.literal('back'), kind: name, id: name });

/** A record that my mod takes out of the layers below, back among them. */
export const back: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, id }) {
		const { stack, draft } = work;
		const table = stack.tables.get(kind);
		const own = (table?.removals ?? []).filter(
			({ from, nth }) => isEditable(from.layer) && from.facts.pool.at(from.facts.ids[nth]!) === id
		);
		if (!table || own.length === 0) throw new NotPossible(`Your mod does not remove ${id}.`);
		for (const { from } of own) removeRecord(draft, { path: from.file.path, kind, id }, work.say);
		note(work, { kind, id }, table.guide.key ?? 'id', null, id);
		if (own.some(({ hits }) => hits > 0)) recount(work, kind, 1);
		return `Bring ${id} back`;
	},
	words: ({ said }) => `Bring ${said('id')} back`
};
