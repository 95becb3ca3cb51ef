import * as z from 'zod';
import { reversePlan } from '../reverse';
import { NotPossible } from '../work';
import type { Bound } from './intention';

const schema = z.object({ do: z.literal('reverse'), step: z.int().positive() });

/** A step of the ledger the other way round, whatever came after it. */
export const reverse: Bound<typeof schema> = {
	schema,
	bound: 'reverses another',
	whole({ stack, mod, besides: { reversing } }) {
		if (!reversing) throw new NotPossible('Undo a single step from the ledger.');
		return reversePlan(stack, reversing, mod);
	},
	words: ({ said }) => `Undo step ${said('step')}`
};
