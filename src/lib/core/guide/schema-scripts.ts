// What the guide says of a game's scripts: ids in them, events, the game's functions, pages and markup.
import * as z from 'zod';
import { found } from './schema-common';

/** Ids as texts in scripts: what the n-th argument of a call names, or what is compared with a value. */
export const script = z.strictObject({
	/** Name of the function, or what is before `==`. */
	call: z.string(),
	/** Number of the argument from 1; 0 for a comparison. */
	argument: z.int().min(0),
	kinds: z.array(z.string()).min(1),
	found
});

const sentence = z.string().min(1).max(2000);

/** What a function of scripts gets from the game. */
const argument = z.strictObject({
	name: z.string().min(1),
	/** Records of these kinds. */
	kinds: z.array(z.string()).optional(),
	meaning: sentence.optional(),
	unit: z.string().optional(),
	min: z.number().optional(),
	max: z.number().optional()
});

/** Something that the game asks scripts for; its name may end in `{id}`. */
export const event = z.strictObject({
	/** When the game asks. */
	when: sentence.optional(),
	/** The kind whose records each have a function of their own, for a name with `{id}`. */
	kind: z.string().optional(),
	arguments: z.array(argument).optional(),
	/** What an answer may return, and what that does. */
	returns: sentence.optional()
});

/** A function of the game. */
export const call = z.strictObject({
	meaning: sentence.optional(),
	/** What it returns where scripts are tried without the game: a number, true, false, nil, or a text. */
	returns: z.string().max(1000).optional()
});

/** A call by which scripts show a page of text. */
export const page = z.strictObject({
	call: z.string().min(1),
	/** Numbers of the arguments, from 1, that hold the title and the text. */
	title: z.int().min(1).optional(),
	text: z.int().min(1),
	/** The last page of a file is shown first. */
	reversed: z.boolean().optional()
});

/**
 * How texts are marked up: what is between two marks is shown so, and what a code stands for. A colour is one of CSS; a
 * picture is drawn here as some character.
 */
export const markup = z.union([
	z.strictObject({
		open: z.string().min(1).max(40),
		close: z.string().min(1).max(40),
		shows: z.enum(['strong', 'emphasis', 'small', 'colour']),
		colour: z
			.string()
			.regex(/^#[\da-f]{3,8}$|^[a-z]{3,30}$/i, 'must be a colour such as “#2b7fa8”')
			.optional()
	}),
	z.strictObject({
		code: z.string().min(1).max(40),
		shows: z.enum(['break', 'icon', 'nothing']),
		as: z.string().min(1).max(8).optional()
	})
]);

export type ScriptGuide = z.infer<typeof script>;
export type EventGuide = z.infer<typeof event>;
export type PageGuide = z.infer<typeof page>;
export type MarkupGuide = z.infer<typeof markup>;
