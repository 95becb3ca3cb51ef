import type { Plan, ValueChange } from '../change';
import { findField } from '../formats';
import { fillPattern, fieldOf } from '../guide';
import { displayName, textKeysOf, valueOf, type EffectiveRecord, type Stack } from '../stack';
import type { TextFile } from '../text';
import { planToBring } from './bring';
import { startDraft, type Draft } from './draft';
import type { Intention } from './intention';
import { removeRecord, setField, take, writeText, type ModName, type Say } from './steps';

/** The intention cannot be carried out on these data; says why and what would do. */
export class NotPossible extends Error {}

/** The value is no longer the one that was looked at: somebody changed it meanwhile. */
export class StaleValue extends Error {
	constructor(
		readonly field: string,
		readonly expected: string | null,
		readonly present: string | null
	) {
		super(
			`Meanwhile “${field}” was changed from ${shown(expected)} to ${shown(present)}. Nothing was overwritten.`
		);
	}
}

const shown = (value: string | null) => (value === null || value === '' ? 'nothing' : `“${value}”`);

interface Work {
	draft: Draft;
	stack: Stack;
	name: ModName;
	values: ValueChange[];
	say: Say;
}

function find(stack: Stack, kind: string, id: string): EffectiveRecord {
	const table = stack.tables.get(kind);
	if (!table) throw new NotPossible(`There is no kind “${kind}” in this project.`);
	const record = table.byId.get(id);
	if (!record) throw new NotPossible(`There is no ${table.guide.title.toLowerCase()} with the id “${id}”.`);
	return record;
}

function note(
	work: Work,
	record: EffectiveRecord,
	field: string,
	before: string | null,
	after: string | null,
	follows?: string
) {
	const name = displayName(work.stack, record);
	work.values.push({
		kind: record.kind,
		id: record.id,
		name,
		field,
		before,
		after,
		...(follows ? { follows } : {})
	});
}

const isText = (stack: Stack, kind: string) => stack.guide.words?.kind === kind;

function textBefore(stack: Stack, key: string, language: string): string | null {
	const record = stack.tables.get(stack.guide.words?.kind ?? '')?.byId.get(key);
	return (record && valueOf(record, language)) ?? null;
}

function write(work: Work, key: string, language: string, text: string, follows?: string) {
	const before = textBefore(work.stack, key, language);
	writeText(work.draft, key, language, text, work.name, work.say);
	const kind = work.stack.guide.words!.kind;
	work.values.push({
		kind,
		id: key,
		name: key,
		field: language,
		before,
		after: text,
		...(follows ? { follows } : {})
	});
}

/** A field as the lowest layer that has it writes it. */
function lowest(record: EffectiveRecord, path: string) {
	for (const { doc, record: source } of record.presences) {
		const field = findField(source, path);
		if (field) return { doc, field };
	}
	return undefined;
}

function set(work: Work, intention: Extract<Intention, { do: 'set' }>): string {
	const { kind, id, field, value, expected } = intention;
	if (isText(work.stack, kind)) {
		const before = textBefore(work.stack, id, field);
		if (expected !== undefined && expected !== before) throw new StaleValue(field, expected, before);
		write(work, id, field, value);
		return `Set text ${id} (${field})`;
	}
	const record = find(work.stack, kind, id);
	const before = valueOf(record, field) ?? null;
	if (expected !== undefined && expected !== before) throw new StaleValue(field, expected, before);
	const path = take(work.draft, record, work.say);
	const guide = fieldOf(work.stack.guide.kinds[kind], field);
	setField(work.draft, path, id, field, value, { type: guide?.type, like: lowest(record, field) }, work.say);
	const written = work.draft.record(path, id)?.fields.find((candidate) => candidate.path === field)?.value;
	const after = written === undefined ? value : String(written ?? '');
	note(work, record, field, before, after);
	return `Set ${(guide?.title ?? field).toLowerCase()} of ${displayName(work.stack, record)}: ${before || 'nothing'} to ${after || 'nothing'}`;
}

function checkNewId(stack: Stack, kind: string, id: string): void {
	const table = stack.tables.get(kind)!;
	const longest = table.guide.limits.id;
	if (table.byId.has(id)) throw new NotPossible(`The id “${id}” is taken.`);
	if (/\s/.test(id)) throw new NotPossible('An id cannot hold spaces; use _ between words.');
	if (longest && id.length > longest)
		throw new NotPossible(`The id has ${id.length} characters; the game takes ${longest}.`);
	const clash = [...table.byId.keys()].find((other) => other.toLowerCase() === id.toLowerCase());
	if (clash) throw new NotPossible(`“${id}” differs from “${clash}” only in its case.`);
}

function copy(work: Work, { kind, id, newId, texts, names }: Extract<Intention, { do: 'copy' }>): string {
	const { stack, draft } = work;
	const record = find(stack, kind, id);
	checkNewId(stack, kind, newId);
	const source = record.presences.at(-1)!;
	const { path } = source;
	const guide = stack.guide.kinds[kind]!;
	if (!source.record.idSpan)
		throw new NotPossible('This record has no written id, so a copy could not be told from it.');
	const format = draft.format(path);
	if (guide.merge === 'file') take(draft, record, work.say);
	else if (!draft.doc(path))
		draft.create(path, format.blank(source.doc), source.layer.files.get(path)!.text!);
	const end = draft.doc(path)!.records.length;
	draft.edit(path, format.insert(draft.doc(path)!, source.doc, source.record));
	draft.edit(path, format.rename(draft.doc(path)!, draft.doc(path)!.records[end]!, newId));
	work.values.push({ kind, id: newId, name: newId, field: guide.key ?? 'id', before: null, after: newId });
	const value = (name: string) => (name === 'id' ? newId : valueOf(record, name));
	const derived = new Map<string, string>();
	for (const [field, { derive }] of Object.entries(guide.fields)) {
		const next = derive && fillPattern(derive, value);
		if (!next || valueOf(record, field) === undefined) continue;
		setField(draft, path, newId, field, next);
		derived.set(field, next);
		work.values.push({
			kind,
			id: newId,
			name: newId,
			field,
			before: valueOf(record, field)!,
			after: next,
			follows: 'follows from the id'
		});
	}
	if (texts) {
		for (const { key, pattern, name } of textKeysOf(stack, record)) {
			const next = fillPattern(pattern, (part) =>
				part === 'id' ? newId : (derived.get(part) ?? valueOf(record, part))
			);
			if (key === null || next === null || key === next) continue;
			for (const language of Object.keys(stack.guide.words?.languages ?? {})) {
				const text = (name ? names[language] : undefined) ?? textBefore(stack, key, language);
				if (text !== null) write(work, next, language, text, `text of ${newId}`);
			}
		}
	}
	return `Copy ${displayName(stack, record)} as new ${guide.title.toLowerCase()} ${newId}`;
}

function remove(work: Work, { kind, id, line }: Extract<Intention, { do: 'remove' }>): string {
	const record = find(work.stack, kind, id);
	const mine = record.presences.find((presence) => presence.layer.role === 'mine');
	if (!mine) throw new NotPossible('My mod does not have this record; the layers below it are never edited.');
	const below = record.presences.filter((presence) => presence.layer.role !== 'mine');
	const copies = mine.doc.records.filter((other) => other.id === id).length;
	removeRecord(work.draft, mine.path, id, line ?? mine.line, work.say);
	if (copies > 1) {
		work.say(`Of the ${copies} records with this id, the other stays.`);
		note(work, record, work.stack.guide.kinds[kind]!.key ?? 'id', id, null);
		return `Remove the second ${id}`;
	}
	for (const [field, value] of record.values) {
		if (value.presence.layer.role !== 'mine') continue;
		const under = below.at(-1)?.fields.find((candidate) => candidate.path === field);
		const after = under ? under.value : null;
		if (value.value !== after) note(work, record, field, value.value, after);
	}
	if (below.length > 0) {
		work.say('The record goes back to what the base says.');
		return `Give ${displayName(work.stack, record)} back to the base`;
	}
	return `Remove ${displayName(work.stack, record)}`;
}

function act(work: Work, intention: Exclude<Intention, { do: 'bring' }>): string {
	switch (intention.do) {
		case 'set':
			return set(work, intention);
		case 'fill': {
			const { kind, id, values, from } = intention;
			const record = find(work.stack, kind, id);
			for (const { field, value } of values)
				if ((valueOf(record, field) ?? '') !== value) set(work, { do: 'set', kind, id, field, value });
			return `Set ${work.values.length} ${work.values.length === 1 ? 'field' : 'fields'} of ${displayName(work.stack, record)}${from ? ` from ${from}` : ''}`;
		}
		case 'copy':
			return copy(work, intention);
		case 'remove':
			return remove(work, intention);
		case 'take': {
			const record = find(work.stack, intention.kind, intention.id);
			take(work.draft, record, work.say);
			return `Take ${displayName(work.stack, record)} into my mod`;
		}
		case 'write': {
			for (const { key, language, text } of intention.texts) write(work, key, language, text);
			const keys = new Set(intention.texts.map((text) => text.key));
			return keys.size === 1 ? `Write text ${[...keys][0]}` : `Write ${keys.size} texts`;
		}
	}
}

/**
 * The plan that carries out an intention on my mod: every file and every value, nothing done yet.
 * @param mod folder-safe name of my mod
 * @param brought for `bring`: the files as they are outside
 * @throws NotPossible, StaleValue, EditRefused: nothing was changed; the message says why
 */
export function planFor(
	stack: Stack,
	intention: Intention,
	mod: string,
	brought: ReadonlyMap<string, TextFile | null> = new Map()
): Plan {
	if (!stack.mine) throw new NotPossible('This project has no mod of mine to write into.');
	if (intention.do === 'bring') {
		const plan = planToBring(stack, brought);
		if (plan.changes.length === 0) throw new NotPossible('My mod is already as these files are.');
		return plan;
	}
	const notes = new Set<string>();
	const draft = startDraft(stack);
	const work: Work = { draft, stack, name: { mod }, values: [], say: (sentence) => notes.add(sentence) };
	const title = act(work, intention);
	const changes = draft.changes();
	if (changes.length === 0) throw new NotPossible('This would change nothing: the value is already so.');
	return { title, changes, values: work.values, notes: [...notes] };
}
