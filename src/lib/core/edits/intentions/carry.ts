import * as z from 'zod';
import { filesChanged } from '../bring';
import { NotPossible } from '../work';
import { name, type Bound } from './intention';

const schema = z.object({
	do: z.literal('carry'),
	/** The layer that is the new version, and the one that was the base before. */
	to: name,
	from: name,
	/** What the new version is called. */
	called: z.string().max(200),
	/** What is said besides the files, before and after, as the project keeps it; the server adds it. */
	sayings: z
		.object({ was: z.record(z.string(), z.unknown()), becomes: z.record(z.string(), z.unknown()) })
		.optional()
});

/** My mod on a new version of the game, which takes the place of the old one with it. */
export const carry: Bound<typeof schema> = {
	schema,
	bound: 'carries the mod over',
	whole({ stack, besides }, { called }) {
		if (!besides.brought) throw new NotPossible('The new version is no longer there; import it again.');
		return { title: `Carry over to ${called}`, ...filesChanged(stack, besides.brought) };
	},
	words: ({ said }) => `Carry over to ${said('called')}`
};
