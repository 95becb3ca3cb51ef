import * as z from 'zod';
import { applySplices, type Splice } from '../../change';
import { inShownOrder, pageLike, pageRange, pageSplices, pagesIn, type ScriptPage } from '../../scripts';
import { fileBelow, fileContent } from '../../stack';
import { textLike, toEol } from '../../text';
import { filesChanged } from '../bring';
import { NothingToDo, NotPossible, StaleValue } from '../work';
import { name, value, type Bound } from './intention';
import { wayOf } from './text';

const schema = z.object({
	do: z.literal('page'),
	path: name,
	/** Its number in the file, from 0. */
	nth: z.int().min(0),
	/** `before` and `behind` put a new page beside it, and `earlier` and `later` move it, as players see the order. */
	how: z.enum(['set', 'before', 'behind', 'earlier', 'later', 'remove']),
	title: value.nullable().optional(),
	text: value.optional(),
	/** The text that was on the screen. */
	expected: value.optional()
});

type Asked = z.infer<typeof schema>;

const called = ({ title, text }: Pick<ScriptPage, 'title' | 'text'>): string =>
	`“${title !== null && title !== '' ? title : text.length > 40 ? `${text.slice(0, 40)}…` : text}”`;

/** The page beside another as players see them. */
function neighbour(shown: readonly ScriptPage[], page: ScriptPage, by: 1 | -1): ScriptPage {
	const other = shown[shown.indexOf(page) + by];
	if (!other) throw new NothingToDo(`The page ${called(page)} is already the ${by < 0 ? 'first' : 'last'}.`);
	return other;
}

/** A page of text in a script: changed, added beside another, moved, or removed. */
export const page: Bound<typeof schema> = {
	schema,
	bound: 'changes a page of text',
	whole({ stack }, asked: Asked) {
		const { path, how } = asked;
		const guides = stack.guide.pages ?? [];
		const mine = stack.mine?.files.get(path);
		const file = mine ?? fileBelow(stack, path);
		const before = file && fileContent(file);
		if (!before || before instanceof Uint8Array) throw new NotPossible(`There is no script ${path}.`);
		const code = before.text;
		const pages = pagesIn(code, guides);
		const found = pages[asked.nth];
		if (!found) throw new NotPossible(`${path} has no page ${asked.nth + 1}.`);
		if (asked.expected !== undefined && asked.expected !== found.text)
			throw new StaleValue(`page ${called(found)}`, asked.expected, found.text);
		const guide = guides[found.by]!;
		const shown = inShownOrder(pages, guides);
		const next = { title: asked.title ?? found.title, text: asked.text ?? found.text };
		const range = pageRange(code, found);
		let splices: Splice[];
		let title: string;
		if (how === 'set') {
			splices = pageSplices(code, found, guide, next);
			if (splices.length === 0) throw new NothingToDo('Nothing to change: the page is as it was.');
			title = `Change page ${called(next)}`;
		} else if (how === 'remove') {
			splices = [{ from: range.from, to: range.to, insert: '' }];
			title = `Remove page ${called(found)}`;
		} else if (how === 'before' || how === 'behind') {
			if (next.text.trim() === '') throw new NotPossible('A page needs a text.');
			// What players see before it stands behind it in the file, where the order is reversed.
			const first = (how === 'before') !== (shown[0] !== pages[0]);
			const eol = toEol(code);
			let words = pageLike(code, found, guide, next);
			if (!range.wholeLines) words = first ? `${words} ` : ` ${words}`;
			else if (!/[\r\n]$/.test(words)) words = first ? words + eol : eol + words;
			splices = [{ from: first ? range.from : range.to, to: first ? range.from : range.to, insert: words }];
			title = `Add page ${called(next)} ${how === 'before' ? 'before' : 'after'} ${called(found)}`;
		} else {
			const other = neighbour(shown, found, how === 'earlier' ? -1 : 1);
			const [a, b] = [found.call, other.call].sort((one, two) => one.from - two.from) as [
				ScriptPage['call'],
				ScriptPage['call']
			];
			if (b.from < a.to) throw new NotPossible(`The page ${called(other)} stands inside of another call.`);
			splices = [
				{ from: a.from, to: a.to, insert: code.slice(b.from, b.to) },
				{ from: b.from, to: b.to, insert: code.slice(a.from, a.to) }
			];
			title = `Move page ${called(found)} ${how === 'earlier' ? 'before' : 'after'} ${called(other)}`;
		}
		const after = textLike(applySplices(code, splices), before, before);
		const { changes } = filesChanged(stack, new Map([[path, after]]));
		return {
			title,
			changes,
			values: [],
			notes: mine ? [] : [`${path} is now in your mod, and the game reads it ${wayOf(stack, path)}.`]
		};
	},
	words: ({ said }) => `Change a page of ${said('path')}`
};
