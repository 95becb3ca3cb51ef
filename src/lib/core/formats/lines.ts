import { toEol } from '../text';
import type { Splice } from '../change';
import { EditRefused, type TextDocument, type TextFormat, type RecordNode } from './document';
import { homeOf } from './parts';
import { moveTo } from './siblings';

const isBreak = (char: string | undefined) => char === '\n' || char === '\r';

/** Where a mark is in `[from, to)`; -1 where it does not. What is after is not looked at, however far it is. */
export function indexWithin(text: string, mark: string, from: number, to: number): number {
	const at = text.slice(from, to).indexOf(mark);
	return at < 0 ? -1 : from + at;
}

/** End of the line that holds `at`, before its line end. */
export function lineEnd(text: string, at: number): number {
	for (; at < text.length; at++) {
		const code = text.charCodeAt(at);
		if (code === 10 || code === 13) break;
	}
	return at;
}

/** End of what is on the line that holds `at`, without the space behind it: where commentary ends. */
export function contentLineEnd(text: string, at: number): number {
	let end = lineEnd(text, at);
	while (end > at && (text.charCodeAt(end - 1) === 32 || text.charCodeAt(end - 1) === 9)) end--;
	return end;
}

/** Start of the next line after `at`. */
export function nextLine(text: string, at: number): number {
	const end = lineEnd(text, at);
	if (end >= text.length) return text.length;
	return text[end] === '\r' && text[end + 1] === '\n' ? end + 2 : end + 1;
}

/** Offset behind the last line that is not blank, before its line end. */
export function contentEnd(text: string, before = text.length): number {
	let at = before;
	while (at > 0 && /\s/.test(text[at - 1]!)) at--;
	return at === 0 ? 0 : lineEnd(text, at);
}

/**
 * Puts lines behind the last record (or the last line that is not blank), with `gap` blank lines between.
 * What follows stays, also the absence of a final line end. Line ends inside `body` become the file's, unless they are
 * part of its values (`verbatim`).
 */
export function insertLines(doc: TextDocument, body: string, gap: number, verbatim = false): Splice[] {
	const eol = toEol(/[\r\n]/.test(doc.content) ? doc.content : body);
	const last = doc.records.at(-1);
	const at = last ? last.to : contentEnd(doc.content);
	const lines = verbatim ? body : body.replace(/\r\n|\n|\r/g, eol);
	if (at === 0) return [{ from: 0, to: 0, insert: doc.content.length > 0 ? lines : lines + eol }];
	return [{ from: at, to: at, insert: eol.repeat(1 + gap) + lines }];
}

/**
 * Takes a record's lines out, with the line ends and blank lines before it; those behind it when it is the first
 * thing in the file. Inverse of `insertLines`.
 */
export function removeLines(doc: TextDocument, record: RecordNode): Splice[] {
	let from = record.from;
	while (from > 0 && isBreak(doc.content[from - 1])) from--;
	if (from > 0) return [{ from, to: record.to, insert: '' }];
	let to = record.to;
	while (to < doc.content.length && isBreak(doc.content[to])) to++;
	return [{ from: 0, to, insert: '' }];
}

/** Moves a record among the others of a file of lines; what is between them stays. @throws EditRefused */
export function moveLines(whole: TextDocument, record: RecordNode, to: number): Splice[] {
	const doc = homeOf(whole, record);
	if (!doc.records[to]) throw new EditRefused(`There is no place ${to + 1} among the records.`);
	const items = doc.records.map(({ from, to: end }) => ({ from, to: end }));
	const row = { text: doc.content, items, inner: { from: 0, to: doc.content.length }, separators: '' };
	return moveTo(row, doc.records.indexOf(record), to);
}

const noList = (): never => {
	throw new EditRefused('A record of this file holds single values only, no lists.');
};

/** List edits of formats that have no lists. */
export const NO_LISTS: Pick<TextFormat, 'insertItem' | 'removeItem' | 'moveItem'> = {
	insertItem: noList,
	removeItem: noList,
	moveItem: noList
};
