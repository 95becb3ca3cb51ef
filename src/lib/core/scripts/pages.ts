// Pages of text that scripts show by calls: found, written, put in, taken out, in the order in which players see them.
import type { PageGuide } from '../guide';
import type { Splice } from '../change';
import { callsIn, quotedLike, type Argument, type ScriptCall } from './calls';

/** A page that a script shows. */
export interface ScriptPage {
	/** Its number in the file, from 0. */
	nth: number;
	line: number;
	/** Null where the guide knows of none. */
	title: string | null;
	text: string;
	/** Which of the guide's statements it is by. */
	by: number;
	call: ScriptCall;
}

/** The pages of a script, in the order of the file. Calls whose title or text is not one text are left out. */
export function pagesIn(code: string, guides: readonly PageGuide[]): ScriptPage[] {
	const found = guides.flatMap((guide, by) =>
		callsIn(code, guide.call).flatMap((call): Omit<ScriptPage, 'nth'>[] => {
			const text = call.arguments[guide.text - 1]?.text;
			const title = guide.title === undefined ? null : call.arguments[guide.title - 1]?.text;
			return text === undefined || text === null || title === undefined
				? []
				: [{ line: call.line, title, text, by, call }];
		})
	);
	return found.sort((a, b) => a.call.from - b.call.from).map((page, nth) => ({ nth, ...page }));
}

/** The pages as players see them, and which stand where: those of a reversed call the last first. */
export const inShownOrder = (pages: readonly ScriptPage[], guides: readonly PageGuide[]): ScriptPage[] =>
	pages.some(({ by }) => guides[by]!.reversed) ? pages.toReversed() : [...pages];

const rewritten = (code: string, { from, to }: Argument, text: string): Splice => ({
	from,
	to,
	insert: quotedLike(text, code.slice(from, to))
});

/** What gives a page another title and text. */
export function pageSplices(
	code: string,
	{ call, title, text }: ScriptPage,
	guide: PageGuide,
	next: { title: string | null; text: string }
): Splice[] {
	const splices: Splice[] = [];
	if (guide.title !== undefined && next.title !== null && next.title !== title)
		splices.push(rewritten(code, call.arguments[guide.title - 1]!, next.title));
	if (next.text !== text) splices.push(rewritten(code, call.arguments[guide.text - 1]!, next.text));
	return splices.sort((a, b) => a.from - b.from);
}

/** All that belongs to a page in its script: its call, with its lines where nothing else stands on them. */
export function pageRange(
	code: string,
	{ call }: ScriptPage
): { from: number; to: number; wholeLines: boolean } {
	const start = code.lastIndexOf('\n', call.from - 1) + 1;
	const behind = /^[ \t;]*(?:\r\n|\n|\r|$)/.exec(code.slice(call.to));
	if (code.slice(start, call.from).trim() !== '' || !behind) return { ...call, wholeLines: false };
	return { from: start, to: call.to + behind[0].length, wholeLines: true };
}

/** The words of a new page, made like another. */
export function pageLike(
	code: string,
	page: ScriptPage,
	guide: PageGuide,
	next: { title: string | null; text: string }
): string {
	const { from, to } = pageRange(code, page);
	let words = code.slice(from, to);
	for (const { from: at, to: end, insert } of pageSplices(code, page, guide, next).reverse())
		words = words.slice(0, at - from) + insert + words.slice(end - from);
	return words;
}
