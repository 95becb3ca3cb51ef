import { digestOf, encode, textLike, type Encoding, type TextFile } from '../text';
import { applySplices, invertSplices, type Content, type Splice } from './splice';

/** What a file of a layer holds: a text with all that is needed to write it again, or bytes that are no text. */
export type FileContent = TextFile | Uint8Array;

/** The files of a layer, by path from its root. */
export type Files = ReadonlyMap<string, FileContent>;

/** What happens to one file. A file that is absent counts as an empty one with no digest. */
interface Changed {
	path: string;
	/** Where the file was before, when it is moved. */
	movedFrom?: string;
	/** SHA-256 of the bytes before and after; null where the file is absent. */
	before: string | null;
	after: string | null;
}

/** A text that is changed. */
export interface TextChange extends Changed {
	of: 'text';
	/** How the new bytes are written. */
	encoding: Encoding;
	bom: boolean;
	splices: Splice[];
}

/** Bytes that are changed, or a text that becomes bytes and the other way round. */
export interface BytesChange extends Changed {
	of: 'bytes';
	/** Null where the file is replaced as a whole and is known by its digests. */
	splices: Splice<Uint8Array>[] | null;
}

export type FileChange = TextChange | BytesChange;

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
	follows?: string | undefined;
	/** What sort of following that is. */
	by?: FollowSort | undefined;
}

/** What one operation does. It can be shown, applied in one go, and undone. */
export interface Plan {
	title: string;
	changes: FileChange[];
	values: ValueChange[];
	/** Sentences on how it is written and what to know before. */
	notes: string[];
	/** What seems to follow, and was only detected: it is left alone unless it is asked for. */
	detected?: { by: FollowSort; count: number }[] | undefined;
}

/** A file is not as the plan found it: nothing of the plan was done. */
export class ChangedUnderneath extends Error {
	constructor(readonly path: string) {
		super(`${path} has changed in the meantime. Nothing was written; check the plan again.`);
	}
}

/** The bytes of a file. @throws Unwritable */
export const bytesOf = (file: FileContent): Uint8Array => (file instanceof Uint8Array ? file : encode(file));

/** What splices of a file speak of: its text, or its bytes. */
export const contentOf = (file: FileContent): Content => (file instanceof Uint8Array ? file : file.text);

const fileDigest = (file: FileContent | undefined) => (file ? digestOf(bytesOf(file)) : null);

const NONE = new Uint8Array(0);

/** The one splice that puts all of a file in the place of all that was there. */
const asWhole = (before: FileContent | undefined, after: FileContent | undefined): Splice<Uint8Array>[] => [
	{ from: 0, to: before ? bytesOf(before).length : 0, insert: after ? bytesOf(after) : NONE }
];

/**
 * The change from one state of a file to another.
 * @param splices lead from the first content to the second; not needed where they are bytes or change into them: then
 * the file is replaced as a whole
 * @param movedFrom where the file was before, if that is another path
 */
export function changeOf(
	path: string,
	before: FileContent | undefined,
	after: FileContent | undefined,
	splices: readonly Splice<Content>[] | null,
	movedFrom?: string
): FileChange {
	const about = {
		path,
		before: fileDigest(before),
		after: fileDigest(after),
		...(movedFrom === undefined || movedFrom === path ? {} : { movedFrom })
	};
	const files = [before, after].filter((file) => file !== undefined);
	const kept = files.at(-1);
	if (kept && files.every((file): file is TextFile => !(file instanceof Uint8Array))) {
		const { encoding, bom } = kept as TextFile;
		return { ...about, of: 'text', encoding, bom, splices: splices as Splice[] };
	}
	const bytes = files.every((file) => file instanceof Uint8Array) && splices !== null;
	return {
		...about,
		of: 'bytes',
		splices: bytes ? (splices as Splice<Uint8Array>[]) : asWhole(before, after)
	};
}

/** What becomes of a file: there for the first time, gone, at another place, or another content under its name. */
export type Becomes = 'new' | 'gone' | 'moved' | 'changed' | 'replaced';

/** What a change does to its file. */
export function becomesOf({
	before,
	after,
	movedFrom,
	of,
	splices
}: Pick<FileChange, 'before' | 'after' | 'of'> & {
	movedFrom?: string | undefined;
	splices: unknown[] | null;
}): Becomes {
	if (movedFrom !== undefined) return 'moved';
	if (before === null) return 'new';
	if (after === null) return 'gone';
	return of === 'bytes' && splices === null ? 'replaced' : 'changed';
}

/** Bytes up to which splices of bytes are kept with a plan; what is larger is known by its digests. */
const KEPT = 16 * 1024;

/** The plan without large contents of files that are no texts: enough to show it, and to take it back by digest. */
export const leanPlan = (plan: Plan): Plan => ({
	...plan,
	changes: plan.changes.map((change) =>
		change.of === 'bytes' &&
		(change.splices === null ||
			change.before === null ||
			change.after === null ||
			change.splices.reduce((sum, { insert }) => sum + insert.length, 0) > KEPT)
			? { ...change, splices: null }
			: change
	)
});

/** The content after a change of it. */
function changed(present: FileContent | undefined, change: FileChange): FileContent {
	if (change.of === 'text') {
		const known = present instanceof Uint8Array ? undefined : present;
		return textLike(applySplices(known?.text ?? '', change.splices), change, known);
	}
	if (change.splices === null) throw new ChangedUnderneath(change.path);
	return applySplices(present ? bytesOf(present) : NONE, change.splices);
}

function applyOne(files: Map<string, FileContent>, change: FileChange): void {
	const { path, movedFrom = path, before, after } = change;
	const present = files.get(movedFrom);
	if (fileDigest(present) !== before) throw new ChangedUnderneath(movedFrom);
	if (movedFrom !== path) {
		if (files.has(path)) throw new ChangedUnderneath(path);
		files.delete(movedFrom);
	}
	if (after === null) {
		files.delete(path);
		return;
	}
	const next = changed(present, change);
	if (fileDigest(next) !== after) throw new ChangedUnderneath(path);
	files.set(path, next);
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

/** The change that takes one back. @param present the file before it */
function invertChange(present: FileContent | undefined, change: FileChange): FileChange {
	const { path, movedFrom, ...rest } = change;
	const about = {
		...(movedFrom === undefined ? { path } : { path: movedFrom, movedFrom: path }),
		before: rest.after,
		after: rest.before
	};
	if (rest.of === 'text') {
		const known = present instanceof Uint8Array ? undefined : present;
		return {
			...about,
			of: 'text',
			encoding: known?.encoding ?? rest.encoding,
			bom: known?.bom ?? rest.bom,
			splices: invertSplices(known?.text ?? '', rest.splices)
		};
	}
	const bytes = present ? bytesOf(present) : NONE;
	return { ...about, of: 'bytes', splices: rest.splices && invertSplices(bytes, rest.splices) };
}

/** The plan that takes it back. `files` are those before the plan. Law: apply, then apply the inverse, is the identity on bytes. */
export function invertPlan(files: Files, plan: Plan): Plan {
	const changes = plan.changes.map((change) =>
		invertChange(files.get(change.movedFrom ?? change.path), change)
	);
	const values = plan.values.map((value) => ({ ...value, before: value.after, after: value.before }));
	return {
		title: `Undo: ${plan.title}`,
		changes: changes.reverse(),
		values: values.reverse(),
		notes: []
	};
}
