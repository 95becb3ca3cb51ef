// Where a part belongs in another version of its file: by the lines around it, then by what it stands in and between.
import { headAt, isTrivial, type Target } from './heads';
import { bare, type Part } from './parts';

/** A place that was looked at. */
export interface Candidate {
	/** Line from 1. */
	line: number;
	/** How much of what stood around the part and was in its place is there, from 0 to 1. */
	likeness: number;
}

/** Where a part belongs, or why that is not certain. */
export type Located =
	| { sure: true; line: number; likeness: number }
	| { sure: false; reason: string; candidates: Candidate[] };

/** Lines that may have been put in or taken out between those around a part. */
const SLACK = 12;
/** Places that are looked at for a part. */
const MOST_PLACES = 300;
/** A place that is less alike is none. */
const ALIKE = 0.55;
/** A place from which a part may have come, though it is much changed. */
const TRACE = 0.3;
/** How much more alike a place must be than any other, at most. */
const MARGIN = 0.25;
/** Lines right beside a part. */
const CLOSE = 2;
/** Lines beside a place that may look like it because they share the lines around it. */
const BESIDE = 4;
/** Candidates that are named. */
const NAMED = 5;

/** Texts of a line that may tell its place: strings and calls, the longest first, then the whole line. */
export function tellingTexts(line: string): string[] {
	const found = [
		...[...line.matchAll(/"[^"\\]{2,80}"|'[^'\\]{2,80}'/g)].map(([text]) => text),
		...[...line.matchAll(/[\p{L}_][\p{L}\p{N}_.:]{2,80}\(/gu)].map(([text]) => text)
	].sort((a, b) => b.length - a.length);
	const whole = line.trim();
	return /[\p{L}\p{N}]{2}/u.test(whole) && whole.length <= 120 ? [...found, whole] : found;
}

const standing = new WeakMap<Target, Map<string, number>>();

/** The line of a telling text that stands in one line only; null for others. */
export function lineOf(target: Target, text: string): number | null {
	let lines = standing.get(target);
	if (!lines) {
		standing.set(target, (lines = new Map()));
		for (const [nth, line] of target.texts.entries())
			for (const one of new Set(tellingTexts(line))) lines.set(one, lines.has(one) ? -1 : nth);
	}
	const line = lines.get(text) ?? -1;
	return line < 0 ? null : line;
}

/** How many lines from a run on have to be as they were, for it to be sure between what it stood: up to one that tells. */
function tellingLines(lines: readonly string[]): number {
	const nth = lines.findIndex((line) => !isTrivial(bare(line)));
	return nth < 0 ? lines.length : nth + 1;
}

/** How much a line says about its place: little where it is short or frequent. */
function weigher({ at }: Target): (line: string) => number {
	return (line) => {
		const text = bare(line);
		if (isTrivial(text)) return 0.1;
		return 1 / Math.sqrt(Math.max(1, at.get(text)?.length ?? 1));
	};
}

/** The heaviest common subsequence of lines and a stretch of a file, by its weight. */
function shared(lines: readonly string[], weights: readonly number[], stretch: readonly string[]): number {
	let row = new Float64Array(stretch.length + 1);
	lines.forEach((line, nth) => {
		const text = bare(line);
		const next = new Float64Array(stretch.length + 1);
		for (let at = 0; at < stretch.length; at++)
			next[at + 1] = Math.max(next[at]!, row[at + 1]!, stretch[at] === text ? row[at]! + weights[nth]! : 0);
		row = next;
	});
	return row[stretch.length]!;
}

/** What a heading calls that which it opens: the name before its arguments, else all of it. */
const nameOf = (heading: string): string =>
	/[\p{L}_][\p{L}\p{N}_.:]*(?=\s*\()/u.exec(heading)?.[0] ?? heading;

const headings = new WeakMap<Target, Set<string>>();

/** Whether what a part stood in is gone. */
const isGone = ({ anchor }: Part, target: Target): boolean => {
	if (anchor === null || anchor.in === null) return false;
	let names = headings.get(target);
	if (!names) {
		names = new Set(
			target.texts.filter((_, nth) => target.depths[nth]! >= 0).map((text) => nameOf(text.trim()))
		);
		headings.set(target, names);
	}
	return !names.has(nameOf(anchor.in));
};

interface Place extends Candidate {
	at: number;
	/** How alike it is if only what stands around the part counts, where that is more: the part itself may have changed. */
	danger: number;
	/** How alike it is if only what stands around the part counts. */
	around: number;
	/** The part can be put there: all that it takes away is there, and nothing is between what it is put between. */
	fits: boolean;
	/** All that stood around it is there, line by line. */
	exact: boolean;
	/** The lines right beside it are there. */
	close: boolean;
	/** It stands between the texts that it stood between; null where none of them is known any more. */
	between: boolean | null;
	/** The nearest of these texts are known on both sides. */
	tight: boolean;
	/** Number of the line that opens what it stands in. */
	head: number | null;
	/** It stands in what it stood in; null where it stood in nothing. */
	inside: boolean | null;
}

const same = (lines: readonly string[], texts: readonly string[], from: number): boolean =>
	from >= 0 && lines.every((line, nth) => texts[from + nth] === bare(line));

/** A line that a part stood above or below of. */
interface Bound {
	line: number;
	/** It is the nearest of those that were kept. */
	nearest: boolean;
}

/** Between which lines a part stood, as far as they are still known. */
function bounds(target: Target, { anchor }: Part): { above: Bound | null; below: Bound | null } {
	const first = (texts: readonly string[]): Bound | null => {
		for (const [nth, text] of texts.entries()) {
			const line = lineOf(target, text);
			if (line !== null) return { line, nearest: nth === 0 };
		}
		return null;
	};
	return { above: first(anchor?.above ?? []), below: first(anchor?.below ?? []) };
}

/** Places at which one of a part's lines would stand as far from it as it stood. */
function placesFor({ above, removed, below }: Part, { texts, at }: Target): number[] {
	const votes = new Map<number, number>();
	const vote = (line: string, offset: number) => {
		const found = at.get(bare(line)) ?? [];
		if (found.length > MOST_PLACES) return;
		for (const place of found) {
			const start = place - offset;
			if (start >= 0 && start <= texts.length) votes.set(start, (votes.get(start) ?? 0) + 1 / found.length);
		}
	};
	above.forEach((line, nth) => vote(line, nth - above.length));
	removed.forEach((line, nth) => vote(line, nth));
	below.forEach((line, nth) => vote(line, removed.length + nth));
	if (above.length === 0) votes.set(0, votes.get(0) ?? 0);
	if (below.length === 0) {
		const last = Math.max(0, texts.length - removed.length);
		votes.set(last, votes.get(last) ?? 0);
	}
	return [...votes]
		.sort(([, a], [, b]) => b - a)
		.slice(0, MOST_PLACES)
		.map(([place]) => place);
}

/** All places that have anything of what stood around a part, the most alike first. */
function compared(part: Part, target: Target): Place[] {
	const { above, removed, below, anchor } = part;
	const { texts, lines } = target;
	const weight = weigher(target);
	const weights = { above: above.map(weight), removed: removed.map(weight), below: below.map(weight) };
	const sum = (list: readonly number[]) => list.reduce((before, one) => before + one, 0);
	const ownAll = sum(weights.removed);
	const all = sum(weights.above) + ownAll + sum(weights.below);
	const near = { above: tellingLines(above.toReversed()), below: tellingLines(below) };
	const ends = bounds(target, part);
	const name = anchor === null || anchor.in === null ? null : nameOf(anchor.in);
	return placesFor(part, target)
		.map((at): Place => {
			const behind = at + removed.length;
			const head = headAt(target, at, part);
			const there = removed.every((line, nth) => lines[at + nth] === line);
			const beside =
				(above.length === 0 ? at === 0 : same(above.slice(-near.above), texts, at - near.above)) &&
				(below.length === 0 ? behind === texts.length : same(below.slice(0, near.below), texts, behind));
			const own = removed.reduce(
				(sum, line, nth) => sum + (texts[at + nth] === bare(line) ? weights.removed[nth]! : 0),
				0
			);
			const around =
				shared(above, weights.above, texts.slice(Math.max(0, at - above.length - SLACK), at)) +
				shared(below, weights.below, texts.slice(behind, behind + below.length + SLACK));
			const likeness = all === 0 ? (texts.length === 0 ? 1 : 0) : Math.min(1, (own + around) / all);
			const aroundIt = all === ownAll ? 0 : Math.min(1, around / (all - ownAll));
			return {
				at,
				line: at + 1,
				likeness,
				danger: Math.max(likeness, aroundIt),
				around: aroundIt,
				fits: there && (removed.length > 0 || beside),
				exact: there && beside && same(above, texts, at - above.length) && same(below, texts, behind),
				close:
					beside &&
					same(above.slice(-CLOSE), texts, at - Math.min(CLOSE, above.length)) &&
					same(below.slice(0, CLOSE), texts, behind),
				between:
					ends.above === null && ends.below === null
						? null
						: (ends.above === null || ends.above.line < at) &&
							(ends.below === null || ends.below.line >= behind),
				tight: ends.above?.nearest === true && ends.below?.nearest === true,
				head,
				inside: name === null ? null : head !== null && nameOf(texts[head]!.trim()) === name
			};
		})
		.sort(
			(a, b) =>
				b.likeness - a.likeness ||
				Number(b.fits) - Number(a.fits) ||
				Number(b.close) - Number(a.close) ||
				a.at - b.at
		);
}

/** The most alike places; of those that lie next to each other only the first, unless the part would fit there. */
function candidatesOf(places: readonly Place[]): Candidate[] {
	const named: Place[] = [];
	for (const one of places) {
		if (named.length === NAMED || one.likeness < TRACE) break;
		if (one.fits || named.every(({ at }) => Math.abs(at - one.at) > SLACK)) named.push(one);
	}
	return named.map(({ line, likeness }) => ({ line, likeness: Math.round(likeness * 1000) / 1000 }));
}

/**
 * Places that a place may be mistaken for. A line or two beside a place where all is as it was right beside the part, or
 * where more of it is, is no other place: it only shares the lines around it.
 */
const rivalsOf = (own: Place, places: readonly Place[]): Place[] =>
	places.filter(
		(one) =>
			one !== own &&
			(one.fits || Math.abs(one.at - own.at) > BESIDE || (!own.close && one.around >= own.around))
	);

/** How alike the most similar place is that is not the part's own, in the file that the part was made from. */
export function rivalOf(part: Part, target: Target): number {
	const places = compared(part, target);
	const own = places.find(({ at }) => at === part.line - 1);
	return Math.max(0, ...(own ? rivalsOf(own, places) : places).map(({ danger }) => danger));
}

/**
 * Where a part belongs. Certain only where one place is clearly more alike than all others, those included in which the
 * part would not fit any more: then the place may have changed and the other be one that looks like it.
 */
export function locate(part: Part, target: Target): Located {
	const places = compared(part, target);
	const refused = (reason: string): Located => ({ sure: false, reason, candidates: candidatesOf(places) });
	const fitting = places.filter(({ fits, likeness }) => fits && likeness >= ALIKE);
	const best = fitting[0];
	if (!best) {
		if (!places.some(({ likeness }) => likeness >= TRACE))
			return refused('Nothing in the file is like the lines around it.');
		return refused(
			places.some(({ fits }) => fits)
				? 'Too many of the lines around it have changed.'
				: part.removed.length > 0
					? 'The lines that it changes are not as they were.'
					: 'Other lines are now where its lines belong.'
		);
	}
	const rival = part.anchor?.rival ?? null;
	const margin = rival === null ? 0.1 : Math.min(MARGIN, (1 - rival) / 2);
	const rivals = rivalsOf(best, places);
	const near = rivals.filter(({ danger }) => danger > best.likeness - margin);
	// Two functions of one name: which of them is meant nobody knows, if both would do.
	const namesake = rivals.some(
		(one) => one.inside === true && one.head !== best.head && one.fits && one.likeness >= TRACE
	);
	const alone =
		!namesake &&
		(near.length === 0 || (best.exact && near.every(({ exact, danger }) => !exact && danger < 1)));
	const enough = rival === null ? best.exact : best.likeness >= rival + margin;
	const gone = isGone(part, target);
	/** All that stood around it is there, between the same texts: what it stood in was only given another name. */
	const held = (one: Place) => one.exact && one.between === true && one.tight;
	const mayBeFrom = (one: Place) => one !== best && one.likeness >= TRACE;
	const elsewhere =
		(best.between === false &&
			(!best.exact || places.some((one) => mayBeFrom(one) && one.between === true))) ||
		(best.inside === false && !(gone && held(best)));
	if (alone && enough && !elsewhere && margin > 0)
		return { sure: true, line: best.line, likeness: best.likeness };
	// Several places that look alike: the one between the same texts and in the same function, if only one is.
	const placed = (one: Place) => one.between === true && (one.inside !== false || (gone && held(one)));
	const told = places.filter((one) => one.likeness >= TRACE && placed(one));
	const only = told.find(({ fits, likeness }) => fits && likeness >= ALIKE);
	const bounded = (part.anchor?.above.length ?? 0) > 0 && (part.anchor?.below.length ?? 0) > 0;
	// Where the nearest of them is gone, what the part stood in may be gone with it.
	if (bounded && only && (only.tight || only.exact) && rivalsOf(only, told).length === 0)
		return { sure: true, line: only.line, likeness: only.likeness };
	return refused(
		elsewhere
			? 'The lines are there, but not where they were: where they stood is something else.'
			: near.length > 0
				? 'Several places look alike.'
				: 'Too many of the lines around it have changed.'
	);
}
