// Patches: one held against a project's files, and one made of what my mod changes in files of others.
import * as z from 'zod';
import { LONGEST_TEXT, patchChoices, patchOn } from '$core/edits';
import { filePatch, printPatch } from '$core/patch';
import { fileBelow, fileContent, type Stack } from '$core/stack';
import type { PatchedFile, PatchView } from '$core/views';
import { NotThere } from '../faults';
import type { Model } from '../model';

/** What is sent to see what a patch does. */
export const patchSchema = z.object({ patch: z.string().max(LONGEST_TEXT), at: patchChoices.optional() });

/** Lines that are shown of a part, and around a place. */
const MOST_LINES = 12;
const AROUND = 2;

const shortened = (lines: readonly string[]): string[] =>
	lines.length <= MOST_LINES
		? lines.map((line) => line.replace(/\n$/, ''))
		: [
				...lines.slice(0, MOST_LINES - 1).map((line) => line.replace(/\n$/, '')),
				`… ${lines.length - MOST_LINES + 1} more lines`
			];

/** The lines of the file that a patch is for, as far as it is a text. */
function linesOf(stack: Stack, path: string): string[] {
	const file = stack.mine?.files.get(path) ?? fileBelow(stack, path);
	return file?.text?.text.split(/\r\n|\n|\r/) ?? [];
}

/** What a patch does, and where its parts belong. @throws PatchFault */
export function patchView({ stack }: Model, { patch: text, at }: z.infer<typeof patchSchema>): PatchView {
	const { patch, result } = patchOn(stack, text, at);
	return {
		applied: result.applied,
		files: result.files.map((done, nth): PatchedFile => {
			const wanted = patch.files[nth]!;
			const shown = (line: number) => (wanted.of === 'bytes' ? line - 1 : line);
			const lines = done.applied || wanted.of === 'bytes' ? [] : linesOf(stack, done.path);
			return {
				path: done.path,
				of: wanted.of,
				becomes: wanted.becomes,
				applied: done.applied,
				already: done.already,
				reason: done.reason,
				parts: wanted.parts.map(({ removed, added }, part) => {
					const came = done.parts[part];
					return {
						nth: part + 1,
						applied: came?.applied ?? false,
						at: came?.line === undefined || came.line === null ? null : shown(came.line),
						likeness: came?.likeness ?? 0,
						reason: came?.reason ?? '',
						removed: shortened(removed),
						added: shortened(added),
						candidates: (came?.candidates ?? []).map(({ line, likeness }) => {
							const first = Math.max(1, line - AROUND);
							const behind = line + Math.min(removed.length, MOST_LINES) + AROUND;
							return {
								at: shown(line),
								line,
								likeness,
								lines: lines
									.slice(first - 1, behind - 1)
									.map((text, offset) => ({ number: first + offset, text }))
							};
						})
					};
				})
			};
		})
	};
}

/** Whether a file of my mod is another version of one that a layer below has. */
export const isPatchable = (stack: Stack, path: string): boolean =>
	Boolean(stack.mine?.files.has(path)) && fileBelow(stack, path) !== undefined;

/**
 * What my mod changes in files of others, as a patch.
 * @param path one of them; all without
 * @throws NotThere where there is none
 * @throws PatchFault where a patch cannot say it
 */
export function patchOfMine({ stack }: Model, path: string | null): string {
	const paths = path === null ? [...(stack.mine?.files.keys() ?? [])].sort() : [path];
	const files = paths
		.filter((one) => isPatchable(stack, one))
		.flatMap((one) => {
			const [below, own] = [fileBelow(stack, one)!, stack.mine!.files.get(one)!];
			return filePatch(one, fileContent(below), fileContent(own)) ?? [];
		});
	if (files.length === 0)
		throw new NotThere(
			path === null
				? 'Your mod changes no file that the game or another mod has, so there is nothing to make a patch of.'
				: `Your version of ${path} is not different from the one below, so there is nothing to make a patch of.`
		);
	return printPatch({ files });
}
