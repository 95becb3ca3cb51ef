import { digestOf, encode, textLike, type Encoding, type TextFile } from '../text';
import { applySplices, invertSplices, type Splice } from './splice';

/** The files of the layer that is edited, by path from its root. */
export type Files = ReadonlyMap<string, TextFile>;

/** What happens to one file. A file that is absent counts as an empty text with no digest. */
export interface FileChange {
	path: string;
	/** SHA-256 of the bytes before and after; null where the file is absent. */
	before: string | null;
	after: string | null;
	/** How the new bytes are written. */
	encoding: Encoding;
	bom: boolean;
	splices: Splice[];
	/** The file is no text: it is replaced as a whole, and known by its digests. */
	whole?: true;
}

/** What follows by itself from a change: each sort can be declined. */
export const FOLLOW_SORTS = [
	'derived',
	'text',
	'twin',
	'pair',
	'list',
	'asset',
	'counter',
	'reference',
	'script'
] as const;
export type FollowSort = (typeof FOLLOW_SORTS)[number];

/** One value before and after, for people. */
export interface ValueChange {
	kind: string;
	id: string;
	/** Shown name of the record, where it has one. */
	name: string;
	field: string;
	before: string | null;
	after: string | null;
	/** Why this one changes too, when it was not asked for itself. */
	follows?: string;
	/** What sort of following that is. */
	by?: FollowSort;
}

/** What one operation does. It can be shown, applied in one go, and taken back. */
export interface Plan {
	title: string;
	changes: FileChange[];
	values: ValueChange[];
	/** Sentences on how it is written and what to know before. */
	notes: string[];
	/** What seems to follow, and was only detected: it is left alone unless it is asked for. */
	detected?: { by: FollowSort; count: number }[];
}

/** A file is not as the plan found it: nothing of the plan was done. */
export class ChangedUnderneath extends Error {
	constructor(readonly path: string) {
		super(`${path} was changed meanwhile. Nothing was written; look at the plan again.`);
	}
}

const fileDigest = (file: TextFile | undefined) => (file ? digestOf(encode(file)) : null);

/** The change from one state of a file to another; `splices` must lead from the first text to the second. */
export function changeOf(
	path: string,
	before: TextFile | undefined,
	after: TextFile | undefined,
	splices: Splice[]
): FileChange {
	const kept = after ?? before;
	const noText = [before, after].some((file) => file?.text.includes('\0'));
	return {
		path,
		before: fileDigest(before),
		after: fileDigest(after),
		encoding: kept?.encoding ?? 'utf-8',
		bom: kept?.bom ?? false,
		splices,
		...(noText ? { whole: true } : {})
	};
}

/** The plan without the contents of files that are no texts: enough to show it, and to take it back by digest. */
export const leanPlan = (plan: Plan): Plan => ({
	...plan,
	changes: plan.changes.map((change) => (change.whole ? { ...change, splices: [] } : change))
});

function applyOne(files: Map<string, TextFile>, change: FileChange): void {
	const present = files.get(change.path);
	if (fileDigest(present) !== change.before) throw new ChangedUnderneath(change.path);
	if (change.after === null) {
		files.delete(change.path);
		return;
	}
	const next = textLike(applySplices(present?.text ?? '', change.splices), change, present);
	if (fileDigest(next) !== change.after) throw new ChangedUnderneath(change.path);
	files.set(change.path, next);
}

/**
 * The files after the plan: all of it or none.
 * @throws ChangedUnderneath when a file is not the one the plan was made for.
 */
export function applyPlan(files: Files, plan: Pick<Plan, 'changes'>): Files {
	const next = new Map(files);
	for (const change of plan.changes) applyOne(next, change);
	return next;
}

/** The plan that takes it back. `files` are those before the plan. Law: apply, then apply the inverse, is the identity on bytes. */
export function invertPlan(files: Files, plan: Plan): Plan {
	const changes = plan.changes.map((change): FileChange => {
		const present = files.get(change.path);
		return {
			path: change.path,
			before: change.after,
			after: change.before,
			encoding: present?.encoding ?? change.encoding,
			bom: present?.bom ?? change.bom,
			splices: invertSplices(present?.text ?? '', change.splices),
			...(change.whole ? { whole: true } : {})
		};
	});
	const values = plan.values.map((value) => ({ ...value, before: value.after, after: value.before }));
	return {
		title: `Take back: ${plan.title}`,
		changes: changes.reverse(),
		values: values.reverse(),
		notes: []
	};
}
