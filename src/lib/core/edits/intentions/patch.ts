import * as z from 'zod';
import { becomesOf, type FileContent } from '../../change';
import { applyPatch, PatchFault, readPatch, type Choices, type Patch, type PatchResult } from '../../patch';
import { fileBelow, fileContent, type Stack } from '../../stack';
import { counted } from '../../wording';
import { filesChanged } from '../bring';
import { isInside, NothingToDo, NotPossible } from '../work';
import { name, type Bound } from './intention';
import { LONGEST_TEXT, wayOf } from './text';

/** Where people want parts of a patch that are not certain: line from 1, part from 1. */
export const patchChoices = z
	.array(z.object({ path: name, part: z.int().min(1), line: z.int().min(1) }))
	.max(1000);

const schema = z.object({
	do: z.literal('patch'),
	/** The patch, as its file has it. Empty in the ledger: the plan holds what changed. */
	patch: z.string().max(LONGEST_TEXT),
	at: patchChoices.optional()
});

const choicesOf = (at: z.infer<typeof patchChoices>): Choices => {
	const choices = new Map<string, Map<number, number>>();
	for (const { path, part, line } of at)
		choices.set(path, (choices.get(path) ?? new Map<number, number>()).set(part, line));
	return choices;
};

/**
 * What a patch does to the files of a stack: my mod's, else those that the game reads.
 * @throws PatchFault where it is none, or names a path outside of a mod
 */
export function patchOn(
	stack: Stack,
	text: string,
	at: z.infer<typeof patchChoices> = []
): { patch: Patch; result: PatchResult } {
	const patch = readPatch(text);
	const outside = patch.files.find(({ path }) => !isInside(path));
	if (outside) throw new PatchFault(`“${outside.path}” is not a path inside a mod.`);
	const read = (path: string): FileContent | undefined => {
		const file = stack.mine?.files.get(path) ?? fileBelow(stack, path);
		return file && fileContent(file);
	};
	return { patch, result: applyPatch(patch, read, choicesOf(at)) };
}

/** A patch taken into my mod: all of it, or nothing. */
export const patch: Bound<typeof schema> = {
	schema,
	bound: 'takes in a patch',
	whole({ stack }, { patch: text, at }) {
		let done: ReturnType<typeof patchOn>;
		try {
			done = patchOn(stack, text, at);
		} catch (error) {
			throw error instanceof PatchFault ? new NotPossible(error.message) : error;
		}
		const { files, applied } = done.result;
		if (!applied) {
			const open = files.find((one) => !one.applied)!;
			if (files.every(({ already }) => already))
				throw new NothingToDo('Nothing to change: all of this patch is already there.');
			const nth = open.parts.findIndex((part) => !part.applied);
			throw new NotPossible(
				open.reason !== '' ? open.reason : `${open.path}, part ${nth + 1}: ${open.parts[nth]!.reason}`
			);
		}
		const next = new Map<string, FileContent | null>();
		for (const { path, after } of files) {
			if (after === null && !stack.mine?.files.has(path))
				throw new NotPossible(`The patch removes ${path}, but a mod cannot take a file out of the game.`);
			next.set(path, after ?? null);
		}
		const { changes, values, notes } = filesChanged(stack, next);
		if (changes.length === 0)
			throw new NothingToDo('Nothing to change: the files are as the patch makes them.');
		for (const change of changes)
			if (becomesOf(change) === 'new' && fileBelow(stack, change.path))
				notes.push(`${change.path} is now in your mod, and the game reads it ${wayOf(stack, change.path)}.`);
		const parts = files.reduce((sum, one) => sum + one.parts.length, 0);
		return {
			title: `Apply a patch: ${files.length === 1 ? files[0]!.path : counted(files.length, 'file')}, ${counted(parts, 'part')}`,
			changes,
			values,
			notes
		};
	},
	words: () => 'Apply a patch'
};
