import * as z from 'zod';
import { replay } from '../recipe';
import { name, value, type Bound } from './intention';

const schema = z.object({
	do: z.literal('recipe'),
	recipe: name,
	fill: z.record(z.string(), value).default({})
});

/** The steps of a recipe of the field guide, as one, with its blanks filled in. */
export const recipe: Bound<typeof schema> = {
	schema,
	bound: 'replays a recipe',
	whole: (on, asked) => replay(on, asked),
	words: ({ said }) => `Replay ${said('recipe')}`
};
