import * as z from 'zod';
import { planToBring } from '../bring';
import { NotPossible } from '../work';
import { name, type Bound } from './intention';

const schema = z.object({
	do: z.literal('bring'),
	files: z.array(z.object({ path: name, sha256: z.string().nullable() })).min(1)
});

/** Files of my mod as another program wrote them; null where it took one away. */
export const bring: Bound<typeof schema> = {
	schema,
	bound: 'brings files in',
	whole({ stack, besides }) {
		const plan = planToBring(stack, besides.brought ?? new Map());
		if (plan.changes.length === 0) throw new NotPossible('Your mod already matches these files.');
		return plan;
	},
	words: ({ count }) => `Import ${count('files')} files`
};
