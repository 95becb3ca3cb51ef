import * as z from 'zod';
import { applySplices, type FileContent } from '../../change';
import { eventsOf, scriptsOf } from '../../links';
import { NameFault, renamed, variableAt, variablesIn } from '../../scripts';
import { fileBelow, fileContent, type Stack } from '../../stack';
import { lineIndex, textLike, type TextFile } from '../../text';
import { counted } from '../../wording';
import { filesChanged } from '../bring';
import { NothingToDo, NotPossible } from '../work';
import { name, type Bound } from './intention';

const schema = z.object({
	do: z.literal('variable'),
	path: name,
	/** Where the name stands: line and column from 1. */
	line: z.int().min(1),
	column: z.int().min(1),
	/** The name that was on the screen, and the new one. */
	expected: name,
	to: name
});

function textOf(stack: Stack, path: string): TextFile {
	const file = stack.mine?.files.get(path) ?? fileBelow(stack, path);
	const content = file && fileContent(file);
	if (!content || content instanceof Uint8Array) throw new NotPossible(`There is no script ${path}.`);
	return content;
}

/** The scripts in which a global name stands, with another name in each. @throws NotPossible, NameFault */
function everywhere(stack: Stack, from: string, to: string): Map<string, FileContent> {
	const next = new Map<string, FileContent>();
	for (const { path } of scriptsOf(stack)) {
		if (!/\.lua$/i.test(path)) continue;
		const file = textOf(stack, path);
		if (!file.text.includes(from) && !file.text.includes(to)) continue;
		const variables = variablesIn(file.text);
		if (!variables)
			throw new NotPossible(
				`${path} has a fault, so it is not known whether it uses “${from}”. Correct it first.`
			);
		const global = (wanted: string) => variables.find((one) => !one.local && one.name === wanted);
		if (global(to)) throw new NotPossible(`“${to}” is already used in ${path}.`);
		const found = global(from);
		if (found) next.set(path, textLike(applySplices(file.text, renamed(file.text, found, to)), file, file));
	}
	return next;
}

/** A variable or function of scripts gets another name wherever it is meant. */
export const renameVariable: Bound<typeof schema> = {
	schema,
	bound: 'renames a name in scripts',
	whole({ stack }, { path, line, column, expected, to }) {
		const file = textOf(stack, path);
		const variables = variablesIn(file.text);
		if (!variables) throw new NotPossible(`${path} has a fault; correct it before a name is changed.`);
		const place = (lineIndex(file.text)[line - 1] ?? file.text.length) + column - 1;
		const found = variableAt(variables, place);
		if (found?.name !== expected)
			throw new NotPossible(`There is no name “${expected}” at line ${line} of ${path}.`);
		if (expected === to) throw new NothingToDo('Nothing to change: that is its name already.');
		const notes: string[] = [];
		let next: Map<string, FileContent>;
		try {
			next = found.local
				? new Map([[path, textLike(applySplices(file.text, renamed(file.text, found, to)), file, file)]])
				: everywhere(stack, expected, to);
		} catch (error) {
			throw error instanceof NameFault ? new NotPossible(error.message) : error;
		}
		if (
			!found.local &&
			eventsOf(stack).some(({ answers }) => answers.some((answer) => answer.name === expected))
		)
			notes.push(
				`The game may ask for “${expected}” by this name; under another one it would no longer be asked.`
			);
		const { changes, values } = filesChanged(stack, next);
		const places = found.local ? counted(found.at.length, 'place') : counted(next.size, 'script');
		return { title: `Rename ${expected} to ${to} in ${places}`, changes, values, notes };
	},
	words: ({ said }) => `Rename ${said('expected')} to ${said('to')}`
};
