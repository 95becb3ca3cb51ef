import * as z from 'zod';
import { displayName } from '../../stack';
import { take as takeRecord } from '../steps';
import { find } from '../work';
import { name, type Drafted } from './intention';

const schema = z.object({ do: z.literal('take'), kind: name, id: name });

/** The record as it is, into my mod. */
export const take: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, id }) {
		const record = find(work.stack, kind, id);
		takeRecord(work.draft, record, work.say);
		return `Take ${displayName(work.stack, record)} into my mod`;
	},
	words: ({ said }) => `Take ${said('id')} into my mod`
};
