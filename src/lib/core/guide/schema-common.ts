// What several parts of the guide's schema share.
import * as z from 'zod';
import { globFault } from './glob';

/** A pattern of paths. */
export const glob = z
	.string()
	.max(1000)
	.check(({ value, issues }) => {
		const fault = globFault(value);
		if (fault !== null) issues.push({ code: 'custom', message: fault, input: value });
	});

/** Statements on a field that block by themselves, also where the rest of it was only found. */
export const SAID = ['min', 'max', 'notBefore', 'required'] as const;

/** How a statement was found in the files, where nobody wrote it down: how sure it is, from 0 to 1, and what for. */
export const found = z
	.strictObject({
		sure: z.number().min(0).max(1),
		because: z.string(),
		/** Statements beside it that people wrote: these are not found. */
		said: z.array(z.enum(SAID)).optional()
	})
	.optional();

export type Found = z.infer<typeof found>;
