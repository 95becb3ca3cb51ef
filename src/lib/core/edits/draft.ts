import { changeOf, applySplices, composeSplices, type FileChange, type Splice } from '../change';
import { textLike, type TextFile } from '../text';
import { readDocument, formatFor, findRecord, type Document, type Format, type RecordNode } from '../formats';
import { hintsFor } from '../guide';
import { asText, type Stack } from '../stack';

interface Draw {
	before: TextFile | undefined;
	now: TextFile | undefined;
	splices: Splice[];
	doc: Document | null;
}

/** My mod while a plan is being made: each step splices a text, the next step reads the result. */
export interface Draft {
	stack: Stack;
	/** The document as it stands; null where my mod has no such file. */
	doc(path: string): Document | null;
	format(path: string): Format;
	/** Whether my mod has such a file by now, and its text. */
	has(path: string): boolean;
	text(path: string): string | undefined;
	/** Starts a file that my mod lacks, written as `like` is. */
	create(path: string, text: string, like: Pick<TextFile, 'encoding' | 'bom'>): void;
	edit(path: string, splices: Splice[]): void;
	drop(path: string): void;
	/** Goes back to a document that was there before an edit. */
	restore(path: string, doc: Document): void;
	record(path: string, id: string, line?: number): RecordNode | undefined;
	changes(): FileChange[];
}

/** A draft over the layer that is edited. */
export function startDraft(stack: Stack): Draft {
	const draws = new Map<string, Draw>();
	const draw = (path: string): Draw => {
		let found = draws.get(path);
		if (!found) {
			const file = stack.mine?.files.get(path);
			const text = file && asText(file);
			found = {
				before: text,
				now: text,
				splices: [],
				doc: file?.doc ?? null
			};
			draws.set(path, found);
		}
		return found;
	};
	const splice = (path: string, splices: Splice[], base: Pick<TextFile, 'encoding' | 'bom'>) => {
		const open = draw(path);
		const text = applySplices(open.now?.text ?? '', splices);
		open.splices = composeSplices(open.splices, splices);
		open.now = textLike(text, base, open.now);
		open.doc = readDocument(path, text, hintsFor(stack.guide, path));
	};
	return {
		stack,
		doc: (path) => draw(path).doc,
		format: (path) => formatFor(path, hintsFor(stack.guide, path))!,
		has: (path) => draw(path).now !== undefined,
		text: (path) => draw(path).now?.text,
		create: (path, text, like) => splice(path, [{ from: 0, to: 0, insert: text }], like),
		edit: (path, splices) => splice(path, splices, draw(path).now!),
		drop(path) {
			const open = draw(path);
			open.splices = composeSplices(open.splices, [{ from: 0, to: open.now?.text.length ?? 0, insert: '' }]);
			open.now = undefined;
			open.doc = null;
		},
		restore(path, doc) {
			const open = draw(path);
			const text = open.now?.text ?? '';
			splice(path, [{ from: 0, to: text.length, insert: doc.text }], open.now!);
		},
		record(path, id, line) {
			const doc = draw(path).doc;
			return doc ? findRecord(doc, id, line) : undefined;
		},
		changes() {
			return [...draws]
				.filter(
					([, { before, now }]) =>
						before?.text !== now?.text || (before === undefined) !== (now === undefined)
				)
				.map(([path, { before, now, splices }]) => changeOf(path, before, now, splices));
		}
	};
}
