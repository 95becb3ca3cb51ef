import {
	applySplices,
	changeOf,
	composeSplices,
	contentOf,
	type Content,
	type FileChange,
	type FileContent,
	type Splice
} from '../change';
import { textLike, type TextFile } from '../text';
import {
	EditRefused,
	readDocument,
	formatFor,
	findRecord,
	partOf,
	type Document,
	type Format,
	type RecordNode
} from '../formats';
import { claimBy, hintsFor } from '../guide';
import { fileContent, type Stack } from '../stack';

interface Draw {
	before: FileContent | undefined;
	now: FileContent | undefined;
	/** From `before` to `now`; null where one takes the place of the other. */
	splices: Splice<Content>[] | null;
	doc: Document | null;
	/** Where the file was before, when it was moved. */
	movedFrom?: string;
}

/** A record in a file of my mod. */
export interface Place {
	path: string;
	kind: string;
	id: string;
}

/** My mod while a plan is being made: each step splices a file, the next step reads the result. */
export interface Draft {
	stack: Stack;
	/** The document as is, or of a file with records of several kinds the part of one; null where my mod has no such file. */
	doc(path: string, kind?: string): Document | null;
	format(path: string): Format;
	/** Whether my mod has such a file by now, and its text. */
	has(path: string): boolean;
	text(path: string): string | undefined;
	/** The file as it is by now; undefined where there is none. */
	content(path: string): FileContent | undefined;
	/** Starts a file that my mod lacks; a text is written as `like` is. */
	create(path: string, content: Content, like: Pick<TextFile, 'encoding' | 'bom'> | null): void;
	/** Puts a file as it is into my mod, whatever was there. */
	put(path: string, file: FileContent): void;
	edit(path: string, splices: readonly Splice<Content>[]): void;
	drop(path: string): void;
	/** Gives a file another path, where my mod has none. */
	move(path: string, next: string): void;
	/** Goes back to a document that was there before an edit. */
	restore(path: string, doc: Document): void;
	record(place: Place, line?: number): RecordNode | undefined;
	changes(): FileChange[];
}

/** Whether a content can be spliced into the other: both are texts, or both bytes. */
const isAlike = (a: FileContent | undefined, b: FileContent | undefined): boolean =>
	a === undefined || b === undefined || a instanceof Uint8Array === b instanceof Uint8Array;

/** A draft over the layer that is edited. */
export function startDraft(stack: Stack): Draft {
	const draws = new Map<string, Draw>();
	const draw = (path: string): Draw => {
		let found = draws.get(path);
		if (!found) {
			const file = stack.mine?.files.get(path);
			const before = file && fileContent(file);
			found = { before, now: before, splices: [], doc: file?.doc ?? null };
			draws.set(path, found);
		}
		return found;
	};
	/** @throws EditRefused where a file is what a patch of my mod makes of another */
	const mustBeOwn = (path: string) => {
		const by = stack.mine?.files.get(path)?.patched?.by;
		if (by !== undefined)
			throw new EditRefused(
				`Your mod changes ${path} by the patch ${by}. Edit ${by} as text, or delete it first.`
			);
	};
	const read = (path: string, content: Content) => readDocument(path, content, hintsFor(stack.guide, path));
	const splice = (
		path: string,
		splices: readonly Splice<Content>[],
		base: Pick<TextFile, 'encoding' | 'bom'>
	) => {
		mustBeOwn(path);
		const open = draw(path);
		const { now } = open;
		open.splices = open.splices && composeSplices(open.splices, splices);
		if (now instanceof Uint8Array) open.now = applySplices(now, splices as Splice<Uint8Array>[]);
		else open.now = textLike(applySplices(now?.text ?? '', splices as Splice[]), base, now);
		open.doc = read(path, contentOf(open.now));
	};
	/** What is in the place of a whole file. */
	const replace = (path: string, next: FileContent | undefined) => {
		mustBeOwn(path);
		const open = draw(path);
		const alike = isAlike(open.before, next) && isAlike(open.now, next);
		const to = open.now ? contentOf(open.now).length : 0;
		const insert = next ? contentOf(next) : open.now instanceof Uint8Array ? new Uint8Array(0) : '';
		open.splices = alike && open.splices ? composeSplices(open.splices, [{ from: 0, to, insert }]) : null;
		open.now = next;
		open.doc = next === undefined ? null : read(path, contentOf(next));
	};
	const docOf = (path: string, kind?: string): Document | null => {
		const { doc } = draw(path);
		if (!doc?.parts || kind === undefined) return doc;
		return partOf(doc, claimBy(stack.guide, path, kind)?.spec ?? -1);
	};
	return {
		stack,
		doc: docOf,
		format: (path) => formatFor(path, hintsFor(stack.guide, path))!,
		has: (path) => draw(path).now !== undefined,
		text(path) {
			const { now } = draw(path);
			return now instanceof Uint8Array ? undefined : now?.text;
		},
		content: (path) => draw(path).now,
		create(path, content, like) {
			if (content instanceof Uint8Array) replace(path, content);
			else splice(path, [{ from: 0, to: 0, insert: content }], like ?? { encoding: 'utf-8', bom: false });
		},
		put: replace,
		edit: (path, splices) => splice(path, splices, draw(path).now as TextFile),
		drop: (path) => replace(path, undefined),
		move(path, next) {
			mustBeOwn(path);
			const { movedFrom = path, ...file } = draw(path);
			draws.set(next, file.before === undefined ? file : { ...file, movedFrom });
			draws.set(path, { before: undefined, now: undefined, splices: [], doc: null });
		},
		restore(path, doc) {
			const open = draw(path);
			const to = open.now ? contentOf(open.now).length : 0;
			splice(path, [{ from: 0, to, insert: doc.content }], open.now as TextFile);
		},
		record({ path, kind, id }, line) {
			const doc = docOf(path, kind);
			return doc ? findRecord(doc, id, line) : undefined;
		},
		changes() {
			return [...draws]
				.filter(([, { before, now, movedFrom }]) => before !== now || movedFrom !== undefined)
				.map(([path, { before, now, splices, movedFrom }]) => changeOf(path, before, now, splices, movedFrom))
				.filter(({ before, after, movedFrom }) => before !== after || movedFrom !== undefined);
		}
	};
}
