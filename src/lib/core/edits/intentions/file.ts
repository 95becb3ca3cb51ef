import * as z from 'zod';
import { fileBelow, fileContent } from '../../stack';
import { filesChanged } from '../bring';
import { isInside, NothingToDo, NotPossible } from '../work';
import { name, type Bound } from './intention';
import { wayOf } from './text';

const schema = z.object({
	do: z.literal('file'),
	path: name,
	/** Into my mod as it is below, or out of my mod. */
	how: z.enum(['take', 'drop'])
});

/** A whole file, text or not: into my mod as the layers below have it, or out of my mod. */
export const file: Bound<typeof schema> = {
	schema,
	bound: 'takes a file',
	whole({ stack }, { path, how }) {
		if (!isInside(path)) throw new NotPossible(`“${path}” is not a path inside a mod.`);
		const mine = stack.mine?.files.get(path);
		const below = fileBelow(stack, path);
		if (how === 'drop') {
			if (!mine) throw new NotPossible(`Your mod has no ${path}.`);
			const { changes, values, notes } = filesChanged(stack, new Map([[path, null]]));
			if (below) notes.push(`The game reads its own ${path} again.`);
			return { title: `Remove ${path} from my mod`, changes, values, notes };
		}
		if (mine) throw new NothingToDo(`Your mod already has ${path}.`);
		if (!below) throw new NotPossible(`No layer has a file ${path}.`);
		const { changes } = filesChanged(stack, new Map([[path, fileContent(below)]]));
		return {
			title: `Add ${path} to my mod`,
			changes,
			values: [],
			notes: [`It is identical to the game’s file for now, and the game reads it ${wayOf(stack, path)}.`]
		};
	},
	words: ({ said, data }) =>
		data.how === 'drop' ? `Remove ${said('path')} from my mod` : `Add ${said('path')} to my mod`
};
