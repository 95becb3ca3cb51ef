// Many texts at once: each file of a language is spliced once for all of them.
import { addTo } from '../gather';
import { textPath } from '../guide';
import { fileBelow, isEditable, type Presence, type Stack, type Table } from '../stack';
import { EditRefused, fieldsOf, type Document, type RecordNode } from '../formats';
import { together } from '../change';
import { inARow, recordsOf, writeMany } from './batch';
import type { Draft, Place } from './draft';
import {
	addText,
	bareText,
	besideLike,
	fieldOfWords,
	fileForLanguage,
	ownFileOf,
	languagesAreFields,
	likeText,
	setField,
	spliceFor,
	type ModName,
	type Say
} from './steps';

/** A text that is to be written. */
export interface TextWrite {
	key: string;
	language: string;
	text: string;
}

/**
 * Makes sure that a file of my mod has texts under all of the keys.
 * @param add puts one there
 * @param model what is put there, with the document that it is from
 */
function addMany(
	draft: Draft,
	path: string,
	kind: string,
	keys: readonly string[],
	add: (key: string) => void,
	model: (key: string) => [Document, RecordNode]
): void {
	const there = () => recordsOf(draft.doc(path, kind)!);
	const missing = () => {
		const known = draft.doc(path) ? there() : new Map<string, RecordNode>();
		return keys.filter((key) => !known.has(key));
	};
	// The first shows how a list begins, the second how it goes on; or it brings a whole file along.
	for (let times = 0; times < 2; times++) missing().slice(0, 1).forEach(add);
	const rest = missing();
	if (rest.length === 0) return;
	const [doc, kept, format] = [draft.doc(path, kind)!, draft.doc(path)!, draft.format(path)];
	const splices = inARow(rest.map((key) => format.insert(doc, ...model(key))));
	if (splices) {
		draft.edit(path, splices);
		const now = there();
		if (rest.every((key) => now.has(key))) return;
		draft.restore(path, kept);
	}
	rest.forEach(add);
}

/** Gives texts that are there their words. */
function setMany(draft: Draft, path: string, kind: string, texts: readonly TextWrite[]): void {
	const [doc, format] = [draft.doc(path, kind)!, draft.format(path)];
	const nodes = recordsOf(doc);
	const all = together(
		texts.map(({ key, text }) => {
			const node = nodes.get(key)!;
			return spliceFor(format, doc, node, { field: fieldOfWords(node), value: text });
		})
	);
	if (all) return draft.edit(path, all);
	for (const { key, text } of texts) {
		const place = { path, kind, id: key };
		setField(draft, place, { field: fieldOfWords(draft.record(place)!), value: text });
	}
}

/** Texts that go into one file: one of my mod's own, or one beside the same text of the game. */
interface Group {
	path: string;
	own: boolean;
	texts: TextWrite[];
}

/** The same text in the same language as a layer below has it; undefined where none has. */
const likeIn = (table: Table, { key, language }: Pick<TextWrite, 'key' | 'language'>): Presence | undefined =>
	table.byId.get(key)?.presences.find((presence) => presence.language === language);

/**
 * Puts a text into my mod: over my own if there is one, else as a new line in my mod's own file for the language, or
 * beside the texts most like it where the field guide names no such file.
 */
function writeOne(
	draft: Draft,
	table: Table,
	key: string,
	language: string,
	text: string,
	{ mod }: ModName,
	say: Say
): void {
	const own = ownFileOf(draft.stack, table, key, language, mod);
	const path = own ?? besideLike(draft, table, key, language, say);
	const place: Place = { path, kind: table.kind, id: key };
	if (own) addText(draft, place, language, say);
	setField(draft, place, { field: fieldOfWords(draft.record(place)!), value: text });
}

/** Puts texts into a table whose records have a field for each language. */
function writeFields(draft: Draft, table: Table, texts: readonly TextWrite[], say: Say): void {
	const there = texts.flatMap(({ key, language, text }) => {
		const record = table.byId.get(key);
		return record ? [{ record, field: language, value: text, verbatim: true }] : [];
	});
	writeMany(draft, there, say);
	const made = new Map<string, TextWrite[]>();
	for (const text of texts) if (!table.byId.has(text.key)) addTo(made, text.key, text);
	const { languages } = draft.stack.guide.words!;
	for (const [key, own] of made) {
		const like = likeText(table, key, undefined)?.from.file.path;
		const known =
			like !== undefined && draft.has(like) && draft.record({ path: like, kind: table.kind, id: key });
		const path = besideLike(draft, table, key, undefined, say);
		const place: Place = { path, kind: table.kind, id: key };
		// What the model says in other languages is not said of this one.
		for (const code of Object.keys(languages)) {
			const said = own.find(({ language }) => language === code);
			if (said || (!known && Object.hasOwn(fieldsOf(draft.record(place)!), code)))
				setField(draft, place, { field: code, value: said?.text ?? '' });
		}
	}
}

/**
 * Puts texts into my mod: of two under one key and language the later counts.
 * @throws EditRefused
 */
export function writeTexts(draft: Draft, texts: readonly TextWrite[], name: ModName, say: Say): void {
	const { guide, tables } = draft.stack;
	const table = guide.words && tables.get(guide.words.kind);
	if (!table) throw new EditRefused('The field guide has no texts, so there is no place to write one.');
	const groups = new Map<string, Group>();
	const single: TextWrite[] = [];
	const last = new Map(texts.map((text) => [JSON.stringify([text.language, text.key]), text]));
	if (languagesAreFields(table)) return writeFields(draft, table, [...last.values()], say);
	for (const text of last.values()) {
		const own = ownFileOf(draft.stack, table, text.key, text.language, name.mod);
		const path = own ?? likeIn(table, text)?.path;
		if (path === undefined) {
			single.push(text);
			continue;
		}
		const at = JSON.stringify([own !== undefined, text.language, path]);
		const group = groups.get(at);
		if (group) group.texts.push(text);
		else groups.set(at, { path, own: own !== undefined, texts: [text] });
	}
	for (const { path, own, texts } of groups.values()) {
		const { kind } = table;
		const byKey = new Map(texts.map((text) => [text.key, text]));
		const place = (id: string) => ({ path, kind, id });
		addMany(
			draft,
			path,
			kind,
			[...byKey.keys()],
			(key) =>
				own
					? addText(draft, place(key), byKey.get(key)!.language, say)
					: void besideLike(draft, table, key, byKey.get(key)!.language, say),
			(key) => {
				if (own) return bareText(draft, place(key));
				const like = likeIn(table, byKey.get(key)!)!;
				return [like.doc, like.record];
			}
		);
		setMany(draft, path, kind, texts);
	}
	for (const { key, language, text } of single) writeOne(draft, table, key, language, text, name, say);
}

/** Where a text is written, and what that does to the game's own files. */
export interface TextGoes {
	path: string;
	/**
	 * It is there already; it goes into a file that adds to the game's, or into one that the game reads in place of its own;
	 * into a copy of the whole file, or into one of the same name with nothing else in it.
	 */
	how: 'mine' | 'adds' | 'hides' | 'copy' | 'beside';
	/** My mod has no such file yet. */
	fresh: boolean;
}

/** Where a text would be written; null where nobody knows. @param mod the name of my mod as file names have it */
export function textGoes(stack: Stack, key: string, language: string, mod: string): TextGoes | null {
	const table = stack.guide.words && stack.tables.get(stack.guide.words.kind);
	if (!table || !stack.mine) return null;
	const fields = languagesAreFields(table);
	const fresh = (path: string) => !stack.mine!.files.has(path);
	const said = table.byId.get(key)?.presences ?? [];
	const mine = said.find(
		({ layer, language: own }) => isEditable(layer) && (fields || own === language)
	)?.path;
	if (mine !== undefined) return { path: mine, how: 'mine', fresh: false };
	const whole = table.guide.merge === 'file';
	const own = fields ? null : textPath(stack.guide, language, mod);
	if (own !== null)
		return { path: own, how: whole && fileBelow(stack, own) ? 'hides' : 'adds', fresh: fresh(own) };
	const like = fields
		? (said.at(-1)?.path ?? likeText(table, key, undefined)?.from.file.path)
		: (likeIn(table, { key, language })?.path ?? likeText(table, key, language)?.from.file.path);
	const made = like === undefined && !fields ? fileForLanguage(stack.guide, table, key, language) : null;
	if (made) return { path: made.path, how: 'adds', fresh: fresh(made.path) };
	const at = like === undefined ? undefined : table.files.find(({ file }) => file.path === like);
	// A table has the columns that it has.
	const columns = (fields && at?.file.doc?.columns) || [];
	if (like === undefined || (columns.length > 0 && !columns.includes(language))) return null;
	return { path: like, how: whole ? 'copy' : 'beside', fresh: fresh(like) };
}
