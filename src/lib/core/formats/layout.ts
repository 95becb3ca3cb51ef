// How formats are written that only the field guide knows.
import * as z from 'zod';
import { patternFault } from '../text';
import { packedLayout } from './packed/schema';

const mark = z.string().max(20);

/** Punctuation of block text: nested `name … { … }`. */
export const blockLayout = z.strictObject({
	shape: z.literal('block'),
	/** What begins and ends a block. */
	open: mark.min(1).default('{'),
	close: mark.min(1).default('}'),
	/** What begins a block before its name, in place of what opens one behind it; empty for nothing. */
	openBefore: mark.default(''),
	/** Whether a value is one word, and several values may be on a line. */
	words: z.boolean().default(false),
	/** Marks that compare a name with a value where another one gives it: they belong to the name. The longest first. */
	compares: z.array(z.string().min(1).max(4)).max(12).default([]),
	/** Names that begin a block by themselves. */
	heads: z.array(z.string().min(1)).default([]),
	/** What is between a name and its value; empty for nothing but space. */
	assign: mark.default('='),
	/** What is between a name and the block that it opens; empty for nothing. */
	openAfter: mark.default(''),
	/** What ends a value; empty for the line end. */
	end: mark.default(''),
	/** What begins and ends a list of values, and is between them; empty for none. */
	listOpen: mark.default(''),
	listClose: mark.default(''),
	listSeparator: mark.default(''),
	/** The characters that may be around a text. */
	quotes: mark.default('"'),
	/** What takes the next character of a text as it is; the quote itself where quotes are doubled; empty for none. */
	escape: mark.default('\\'),
	/** Whether `\n` and `\t` in quotes stand for a line end and a tab: what takes a character as it is takes these so. */
	letters: z.boolean().default(false),
	/** What begins commentary up to the line end. */
	comments: z.array(mark).default(['#', '//']),
	/** What begins and ends commentary anywhere; null for none. */
	blockComment: z
		.tuple([mark.min(1), mark.min(1)])
		.nullable()
		.default(null)
});

const names = z.array(z.array(z.string()).min(1));

/** Lines whose values mean something by their position. */
export const positionalLayout = z.strictObject({
	shape: z.literal('positional'),
	/** What is between the values of a line; empty for any space. */
	separator: mark.default(''),
	comments: z.array(mark).default(['#']),
	/** Whether the first line only names the values below it. */
	titled: z.boolean().default(false),
	/** The lines before the first record, each with the names of its values. */
	head: names.default([]),
	/** The lines of one record, each with the names of its values. */
	record: names.min(1).default([['value']]),
	/** Name of the value in the head that counts the records. */
	count: z.string().nullable().default(null)
});

/** A regular expression; refused with the reason. */
export const patternSchema = z
	.string()
	.max(1000)
	.check(({ value, issues }) => {
		const fault = patternFault(value);
		if (fault !== null) issues.push({ code: 'custom', message: fault, input: value });
	});

/** Lines that are one record each. */
export const linesLayout = z.strictObject({
	shape: z.literal('lines'),
	/** Regular expression with named groups, which are the fields; each line is one field `text` without it. */
	pattern: patternSchema.nullable().default(null),
	comments: z.array(mark).default([])
});

/** Lines that begin with a tag, of which one begins a record. */
export const taggedLayout = z.strictObject({
	shape: z.literal('tagged'),
	/** The tag of the line with which a record begins. */
	first: z.string().min(1).max(60).default('N'),
	/** What is after the tag and between the values of a line. */
	separator: mark.min(1).default(':'),
	/** What is around a tag with its values, where not each has a line of its own; null where it has. */
	brackets: z
		.tuple([mark.min(1), mark.min(1)])
		.nullable()
		.default(null),
	/** Tags of lines that hold one text, whatever marks are in it. */
	texts: z.array(z.string()).default([]),
	comments: z.array(mark).default(['#'])
});

/** Lines of which a fixed number form one record. */
export const groupsLayout = z.strictObject({
	shape: z.literal('groups'),
	/** The names of the lines of a record, in their order. */
	names: z.array(z.string()).min(2).max(12).default(['source', 'text'])
});

/** How a format that only the guide knows is written. */
export const layoutSchema = z.discriminatedUnion('shape', [
	blockLayout,
	positionalLayout,
	linesLayout,
	taggedLayout,
	groupsLayout,
	packedLayout
]);

export type BlockLayout = z.infer<typeof blockLayout>;
export type PositionalLayout = z.infer<typeof positionalLayout>;
export type LinesLayout = z.infer<typeof linesLayout>;
export type TaggedLayout = z.infer<typeof taggedLayout>;
export type GroupsLayout = z.infer<typeof groupsLayout>;
export type Layout = z.infer<typeof layoutSchema>;
