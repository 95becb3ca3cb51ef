import { z } from 'zod';

const line = z.string().trim().max(200);

/** Optional parts of a mod: values that count where a player chooses them. */
export const optionsSchema = z
	.array(
		z.object({
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
				.default([])
		})
	)
	.max(60)
	.superRefine((list, context) => {
		const ids = new Set<string>();
		for (const { id } of list) {
			if (ids.has(id)) context.addIssue({ code: 'custom', message: `There are two options called “${id}”.` });
			ids.add(id);
		}
	});

export type ModOption = z.infer<typeof optionsSchema>[number];
