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
	/** Several values of one record: fields copied from another, for example. */
	z.object({
		do: z.literal('fill'),
		kind: name,
		id: name,
		values: z
			.array(z.object({ field: name, value: z.string().max(100_000) }))
			.min(1)
			.max(500),
		/** Where the values are from, for the title of the step. */
		from: z.string().max(200).default('')
	}),
	/** Files of my mod as another program wrote them; null where it took one away. */
	z.object({
		do: z.literal('bring'),
		files: z.array(z.object({ path: name, sha256: z.string().nullable() })).min(1)
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
