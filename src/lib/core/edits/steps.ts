import { applySplices, type Content, type Splice } from '../change';
import {
	EditRefused,
	fieldsOf,
	formatFor,
	partOf,
	styledFor,
	type Document,
	type FieldNode,
	type Format,
	type RecordNode
} from '../formats';
import { claimsOf, hintsFor, textPath, type Guide, type KindGuide } from '../guide';
import {
	isEditable,
	fileContent,
	unitOf,
	type EffectiveRecord,
	type LayerFile,
	type Presence,
	type Stack,
	type Table,
	type TableFile
} from '../stack';
import { tagOf } from '../text';
import type { Draft, Place } from './draft';
import { ensureUnit, sparseCopy, strip } from './sparse';

/** The identity of my mod as it is used in file names; from the folder-safe name the project gives it. */
export interface ModName {
	mod: string;
}

/** The presence that the game reads, and where it may be taken from. */
const winner = (record: EffectiveRecord): Presence => record.presences.at(-1)!;

/** Sentences on how something is written, said once. */
export type Say = (note: string) => void;

/**
 * Makes sure that my mod has the record in a file of its own and returns that path. One record is taken where the game
 * merges by record, the whole file where it does not; no more than the field at `part`, or the list that it is in, where
 * layers replace single fields.
 */
export function take(draft: Draft, record: EffectiveRecord, say: Say, part?: string): string {
	mustCount(draft, record);
	const { kind, id } = record;
	const mine = record.presences.find((presence) => isEditable(presence.layer));
	const { path, doc, record: source, file } = mine ?? winner(record);
	const place = { path, kind, id };
	if (mine || (draft.has(path) && draft.record(place))) {
		if (part !== undefined) ensureUnit(draft, place, record, part);
		return path;
	}
	const merge = draft.stack.guide.kinds[kind]!.merge;
	begin(draft, { path, doc, file }, merge, say);
	if (merge === 'field' && draft.record(place)) {
		// A file that is one record has come with all of it.
		strip(draft, place, new Set(part === undefined ? [] : [unitOf(part)]));
		if (part !== undefined) ensureUnit(draft, place, record, part);
		return path;
	}
	if (merge === 'file' || draft.record(place)) return path;
	if (merge === 'field') {
		const sparse = sparseCopy(draft, record, new Set(part === undefined ? [] : [unitOf(part)]));
		draft.edit(
			path,
			draft.format(path).insert(draft.doc(path, kind) ?? draft.doc(path)!, sparse.doc, sparse.record)
		);
		say(`The game merges ${path} field by field, so your mod gets only what you change.`);
		return path;
	}
	draft.edit(path, draft.format(path).insert(draft.doc(path)!, doc, source));
	say(`The game merges ${path} record by record, so your mod gets only this record.`);
	return path;
}

/** @throws EditRefused where my mod's version of a record would change nothing, because the first one counts */
export function mustCount({ stack }: Draft, { kind, id, presences }: EffectiveRecord): void {
	const { second, merge, title } = stack.guide.kinds[kind]!;
	if (second !== 'first' || merge === 'file' || presences.some(({ layer }) => isEditable(layer))) return;
	throw new EditRefused(
		`Of two records with the same id, the game uses the first. ${title} ${id} is in a layer below, so your mod cannot change it.`
	);
}

/** Begins a file of my mod that stands in for one of the game: with all of it, or with nothing where records merge. */
function begin(
	draft: Draft,
	{ path, doc, file }: { path: string; doc: Document; file: LayerFile },
	merge: KindGuide['merge'],
	say: Say
): void {
	if (draft.doc(path)) return;
	if (merge === 'file') {
		draft.put(path, fileContent(file));
		say(`The game reads ${path} whole, so your mod gets a copy of the whole file.`);
		return;
	}
	draft.create(path, draft.format(path).blank(doc), file.text);
	if (!draft.doc(path)) throw new EditRefused(`${path} cannot be created as a separate file.`);
}

/** Fields whose values are names or texts, however much they look like numbers. */
const VERBATIM = new Set(['reference', 'textKey', 'text', 'file', 'code']);

const WHOLE = /^[+-]?(?:\d+|0[xX][\da-fA-F]+)(?:\s*[^\d.]+)?$/;

/** What is known of a field besides its value: its type, and where its number style is taken from. */
export interface FieldAbout {
	type: string | undefined;
	/** The lowest layer's file and field: mine may be what is wrong. */
	like: { doc: Document; field: FieldNode } | undefined;
}

/** Whether a value is written in the style of the one before: not names and texts; where no type is known, plain numbers. */
function styleCounts(type: string | undefined, { value }: FieldNode): boolean {
	if (type !== undefined) return !VERBATIM.has(type);
	return typeof value === 'number' || /^[+-]?(?:\d+(?:\.\d*)?|\.\d+)$/.test(String(value));
}

/** A value as it is to be written: what is known of its field, and who hears how. */
export interface Writing {
	field: string;
	value: string;
	about?: FieldAbout;
	say?: Say;
	/** For all records that point at the value, where several do. */
	everywhere?: boolean | undefined;
}

/** A value as it is written: a number as the base writes it. */
export function asWritten({ value, about, say }: Writing): string {
	if (!about?.like || !styleCounts(about.type, about.like.field)) return value;
	const styled = styledFor(about.like.doc, about.like.field, value);
	const whole = about.type === 'whole' || about.type === 'flags';
	if (whole && !WHOLE.test(styled.text)) return value;
	if (styled.note) say?.(styled.note);
	return styled.text;
}

/** What replaces a field's value; a number is written as the base writes it. */
export function spliceFor(
	format: Format,
	doc: Document,
	record: RecordNode,
	writing: Writing
): Splice<Content>[] {
	const { field, everywhere } = writing;
	const text = asWritten(writing);
	return everywhere && format.shared
		? format.shared.set(doc, record, field, text)
		: format.set(doc, record, field, text);
}

/**
 * Sets one field in a file of my mod; a number is written as the base writes it.
 * @param of the record as the game sees it, of which my mod may not say the field yet
 */
export function setField(draft: Draft, place: Place, writing: Writing, of?: EffectiveRecord): void {
	const { path, kind, id } = place;
	if (of) ensureUnit(draft, place, of, writing.field);
	const record = draft.record(place);
	if (!record) throw new EditRefused(`${path} has no record ${id}.`);
	draft.edit(path, spliceFor(draft.format(path), draft.doc(path, kind)!, record, writing));
}

/** How many letters two keys have in common from the first on. */
function sharedStart(a: string, b: string): number {
	let length = 0;
	while (length < a.length && a[length] === b[length]) length++;
	return length;
}

/**
 * The text whose key is most like another one, in a language; null where the language has none.
 * @param language undefined where languages are fields of one record
 */
export function likeText(
	table: Table,
	key: string,
	language: string | undefined
): { from: TableFile; nth: number } | null {
	let best: { from: TableFile; nth: number } | null = null;
	let most = -1;
	for (const from of table.files) {
		if (from.language !== language || from.facts.format === null) continue;
		from.facts.ids.forEach((id, nth) => {
			const other = table.pool.at(id);
			const shared = other === key ? Infinity : sharedStart(key, other);
			if (shared <= most) return;
			most = shared;
			best = { from, nth };
		});
	}
	return best;
}

/** Whether languages are fields of one record, such as columns of a table, and not files of their own. */
export const languagesAreFields = (table: Table): boolean =>
	table.files.length > 0 && table.files.every(({ language }) => language === undefined);

/**
 * The file for texts in a language that no file has yet: where the text in the main language most like it is, with the
 * other language in its path. Null where paths do not say the language.
 */
export function fileForLanguage(
	guide: Guide,
	table: Table,
	key: string,
	language: string
): { path: string; from: TableFile; nth: number } | null {
	const { main, kind } = guide.words!;
	const like = likeText(table, key, main);
	if (!like) return null;
	const { path } = like.from.file;
	for (let at = path.indexOf(main); at >= 0; at = path.indexOf(main, at + 1)) {
		const other = path.slice(0, at) + language + path.slice(at + main.length);
		const claim = claimsOf(guide, other).find((one) => one.kind === kind);
		if (claim?.language === language) return { path: other, ...like };
	}
	return null;
}

/** What is left of a file in one language for the same in another: its header, with the other language in it. */
function blankFor(format: Format, doc: Document, main: string, language: string): Content {
	if (format.traits.texts) return format.traits.texts.none(tagOf(language));
	const blank = format.blank(doc);
	return typeof blank === 'string'
		? blank.replace(/(["'])([\w-]+)\1/g, (all, quote: string, said) =>
				said === main ? quote + language + quote : all
			)
		: blank;
}

/**
 * Makes room for a text beside those like it, in my mod's version of their file; in a language that no file has yet, in
 * a new one. Gives the file.
 * @param language undefined where languages are fields of one record
 */
export function besideLike(
	draft: Draft,
	table: Table,
	key: string,
	language: string | undefined,
	say: Say
): string {
	const { guide } = draft.stack;
	const like = likeText(table, key, language);
	const made = !like && language !== undefined ? fileForLanguage(guide, table, key, language) : null;
	const { from, nth } = like ?? made ?? {};
	const whole = from?.file.doc;
	if (!from || !whole)
		throw new EditRefused(
			`No file has texts in ${guide.words!.languages[language ?? ''] ?? 'this language'}, so there is no place for a new one.`
		);
	const path = made?.path ?? from.file.path;
	const doc = partOf(whole, from.spec);
	const model = doc.records[nth!]!;
	const { kind } = table;
	if (!made) begin(draft, { path, doc, file: from.file }, table.guide.merge, say);
	else if (!draft.doc(path)) {
		draft.create(path, blankFor(draft.format(path), doc, guide.words!.main, language!), from.file.text);
		say(`${path} is new: no file had texts in ${guide.words!.languages[language!]}.`);
	}
	if (draft.record({ path, kind, id: key })) return path;
	const format = draft.format(path);
	const at = draft.doc(path, kind)!.records.length;
	draft.edit(path, format.insert(draft.doc(path, kind)!, doc, model));
	const now = draft.doc(path, kind)!;
	if (model.id !== key) draft.edit(path, format.rename(now, now.records[at]!, key));
	return path;
}

/** A text without words under a key, as a file of my mod's own has it. @throws EditRefused where its format is for no texts */
export function bareText(draft: Draft, { path, id: key }: Place): [Document, RecordNode] {
	const format = formatFor(path, hintsFor(draft.stack.guide, path));
	const made = format?.traits.texts;
	if (!format || !made)
		throw new EditRefused(`A new text cannot be written into ${path}; it needs .properties or .po.`);
	const seed = format.read(made.one, {});
	const named = format.read(applySplices<Content>(made.one, format.rename(seed, seed.records[0]!, key)), {});
	return [named, named.records[0]!];
}

/** Puts a new text into a file of my mod's own. */
export function addText(draft: Draft, place: Place, language: string, say: Say): void {
	const { path, kind } = place;
	const format = formatFor(path, hintsFor(draft.stack.guide, path));
	if (!draft.doc(path)) draft.create(path, format?.traits.texts?.none(tagOf(language)) ?? '', null);
	if (draft.record(place)) return;
	const bare = bareText(draft, place);
	draft.edit(path, draft.format(path).insert(draft.doc(path, kind)!, ...bare));
	say("New texts go into separate files of your mod, which add to the game's and override none.");
}

/** The field of a text that holds its words. */
export const fieldOfWords = (node: RecordNode): string => {
	const names = Object.keys(fieldsOf(node));
	return names.includes('text') ? 'text' : names[0]!;
};

/** The file of my mod that a text is written into, where there is one or the guide names one; undefined elsewhere. */
export function ownFileOf(
	{ guide }: Stack,
	table: Table,
	key: string,
	language: string,
	mod: string
): string | undefined {
	const mine = table.byId
		.get(key)
		?.presences.find((presence) => isEditable(presence.layer) && presence.language === language);
	return mine?.path ?? textPath(guide, language, mod) ?? undefined;
}

/** Takes a record out of a file of my mod, and the file with it when nothing is left. */
export function removeRecord(draft: Draft, place: Place, say: Say, line?: number): void {
	const { path, id } = place;
	const record = draft.record(place, line);
	if (!record) throw new EditRefused(`${path} has no record ${id}.`);
	const doc = draft.doc(path)!;
	if (doc.records.length === 1) {
		draft.drop(path);
		say(`${path} would be empty, so it is removed from your mod.`);
	} else draft.edit(path, draft.format(path).remove(doc, record));
}
