import { z } from 'zod';
import { FOLLOW_SORTS } from '../change';
import { howSchema } from './many';

const name = z.string().min(1).max(500);
const value = z.string().max(100_000);

/** What follows by itself and is declined, and why. */
const declining = {
	without: z.array(z.enum(FOLLOW_SORTS)).optional(),
	/** What was only detected to follow, and is wanted. */
	including: z.array(z.enum(FOLLOW_SORTS)).optional(),
	reason: z.string().max(500).optional()
};

/** What somebody wants changed, in terms of records: the same for a cell, a ticket, a repair and the command. */
export const intentionSchema = z.discriminatedUnion('do', [
	/** One value of one record. `expected` is the value that was on the screen; if it is no longer so, nothing is done. */
	z.object({
		do: z.literal('set'),
		kind: name,
		id: name,
		field: name,
		value,
		expected: z.string().nullable().optional(),
		...declining
	}),
	/** Several values of one record: fields copied from another, for example. */
	z.object({
		do: z.literal('fill'),
		kind: name,
		id: name,
		values: z
			.array(z.object({ field: name, value }))
			.min(1)
			.max(500),
		/** Where the values are from, for the title of the step. */
		from: z.string().max(200).default(''),
		...declining
	}),
	/** A block of values of one kind: what was pasted into a table. */
	z.object({
		do: z.literal('cells'),
		kind: name,
		cells: z
			.array(z.object({ id: name, field: name, value, expected: z.string().nullable().optional() }))
			.min(1)
			.max(200_000),
		...declining
	}),
	/** One field of many records, all changed in the same way. */
	z.object({
		do: z.literal('change'),
		kind: name,
		ids: z.array(name).min(1).max(500_000),
		field: name,
		how: howSchema,
		...declining
	}),
	/** Files of my mod as another program wrote them; null where it took one away. */
	z.object({
		do: z.literal('bring'),
		files: z.array(z.object({ path: name, sha256: z.string().nullable() })).min(1)
	}),
	/** The record as it is, into my mod. */
	z.object({ do: z.literal('take'), kind: name, id: name }),
	/** A new record from a similar one, with all that makes it whole; `names` gives the shown name by language. */
	z.object({
		do: z.literal('copy'),
		kind: name,
		id: name,
		newId: name,
		names: z.record(z.string(), z.string()).default({}),
		/** A field that is to name the new record. */
		into: z.object({ kind: name, id: name, field: name }).optional(),
		...declining
	}),
	/** Another id, everywhere. What belongs to the game stays, and all that names it names its copy instead. */
	z.object({ do: z.literal('rename'), kind: name, id: name, newId: name, ...declining }),
	/**
	 * My version of the record out of my mod. `line` chooses among several with the same id. `settle` says what becomes
	 * of fields that name it: they stay, are emptied, or name another.
	 */
	z.object({
		do: z.literal('remove'),
		kind: name,
		id: name,
		line: z.int().positive().optional(),
		settle: z
			.discriminatedUnion('how', [
				z.object({ how: z.literal('leave') }),
				z.object({ how: z.literal('empty') }),
				z.object({ how: z.literal('point'), to: name })
			])
			.optional(),
		...declining
	}),
	/** A record that my mod takes out of the layers below, back among them. */
	z.object({ do: z.literal('back'), kind: name, id: name }),
	/** The record to another place among those of its file, from 0; `file` where my mod has it in several. */
	z.object({ do: z.literal('move'), kind: name, id: name, to: z.int().min(0), file: name.optional() }),
	/**
	 * Records into another file of their kind, which may be a new one; a file that is left empty goes. `from` where they
	 * are taken from one file only.
	 */
	z.object({
		do: z.literal('put'),
		kind: name,
		ids: z.array(name).min(1).max(100_000),
		from: name.optional(),
		into: name
	}),
	/** An item of a list of a record: put in before number `at`, taken out, or moved. */
	z.object({
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
	}),
	/** Texts in my mod. */
	z.object({
		do: z.literal('write'),
		texts: z.array(z.object({ key: name, language: name, text: value })).min(1)
	}),
	/** The steps of a recipe of the field guide, as one, with its blanks filled in. */
	z.object({
		do: z.literal('recipe'),
		recipe: name,
		fill: z.record(z.string(), value).default({})
	}),
	/** A step of the ledger the other way round, whatever came after it. */
	z.object({ do: z.literal('reverse'), step: z.int().positive() })
]);

export type Intention = z.infer<typeof intentionSchema>;
