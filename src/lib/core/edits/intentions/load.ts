import * as z from 'zod';
import { linesWithEnds } from '../../change';
import { loadingOf } from '../../links';
import { fileContent, type Stack } from '../../stack';
import { textLike, toEol, type TextFile } from '../../text';
import { filesChanged } from '../bring';
import { lineLike } from '../hooked';
import { NothingToDo, NotPossible } from '../work';
import { name, type Bound } from './intention';
import { wayOf } from './text';

const schema = z.object({ do: z.literal('load'), path: name });

/** The script into which a load goes: the first that loads others, and the line of its last load of one beside it. */
function placeFor(stack: Stack, path: string): { into: string; line: number; text: string; found: string } {
	const { loads, entries } = loadingOf(stack);
	const folder = path.slice(0, path.lastIndexOf('/') + 1);
	for (const into of entries)
		for (const load of [...loads.get(into)!].reverse())
			if (load.path?.startsWith(folder) && !load.path.slice(folder.length).includes('/'))
				return { into, line: load.line, text: load.text, found: load.path };
	throw new NotPossible(`No script loads others from the folder of ${path}, so there is no line to copy.`);
}

/**
 * The script that loads the neighbours of another, with a line for it: like the last of these, with its own name.
 * @throws NotPossible where no script loads others from that folder, or the line cannot be copied
 */
export function withLoad(stack: Stack, path: string): { into: string; next: TextFile; notes: string[] } {
	const { scripts } = loadingOf(stack);
	const { into, line, text, found } = placeFor(stack, path);
	const mine = stack.mine?.files.get(into);
	const file = mine ?? scripts.find((script) => script.path === into)!.layer.files.get(into)!;
	const before = fileContent(file);
	if (before instanceof Uint8Array) throw new NotPossible(`${into} is not a text.`);
	const lines = linesWithEnds(before.text);
	const model = lines[line - 1]!;
	const own = lineLike(model, text, found, path);
	if (own === null)
		throw new NotPossible(`Line ${line} of ${into} cannot be copied for ${path}; edit it by hand.`);
	const end = /[\r\n]$/.test(model) ? '' : toEol(before.text);
	return {
		into,
		next: textLike(lines.toSpliced(line, 0, end + own).join(''), before, before),
		notes: [
			`${into}: adds a line after the one for ${found}: ${own.trim()}`,
			...(mine ? [] : [`${into} is now in your mod, and the game reads it ${wayOf(stack, into)}.`])
		]
	};
}

/** A script is loaded by the one that loads its neighbours. */
export const load: Bound<typeof schema> = {
	schema,
	bound: 'has a script loaded',
	whole({ stack }, { path }) {
		const { call, unloaded, scripts } = loadingOf(stack);
		if (call === null) throw new NotPossible('No call that loads scripts was found in this game.');
		if (!scripts.some((script) => script.path === path)) throw new NotPossible(`There is no script ${path}.`);
		if (!unloaded.includes(path)) throw new NothingToDo(`${path} is loaded already.`);
		const { into, next, notes } = withLoad(stack, path);
		const { changes, values } = filesChanged(stack, new Map([[into, next]]));
		return { title: `Load ${path} in ${into}`, changes, values, notes };
	},
	words: ({ said }) => `Load ${said('path')}`
};
