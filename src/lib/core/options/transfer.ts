// Records and files that go from one part of a mod into another: out of the main part into an option, or back.
import { bytesOf, fromBase64, toBase64, type FileContent } from '../change';
import { myFiles, NotPossible, removeRecord, startDraft, type Draft } from '../edits';
import { claimsOf, textPath } from '../guide';
import { isEditable, isInBase, type EffectiveRecord, type Stack } from '../stack';
import { digestOf, textLike } from '../text';
import type { OptionFile } from './schema';

/** What goes as a whole: a record, or a file that is not read as records. */
export type Thing = { kind: string; id: string } | { path: string };

/** Files as an option keeps them. */
export const keptOf = (files: ReadonlyMap<string, FileContent>): OptionFile[] =>
	[...files].map(([path, content]) =>
		content instanceof Uint8Array
			? { path, bytes: toBase64(content) }
			: { path, text: content.text, encoding: content.encoding, bom: content.bom }
	);

/** Files of an option as plans carry them. */
export const contentsOf = (kept: readonly OptionFile[]): Map<string, FileContent> =>
	new Map(
		kept.map((file) => [file.path, 'bytes' in file ? fromBase64(file.bytes) : textLike(file.text, file)])
	);

/** Whether an id only says where a record stands: such a record is another one in another file. */
const isByPlace = (id: string): boolean => /#\d+$/.test(id);

const ownOf = ({ presences }: EffectiveRecord) => presences.filter(({ layer }) => isEditable(layer));

/**
 * What of the edited layer can go into another part of the mod as a whole: records that no layer below has, and files
 * that are not read as records. The file in which a mod presents itself stays.
 */
export function* wholeThings({ guide, mine, tables }: Stack): Generator<Thing> {
	if (!mine) return;
	for (const { kind, files, records } of tables.values()) {
		if (!files.some(({ layer, file }) => isEditable(layer) && file.path !== guide.identity)) continue;
		for (const record of records)
			if (ownOf(record).length > 0 && !isByPlace(record.id) && !isInBase(record))
				yield { kind, id: record.id };
	}
	for (const path of mine.files.keys())
		if (path !== guide.identity && claimsOf(guide, path).length === 0) yield { path };
}

/** One of the two parts: as it is while things go, and the folder-safe name of its own mod. */
interface Part {
	draft: Draft;
	mod: string;
}

/** The path of a file of one part in the other: a file of a mod's own is named after the mod. */
function pathIn(from: Part, to: Part, path: string, language: string | undefined): string {
	const { guide } = from.draft.stack;
	if (language === undefined || textPath(guide, language, from.mod) !== path) return path;
	return textPath(guide, language, to.mod) ?? path;
}

/** A record with all that the one part says of it, into the other. */
function transferRecord(from: Part, to: Part, kind: string, id: string): void {
	const { draft } = from;
	const { guide, tables } = draft.stack;
	const record = tables.get(kind)?.byId.get(id);
	const places = record ? ownOf(record) : [];
	const called = `${guide.kinds[kind]?.title ?? kind} ${id}`;
	if (places.length === 0) throw new NotPossible(`${called} is not there any more; load the page again.`);
	for (const { path, language } of places) {
		const place = { path, kind, id };
		const node = draft.record(place);
		const whole = draft.doc(path);
		const content = draft.content(path);
		if (!node || !whole || !content) throw new NotPossible(`${called} cannot be removed from ${path}.`);
		const target = pathIn(from, to, path, language);
		if (to.draft.record({ ...place, path: target }))
			throw new NotPossible(`${target} already contains ${called} there.`);
		const format = draft.format(path);
		const isAlone = whole.records.length === 1;
		// Where the game reads whole files, one with a single record would hide the others.
		if (!to.draft.has(target) && (isAlone || (guide.kinds[kind]!.merge === 'file' && target === path)))
			to.draft.put(target, content);
		else {
			if (!to.draft.has(target))
				to.draft.create(target, format.blank(whole), content instanceof Uint8Array ? null : content);
			const there = to.draft.doc(target, kind) ?? to.draft.doc(target)!;
			to.draft.edit(target, format.insert(there, draft.doc(path, kind)!, node));
		}
		removeRecord(draft, place, () => undefined);
	}
}

/** A file as it is, from one layer into the other. */
function transferFile({ draft: from }: Part, { draft: to }: Part, path: string): void {
	const content = from.content(path);
	if (!content) throw new NotPossible(`${path} is not there any more; load the page again.`);
	if (to.has(path)) throw new NotPossible(`${path} is already there.`);
	to.put(path, content);
	from.drop(path);
}

/** The files of a layer that a draft changes; null for one that it has no more. */
const changedIn = (draft: Draft): Map<string, FileContent | null> =>
	new Map(draft.changes().map(({ path }) => [path, draft.content(path) ?? null]));

/**
 * What becomes of two parts of a mod when things go from one into the other.
 * @param from the stack in which the part that gives is the edited layer, and the folder-safe name of its mod
 * @param to the same of the part that takes
 * @throws NotPossible, EditRefused where one of them cannot
 */
export function transferred(
	from: { stack: Stack; mod: string },
	to: { stack: Stack; mod: string },
	things: readonly Thing[]
): { from: Map<string, FileContent | null>; to: Map<string, FileContent> } {
	const giving: Part = { draft: startDraft(from.stack), mod: from.mod };
	const taking: Part = { draft: startDraft(to.stack), mod: to.mod };
	for (const thing of things)
		if ('path' in thing) transferFile(giving, taking, thing.path);
		else transferRecord(giving, taking, thing.kind, thing.id);
	const there = myFiles(to.stack);
	// A copy of a whole file in which nothing is left of its own would only hide what is below.
	const isBelow = from.stack.layers.some(({ id }) => id === to.stack.mine?.id);
	for (const { path } of isBelow ? giving.draft.changes() : []) {
		const [left, below] = [giving.draft.content(path), there.get(path)];
		if (left && below && digestOf(bytesOf(left)) === digestOf(bytesOf(below))) giving.draft.drop(path);
	}
	const files = new Map(there);
	for (const [path, content] of changedIn(taking.draft)) if (content) files.set(path, content);
	return { from: changedIn(giving.draft), to: files };
}
