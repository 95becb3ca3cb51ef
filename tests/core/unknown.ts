// A game that nobody described, and a mod of mine over it.
import { checkStack, type Snag } from '$core/checks';
import { EMPTY_GUIDE, type Guide } from '$core/guide';
import { buildLinks } from '$core/links';
import { assembleStack } from '$core/model';
import type { Stack } from '$core/stack';

export const bytes = (files: Record<string, string>): Map<string, Uint8Array> =>
	new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));

/** A value as a JSON file has it. */
export const json = (value: unknown): string => `${JSON.stringify(value, null, '\t')}\n`;

export const stackOf = (
	game: Record<string, string>,
	mine: Record<string, string> = {},
	guide: Guide = EMPTY_GUIDE
): Stack =>
	assembleStack(
		[
			{ id: 'game', title: 'Game', owner: 'game', files: bytes(game) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytes(mine) }
		],
		guide
	);

export const snagsOf = (stack: Stack): Snag[] => checkStack(stack, buildLinks(stack));
