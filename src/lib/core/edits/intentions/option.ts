import * as z from 'zod';
import { filesChanged } from '../bring';
import { NothingToDo, NotPossible } from '../work';
import { name, type Bound } from './intention';

const schema = z.object({
	do: z.literal('option'),
	title: z.string().min(1).max(300),
	/** Files of the main part as they are without what went, or with what came back. */
	files: z.array(z.object({ path: name, sha256: z.string().nullable() })).min(1),
	/** The option before and after, as it is kept with the project. */
	was: z.record(z.string(), z.unknown()),
	becomes: z.record(z.string(), z.unknown())
});

/** What goes between the main part of my mod and one of its options. */
export const option: Bound<typeof schema> = {
	schema,
	bound: 'moves changes between my mod and an option',
	whole({ stack, besides }, { title }) {
		if (!besides.brought)
			throw new NotPossible('What was to be moved is no longer there; load the page again.');
		const found = filesChanged(stack, besides.brought);
		if (found.changes.length === 0) throw new NothingToDo('This changes nothing in your mod.');
		return { title, ...found };
	},
	words: ({ said }) => said('title')
};
