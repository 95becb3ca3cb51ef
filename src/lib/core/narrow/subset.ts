import {
	applySplices,
	composeSplices,
	invertSplices,
	mapSplices,
	placeMapper,
	type FileChange,
	type FileContent,
	type Plan,
	type Splice
} from '../change';
import type { TextFile } from '../text';

/** My mod's files with only some of its steps. */
export interface Chosen {
	/** By path; of files that no step touched, nothing is said. Null: not there. */
	files: Map<string, FileContent | null>;
	/** The steps that are in: those asked for, and those that they cannot do without. */
	steps: number[];
}

/** A file on its way through the steps: with all of them, and with some. */
interface Way {
	full: FileContent | null;
	part: FileContent | null;
	/** Where the part stands. */
	place: string;
	/** What leads from the one to the other; null where they are apart for good. */
	over: Splice[] | null;
	/** Steps that were left out here, with the places of the full text that they wrote. */
	out: { step: number; from: number; to: number }[];
}

const isText = (file: FileContent | null): file is TextFile => file !== null && !(file instanceof Uint8Array);

/** A step needs what another did that was left out. */
class Needs extends Error {
	constructor(readonly step: number) {
		super();
	}
}

/** @throws Needs: the last step that was left out and wrote where the change is, else the last one */
function cannot(way: Way, change: FileChange): never {
	const splices: readonly { from: number; to: number }[] = change.of === 'text' ? change.splices : [];
	const near = way.out.findLast(({ from, to }) =>
		splices.some((splice) => splice.from <= to && from <= splice.to)
	);
	throw new Needs((near ?? way.out.at(-1)!).step);
}

/** Has the places that were written by steps that are left out go along with a change. */
function follow(way: Way, change: FileChange): void {
	if (change.of !== 'text') return;
	const place = placeMapper(change.splices);
	for (const one of way.out) {
		one.from = place(one.from);
		one.to = Math.max(one.from, place(one.to, 'behind'));
	}
}

/** A change that is in. @throws Needs */
function take(way: Way, change: FileChange, after: FileContent | null): void {
	if (change.after === null) {
		Object.assign(way, { full: null, part: null, over: [] });
		return;
	}
	if (change.before === null) {
		if (way.part !== null) cannot(way, change);
		Object.assign(way, { full: after, part: after, over: [] });
	} else if (way.part === null || way.over === null) cannot(way, change);
	else if (change.of === 'text' && isText(way.part) && isText(way.full) && isText(after)) {
		const mapped = mapSplices(change.splices, way.over);
		const over = mapSplices(way.over, change.splices);
		if (mapped === null || over === null) return cannot(way, change);
		const { encoding, bom } = after;
		way.part = { ...way.part, encoding, bom, text: applySplices(way.part.text, mapped) };
		follow(way, change);
		Object.assign(way, { full: after, over });
	} else {
		// Bytes, or what changes between bytes and text: only as a whole.
		if (way.out.length > 0) cannot(way, change);
		Object.assign(way, { full: after, part: after, over: [] });
	}
	way.place = change.path;
}

/** A change that is left out. */
function leave(way: Way, change: FileChange, after: FileContent | null, step: number): void {
	const { full } = way;
	way.over =
		change.of === 'text' && way.over !== null && isText(full) && isText(after)
			? composeSplices(invertSplices(full.text, change.splices), way.over)
			: null;
	way.full = after;
	follow(way, change);
	const wrote = change.of === 'text' ? invertSplices('', change.splices) : [];
	// A file that came or went is all of it.
	if (wrote.length === 0) way.out.push({ step, from: 0, to: Infinity });
	for (const { from, to } of wrote) way.out.push({ step, from, to });
}

/** How the content with a digest is had, read as a change says. */
type ContentOf = (digest: string, change: FileChange) => FileContent;

/** A file before the first step that touches it. */
function begun(path: string, change: FileChange, contentOf: ContentOf): Way {
	const start = change.before === null ? null : contentOf(change.before, change);
	return { full: start, part: start, place: path, over: [], out: [] };
}

/** A file with all steps after a change. Of a text that is known, what the change does to it is enough. */
function afterOf({ full }: Way, change: FileChange, contentOf: ContentOf): FileContent | null {
	if (change.after === null) return null;
	if (change.of !== 'text' || change.before === null || !isText(full)) return contentOf(change.after, change);
	const { encoding, bom, splices } = change;
	return { ...full, encoding, bom, text: applySplices(full.text, splices) };
}

/** The digests of all contents that are asked for when files are made with some of the steps. */
export function digestsIn(steps: readonly Pick<Plan, 'changes'>[]): Set<string> {
	const digests = new Set<string>();
	/** Files that were touched, by whether they are known as texts by now. */
	const texts = new Map<string, boolean>();
	for (const { changes } of steps)
		for (const { path, movedFrom = path, before, after, of } of changes) {
			const isKnown = texts.has(movedFrom) ? texts.get(movedFrom)! : of === 'text';
			if (!texts.has(movedFrom) && before !== null) digests.add(before);
			if (after !== null && (of !== 'text' || before === null || !isKnown)) digests.add(after);
			texts.delete(movedFrom);
			texts.set(path, of === 'text' && after !== null);
		}
	return digests;
}

/** The files with some steps. @throws Needs */
function walk(
	steps: readonly Pick<Plan, 'changes'>[],
	chosen: ReadonlySet<number>,
	contentOf: ContentOf
): Map<string, FileContent | null> {
	const ways = new Map<string, Way>();
	const gone = new Set<string>();
	for (const [step, { changes }] of steps.entries())
		for (const change of changes) {
			const from = change.movedFrom ?? change.path;
			const way = ways.get(from) ?? begun(from, change, contentOf);
			const after = afterOf(way, change, contentOf);
			if (chosen.has(step)) take(way, change, after);
			else leave(way, change, after, step);
			if (from !== change.path) {
				ways.delete(from);
				gone.add(from);
			}
			ways.set(change.path, way);
			gone.delete(change.path);
		}
	const files = new Map<string, FileContent | null>();
	for (const path of [...gone, ...ways.keys()]) files.set(path, null);
	for (const { part, place } of ways.values()) if (part !== null) files.set(place, part);
	return files;
}

/**
 * My mod's files as they would be had only some of its steps been taken. A step that changes what another one wrote
 * takes that one along.
 * @param steps plans in the order in which they were applied, without gaps
 * @param wanted numbers of steps, from 0
 * @param contentOf the content with a digest, read as a change says
 */
export function filesWith(
	steps: readonly Pick<Plan, 'changes'>[],
	wanted: Iterable<number>,
	contentOf: ContentOf
): Chosen {
	const chosen = new Set(wanted);
	for (;;)
		try {
			const files = walk(steps, chosen, contentOf);
			return { files, steps: [...chosen].sort((a, b) => a - b) };
		} catch (fault) {
			if (!(fault instanceof Needs)) throw fault;
			chosen.add(fault.step);
		}
}
