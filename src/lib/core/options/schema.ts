import * as z from 'zod';
import { isInside } from '../edits';
import { isEncoding } from '../text';

const line = z.string().trim().max(200);

const path = z
	.string()
	.min(1)
	.max(500)
	.refine(isInside, { error: ({ input }) => `“${String(input)}” is not a path inside a mod.` });

/** Characters of a file of an option, and of all files of all options together. */
const [LONGEST, MOST] = [4_000_000, 6_000_000];

/** A file of an option: a text in its encoding, or bytes. */
const fileSchema = z.union([
	z.object({
		path,
		text: z.string().max(LONGEST),
		encoding: z.string().refine(isEncoding, 'This encoding is not known.'),
		bom: z.boolean()
	}),
	z.object({ path, bytes: z.base64().max(LONGEST) })
]);

export type OptionFile = z.infer<typeof fileSchema>;

const sizeOf = (file: OptionFile) => ('bytes' in file ? file.bytes : file.text).length;

/** One optional part of a mod. */
export const optionSchema = z.object({
	/** Safe for a folder; the mod's name and this make the name of the option's own mod. */
	id: z.string().regex(/^[a-z0-9_]{1,40}$/, 'Use small letters, digits and “_”.'),
	title: line.min(1),
	about: z.string().trim().max(2000).default(''),
	/** Of the options with one `oneOf`, a player has exactly one; null for one that is on or off by itself. */
	oneOf: line.min(1).nullable().default(null),
	/** Whether players have it where they choose nothing. */
	standard: z.boolean().default(false),
	/** What it sets. A field of texts is the language. */
	cells: z
		.array(z.object({ kind: line.min(1), id: line.min(1), field: line.min(1), value: z.string() }))
		.max(20_000)
		.default([]),
	/** Its own files: records and files that only it has. What it sets comes on top. */
	files: z.array(fileSchema).max(2000).default([])
});

/** Optional parts of a mod: values, records and files that count where a player chooses them. */
export const optionsSchema = z
	.array(optionSchema)
	.max(60)
	.superRefine((list, context) => {
		const ids = new Set<string>();
		for (const { id } of list) {
			if (ids.has(id)) context.addIssue({ code: 'custom', message: `There are two options called “${id}”.` });
			ids.add(id);
		}
		if (list.flatMap(({ files }) => files).reduce((sum, file) => sum + sizeOf(file), 0) > MOST)
			context.addIssue({
				code: 'custom',
				message: 'These files are too large for an option. Leave the large ones in the main part.'
			});
	});

export type ModOption = z.infer<typeof optionSchema>;
