import { z } from 'zod';

const name = z.string().min(1).max(500);

/** What somebody wants changed, in terms of records: the same for a cell, a ticket, a repair and the command. */
export const intentionSchema = z.discriminatedUnion('do', [
	/** One value of one record. `expected` is the value that was on the screen; if it is no longer so, nothing is done. */
	z.object({
		do: z.literal('set'),
		kind: name,
		id: name,
		field: name,
		value: z.string().max(100_000),
		expected: z.string().nullable().optional()
	}),
	/** The record as it is, into my mod. */
	z.object({ do: z.literal('take'), kind: name, id: name }),
	/** A new record from a similar one, with its texts; `names` gives the shown name by language. */
	z.object({
		do: z.literal('copy'),
		kind: name,
		id: name,
		newId: name,
		texts: z.boolean().default(true),
		names: z.record(z.string(), z.string()).default({})
	}),
	/** My version of the record out of my mod. `line` chooses among several with the same id. */
	z.object({ do: z.literal('remove'), kind: name, id: name, line: z.int().positive().optional() }),
	/** Texts in my mod. */
	z.object({
		do: z.literal('write'),
		texts: z.array(z.object({ key: name, language: name, text: z.string().max(100_000) })).min(1)
	})
]);

export type Intention = z.infer<typeof intentionSchema>;
