// Many texts at once: each file of a language is spliced once for all of them.
import type { Document, RecordNode } from '../formats';
import type { Presence, Table } from '../stack';
import { inARow, recordsOf, together } from './batch';
import type { Draft } from './draft';
import {
	addText,
	bareText,
	besideLike,
	fieldOfWords,
	ownFileOf,
	setField,
	spliceFor,
	writeText,
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
const likeIn = (table: Table, { key, language }: TextWrite): Presence | undefined =>
	table.byId.get(key)?.presences.find((presence) => presence.language === language);

/**
 * Puts texts into my mod, as `writeText` does with each of them: of two under one key and language the later counts.
 * @throws EditRefused
 */
export function writeTexts(draft: Draft, texts: readonly TextWrite[], name: ModName, say: Say): void {
	const { guide, tables } = draft.stack;
	const table = guide.words && tables.get(guide.words.kind);
	const groups = new Map<string, Group>();
	const single: TextWrite[] = [];
	const last = new Map(texts.map((text) => [JSON.stringify([text.language, text.key]), text]));
	for (const text of last.values()) {
		const own = table && ownFileOf(draft, table, text.key, text.language, name.mod);
		const path = own ?? (table && likeIn(table, text)?.path);
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
		const { kind } = table!;
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
					: void besideLike(draft, table!, key, byKey.get(key)!.language, say),
			(key) => {
				if (own) return bareText(draft, place(key));
				const like = likeIn(table!, byKey.get(key)!)!;
				return [like.doc, like.record];
			}
		);
		setMany(draft, path, kind, texts);
	}
	for (const { key, language, text } of single) writeText(draft, key, language, text, name, say);
}
