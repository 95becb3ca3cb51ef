import * as z from 'zod';
import { applySplices } from '../../change';
import { literalAs, LiteralFault, literalsIn } from '../../scripts';
import { fileBelow, fileContent } from '../../stack';
import { textLike } from '../../text';
import { filesChanged } from '../bring';
import { NothingToDo, NotPossible, StaleValue } from '../work';
import { name, value, type Bound } from './intention';
import { wayOf } from './text';

const schema = z.object({
	do: z.literal('literal'),
	path: name,
	/** Its number in the script, from 0. */
	nth: z.int().min(0),
	value,
	/** As it was written on the screen, with quotes. */
	expected: value
});

/** A number or a text inside a script gets another value. */
export const literal: Bound<typeof schema> = {
	schema,
	bound: 'changes a number or text in a script',
	whole({ stack }, { path, nth, value: wanted, expected }) {
		const mine = stack.mine?.files.get(path);
		const file = mine ?? fileBelow(stack, path);
		const before = file && fileContent(file);
		if (!before || before instanceof Uint8Array) throw new NotPossible(`There is no script ${path}.`);
		const found = literalsIn(before.text)[nth];
		if (found?.raw !== expected)
			throw new StaleValue(`${path}, value ${nth + 1}`, expected, found?.raw ?? null);
		let insert: string;
		try {
			insert = literalAs(before.text, found, wanted);
		} catch (error) {
			throw error instanceof LiteralFault ? new NotPossible(error.message) : error;
		}
		if (insert === found.raw) throw new NothingToDo('Nothing to change: that is its value already.');
		const after = textLike(
			applySplices(before.text, [{ from: found.from, to: found.to, insert }]),
			before,
			before
		);
		const { changes, values } = filesChanged(stack, new Map([[path, after]]));
		const where = found.in === null ? `line ${found.line}` : `${found.in}()`;
		return {
			title: `Set ${found.raw} in ${where} of ${path} to ${insert}`,
			changes,
			values,
			notes: mine ? [] : [`${path} is now in your mod, and the game reads it ${wayOf(stack, path)}.`]
		};
	},
	words: ({ said }) => `Set a value in ${said('path')} to ${said('value')}`
};
