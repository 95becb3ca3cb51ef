// What leads from one text to another, line by line: the longest common lines stay (Myers, 1986, by the package `diff`).
import { diffArrays } from 'diff';
import { toEol } from '../text';
import { applySplices, mapSplices, type Splice } from './splice';

/** Lines that may differ before the lines between the first and the last difference are taken as one. */
const MOST_DIFFERENT = 1000;

const BREAK = /\r\n|\n|\r/;

/** The lines of a text, each with its own end. */
export const linesWithEnds = (text: string): string[] =>
	text.match(/[^\r\n]*(?:\r\n|\n|\r)|[^\r\n]+$/g) ?? [];

/** How many of two lists are the same at their start, and at their end. */
function common(a: ArrayLike<unknown>, b: ArrayLike<unknown>): [head: number, tail: number] {
	const shorter = Math.min(a.length, b.length);
	let head = 0;
	while (head < shorter && a[head] === b[head]) head++;
	let tail = 0;
	while (tail < shorter - head && a[a.length - 1 - tail] === b[b.length - 1 - tail]) tail++;
	return [head, tail];
}

/** A splice without what both sides share at their ends; it never parts the two halves of a line end or of a character. */
function narrowed(before: string, from: number, to: number, insert: string): Splice {
	const old = before.slice(from, to);
	let [head, tail] = common(old, insert);
	const parts = (text: string, at: number) =>
		at > 0 &&
		at < text.length &&
		/^(?:\r\n|[\uD800-\uDBFF][\uDC00-\uDFFF])$/.test(text.slice(at - 1, at + 1));
	while (head > 0 && (parts(old, head) || parts(insert, head))) head--;
	while (tail > 0 && (parts(old, old.length - tail) || parts(insert, insert.length - tail))) tail--;
	return { from: from + head, to: to - tail, insert: insert.slice(head, insert.length - tail) };
}

/** A run of lines of the one side in the place of some of the other: `[from, to)` of each, by number from 0. */
export interface LineRun {
	before: [number, number];
	after: [number, number];
}

/** Where two lists of lines differ, ascending. Very different ones are one run. */
export function lineRuns(before: readonly string[], after: readonly string[]): LineRun[] {
	const [head, tail] = common(before, after);
	const [old, fresh] = [before.slice(head, before.length - tail), after.slice(head, after.length - tail)];
	if (old.length === 0 && fresh.length === 0) return [];
	const parts = diffArrays(old, fresh, { maxEditLength: MOST_DIFFERENT });
	if (!parts) return [{ before: [head, before.length - tail], after: [head, after.length - tail] }];
	const found: LineRun[] = [];
	let [at, next] = [head, head];
	let open: LineRun | null = null;
	for (const { added, removed, count } of parts) {
		if (!added && !removed) {
			open = null;
			at += count;
			next += count;
			continue;
		}
		if (!open) found.push((open = { before: [at, at], after: [next, next] }));
		if (removed) open.before[1] = at += count;
		else open.after[1] = next += count;
	}
	return found;
}

/** Where each line begins, and the end of the text. */
function starts(lines: readonly string[]): number[] {
	const places = [0];
	for (const line of lines) places.push(places.at(-1)! + line.length);
	return places;
}

/** What leads from a text to another, by whole lines. */
function lineSplices(before: string, after: string): Splice[] {
	const [old, fresh] = [linesWithEnds(before), linesWithEnds(after)];
	const [at, next] = [starts(old), starts(fresh)];
	return lineRuns(old, fresh).map((hunk) => ({
		from: at[hunk.before[0]]!,
		to: at[hunk.before[1]]!,
		insert: after.slice(next[hunk.after[0]], next[hunk.after[1]])
	}));
}

/** The splices that lead from a text to another, one for each run of lines that differ. Law: applied, they give it. */
export const splicesBetween = (before: string, after: string): Splice[] =>
	before === after
		? []
		: lineSplices(before, after).map(({ from, to, insert }) => narrowed(before, from, to, insert));

/**
 * What was typed over a text, in which every line end is `\n`, with the ends that the text has: a line that stayed keeps
 * its own, a new one gets `eol`.
 * @param eol end of new lines; without it, the one that the text uses first
 */
export function withOwnEnds(before: string, typed: string, eol = toEol(before)): string {
	const old = linesWithEnds(before);
	const bare = old.map((line) => line.replace(BREAK, ''));
	const fresh = typed.split(BREAK);
	// What is after the last end is a line as well, if an empty one.
	if (old.length === 0 || BREAK.test(old.at(-1)!)) bare.push('');
	const ends = new Array<string>(fresh.length).fill(eol);
	let [at, next] = [0, 0];
	const keep = (to: number) => {
		for (; next < to; next++, at++) ends[next] = BREAK.exec(old[at] ?? '')?.[0] ?? eol;
	};
	for (const hunk of lineRuns(bare, fresh)) {
		keep(hunk.after[0]);
		at = hunk.before[1];
		next = hunk.after[1];
	}
	keep(fresh.length);
	ends[fresh.length - 1] = '';
	return fresh.map((line, nth) => line + ends[nth]!).join('');
}

/**
 * Two texts that were both made from one, as one; or the first line of it, from 1, that both changed.
 * What was put in at the same place by both counts as the same line.
 */
export function joinedTexts(began: string, mine: string, theirs: string): string | { line: number } {
	const own = lineSplices(began, mine);
	const over = lineSplices(began, theirs);
	const mapped = mapSplices(own, over);
	if (mapped) return applySplices(theirs, mapped);
	const clash = own.find((splice) => mapSplices([splice], over) === null) ?? own[0]!;
	return { line: began.slice(0, clash.from).split(BREAK).length };
}
