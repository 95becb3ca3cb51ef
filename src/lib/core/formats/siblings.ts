// Things that follow one another in a text, with or without separators: one goes in, out, or to another place, and
// what is between the others stays.
import type { Splice } from '../change';
import { toEol } from '../text';

/** One of them, with the commentary above it. */
export interface Sibling {
	from: number;
	to: number;
}

/** A row of siblings. */
export interface Row {
	text: string;
	items: Sibling[];
	/** The inside of what holds them, between its brackets. */
	inner: Sibling;
	/** Marks of which one is between two of them; none where each has lines of its own. */
	separators: string;
	/** End of commentary that begins at an offset; -1 where none does. */
	comment?: (text: string, at: number) => number;
	/** Whether two of them may touch. */
	touch?: boolean;
	/** What one of them is written behind when it is the first and only one: `\n\t`; guessed when absent. */
	lead?: string;
}

/** A sibling with the separator and the commentary that follow it on its line. */
interface Unit extends Sibling {
	separatorTo: number;
	trailTo: number;
}

const skipBlanks = (text: string, at: number, to: number) => {
	while (at < to && (text[at] === ' ' || text[at] === '\t')) at++;
	return at;
};

const skipSpace = (text: string, at: number, to: number) => {
	while (at < to && /\s/.test(text[at]!)) at++;
	return at;
};

function unitOf(row: Row, item: Sibling): Unit {
	const { text, inner, separators, comment } = row;
	let separatorTo = item.to;
	if (separators) {
		let at = skipSpace(text, item.to, inner.to);
		for (let end = comment?.(text, at) ?? -1; end > at; end = comment?.(text, at) ?? -1)
			at = skipSpace(text, end, inner.to);
		if (at < inner.to && separators.includes(text[at]!)) separatorTo = at + 1;
	}
	let trailTo = separatorTo;
	if (comment) {
		const at = skipBlanks(text, separatorTo, inner.to);
		const end = at < inner.to ? comment(text, at) : -1;
		if (end > at && end <= inner.to && !/[\r\n]/.test(text.slice(at, end).replace(/[\r\n]+$/, ''))) {
			const behind = skipBlanks(text, end, inner.to);
			if (behind >= inner.to || /[\r\n]/.test(text[behind]!)) trailTo = end;
		}
	}
	return { ...item, separatorTo, trailTo };
}

/** The whitespace in which a line starts: `\n\t`; empty where other things are before `at` on its line. */
export function gapBefore(text: string, at: number): string {
	let from = at;
	while (from > 0 && (text[from - 1] === ' ' || text[from - 1] === '\t')) from--;
	if (from === 0) return at === 0 ? '' : toEol(text) + text.slice(from, at);
	return /[\r\n]/.test(text[from - 1]!) ? toEol(text) + text.slice(from, at) : '';
}

/** What is between two neighbours, when it is nothing but space; else a line start like the second one's. */
function gapOf(row: Row, units: Unit[], at: number): string {
	const { text } = row;
	if (units.length === 0) return '';
	const pair = Math.min(Math.max(at, 1), units.length - 1);
	if (units.length > 1) {
		const gap = text.slice(units[pair - 1]!.trailTo, units[pair]!.from);
		if (/^\s*$/.test(gap) && (gap !== '' || row.separators || row.touch)) return gap;
		return gapBefore(text, units[pair]!.from) || (row.separators ? ' ' : toEol(text));
	}
	const own = gapBefore(text, units[0]!.from);
	if (own) return own;
	if (row.touch) return '';
	if (row.separators) return ' ';
	// The first one is after something on its line (`- a: 1`): the next begins right below it.
	const start =
		Math.max(text.lastIndexOf('\n', units[0]!.from - 1), text.lastIndexOf('\r', units[0]!.from - 1)) + 1;
	return toEol(text) + ' '.repeat(units[0]!.from - start);
}

/** Where a sibling ends with the separator and the commentary behind it. */
export const unitEnd = (row: Row, at: number): number => unitOf(row, row.items[at]!).trailTo;

/** Puts `raw` before the sibling with number `at`, or behind the last one. */
export function insertAt(row: Row, at: number, raw: string): Splice[] {
	const { text, inner, separators } = row;
	const units = row.items.map((item) => unitOf(row, item));
	const mark = separators[0]?.trim() ? separators[0] : '';
	if (units.length === 0) {
		if (row.lead !== undefined) return [{ from: inner.from, to: inner.from, insert: row.lead + raw }];
		const space = text.slice(inner.from, inner.to);
		if (!/[\r\n]/.test(space)) return [{ from: inner.from, to: inner.from, insert: raw }];
		const outer = /[ \t]*$/.exec(space)?.[0] ?? '';
		const deeper = /\n\t/.test(text) || !/\n {2}/.test(text) ? '\t' : '  ';
		return [{ from: inner.from, to: inner.from, insert: toEol(text) + outer + deeper + raw }];
	}
	if (at < units.length) {
		const start = units[at]!.from;
		return [
			{
				from: start,
				to: start,
				insert: raw + mark + gapOf(row, units, at + (units.length > 1 && at === 0 ? 1 : 0))
			}
		];
	}
	const last = units.at(-1)!;
	const gap = gapOf(row, units, units.length - 1);
	if (last.separatorTo > last.to || !mark)
		return [
			{
				from: last.trailTo,
				to: last.trailTo,
				insert: gap + raw + (mark && last.separatorTo > last.to ? mark : '')
			}
		];
	if (last.trailTo === last.to) return [{ from: last.to, to: last.to, insert: mark + gap + raw }];
	return [
		{ from: last.to, to: last.to, insert: mark },
		{ from: last.trailTo, to: last.trailTo, insert: gap + raw }
	];
}

/** Takes the sibling with number `at` out, with the separator that is too many then. Undoes `insertAt`. */
export function removeAt(row: Row, at: number): Splice[] {
	const { text, inner } = row;
	const units = row.items.map((item) => unitOf(row, item));
	const unit = units[at]!;
	if (units.length === 1) {
		const before = text.slice(inner.from, unit.from);
		const blank = /\s*$/.exec(before)![0];
		const from = /[\r\n]/.test(blank) || row.lead !== undefined ? unit.from - blank.length : unit.from;
		return [{ from, to: unit.trailTo, insert: '' }];
	}
	if (at < units.length - 1) {
		const next = units[at + 1]!.from;
		const to = Math.min(next, skipSpace(text, unit.trailTo, next));
		return [{ from: unit.from, to, insert: '' }];
	}
	const previous = units[at - 1]!;
	let from = unit.from;
	while (from > previous.trailTo && /\s/.test(text[from - 1]!)) from--;
	if (unit.separatorTo > unit.to || previous.separatorTo === previous.to)
		return [{ from, to: unit.trailTo, insert: '' }];
	if (from === previous.separatorTo) return [{ from: previous.to, to: unit.trailTo, insert: '' }];
	return [
		{ from: previous.to, to: previous.separatorTo, insert: '' },
		{ from, to: unit.trailTo, insert: '' }
	];
}

/** Takes several siblings without separators out, each with the space before the next; of the last ones that before them. */
export function removeSeveral(row: Row, places: readonly number[]): Splice[] {
	const units = row.items.map((item) => unitOf(row, item));
	const gone = new Set(places);
	const kept = units.findLastIndex((_, nth) => !gone.has(nth));
	if (kept < 0) {
		const blank = /\s*$/.exec(row.text.slice(row.inner.from, units[0]!.from))![0];
		return [{ from: units[0]!.from - blank.length, to: units.at(-1)!.trailTo, insert: '' }];
	}
	const before = [...gone].filter((nth) => nth < kept).sort((a, b) => a - b);
	const splices = before.map((nth) => ({ from: units[nth]!.from, to: units[nth + 1]!.from, insert: '' }));
	if (kept === units.length - 1) return splices;
	return [...splices, { from: units[kept]!.trailTo, to: units.at(-1)!.trailTo, insert: '' }];
}

/**
 * Moves a sibling to another place among them. Each takes its commentary along; separators and the space between
 * them stay where they are. Moving it back restores every byte.
 */
export function moveTo(row: Row, at: number, to: number): Splice[] {
	if (at === to) return [];
	const { text } = row;
	const units = row.items.map((item) => unitOf(row, item));
	const low = Math.min(at, to);
	const high = Math.max(at, to);
	const order = units.slice(low, high + 1);
	const [moved] = order.splice(at - low, 1);
	order.splice(to - low, 0, moved!);
	let out = '';
	for (let nth = low; nth <= high; nth++) {
		const place = units[nth]!;
		const unit = order[nth - low]!;
		out += text.slice(unit.from, unit.to) + text.slice(place.to, place.separatorTo);
		out += text.slice(unit.separatorTo, unit.trailTo);
		if (nth < high) out += text.slice(place.trailTo, units[nth + 1]!.from);
	}
	return [narrowed(text, { from: units[low]!.from, to: units[high]!.trailTo, insert: out })];
}

/** The same splice without what stays alike at its ends. */
export function narrowed(text: string, { from, to, insert }: Splice): Splice {
	let head = 0;
	while (head < insert.length && from + head < to && insert[head] === text[from + head]) head++;
	let tail = 0;
	while (
		tail < insert.length - head &&
		to - tail > from + head &&
		insert[insert.length - 1 - tail] === text[to - 1 - tail]
	)
		tail++;
	return { from: from + head, to: to - tail, insert: insert.slice(head, insert.length - tail) };
}

/**
 * `raw`, which was in a line that starts with `indent`, for a line that starts with `other`. Lines whose end lies
 * inside a value (told by `inValue`, from the offset of the line end in `raw`) stay as they are, ends included.
 */
export function reindent(
	raw: string,
	indent: string,
	other: string,
	eol: string,
	inValue: (at: number) => boolean = () => false
): string {
	return raw.replace(/(\r\n|\n|\r)([ \t]*)/g, (whole, _end: string, space: string, at: number) => {
		if (inValue(at)) return whole;
		return eol + (space.startsWith(indent) ? other + space.slice(indent.length) : space);
	});
}

/** The space in which the line of `at` starts. */
export function indentAt(text: string, at: number): string {
	const start = Math.max(text.lastIndexOf('\n', at - 1), text.lastIndexOf('\r', at - 1)) + 1;
	return /^[ \t]*/.exec(text.slice(start, at))![0];
}
