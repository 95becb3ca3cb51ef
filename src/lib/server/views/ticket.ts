// One record on one page, for the ticket: each field with base value, my value, meaning and place among all others.
import { formatOf } from '$core/formats';
import { fieldOf, firstIdOf, isPattern, removesPath, valueFor, type KindGuide } from '$core/guide';
import { idFault, idsInside, isOwnId, partsOf, textGoes } from '$core/edits';
import { linksTo, mentionsOf, usesOf, type Link } from '$core/links';
import { budgetOf } from '$core/numbers';
import { fold, mostLike } from '$core/search';
import { languageName, lineAt } from '$core/text';
import {
	isEditable,
	baseValueOf,
	isChanged,
	displayName,
	inheritedIn,
	inheritedValue,
	isInBase,
	isWide,
	nameOf,
	namesOf,
	ownNamesOf,
	recordNamed,
	textKeysOf,
	valueOf,
	type EffectiveRecord,
	type Presence,
	type Stack
} from '$core/stack';
import { languagesOf, lookOf, textTable } from '$core/words';
import type { ChoiceList, FieldRow, PartsView, SourceView, TextRow, Ticket } from '$core/views';
import type { Model } from '../model';
import { assetsOf } from './assets';
import { recordBytes } from './bytes';
import { named, rowOf } from './field';
import { isWithinMissing, listsOf, missingIn, optionalIn } from './lists';
import { placesIn } from './places';
import { recordIn } from './relations';

function budgetIn({ guide }: Stack, record: EffectiveRecord): Ticket['budget'] {
	const budget = guide.kinds[record.kind]!.budget;
	if (!budget) return null;
	const base = isInBase(record) ? budgetOf(budget, (field) => baseValueOf(record, field)).spent : null;
	return { ...budgetOf(budget, (field) => valueOf(record, field)), base };
}

/** Whether a record has a field, or may get it: what the guide says of many paths at once is none of them. */
const isField = (record: EffectiveRecord, guide: KindGuide, path: string): boolean =>
	record.values.has(path) ||
	(path in guide.fields && !isPattern(path)) ||
	inheritedValue(record.table, record.row, path) !== null;

function groupsOf(stack: Stack, record: EffectiveRecord): Ticket['groups'] {
	const table = stack.tables.get(record.kind)!;
	const guide = table.guide;
	const languages = languagesOf(stack, record.kind);
	const paths = [
		...new Set([
			...Object.keys(guide.fields),
			...(isWide(table) ? [] : table.columns),
			// A list that is added to on the way may be longer than any that is written.
			...inheritedIn(table, record.row).keys(),
			...record.values.keys()
		])
	].filter(
		(path) =>
			path !== guide.key &&
			// Texts are edited as such.
			!(languages && Object.hasOwn(languages, path)) &&
			isField(record, guide, path) &&
			!isWithinMissing(record, path)
	);
	const titles = [
		...guide.groups,
		...new Set(
			paths.map((path) => fieldOf(guide, path)?.group ?? '').filter((title) => !guide.groups.includes(title))
		)
	];
	return titles
		.map((title) => ({
			title,
			rows: paths
				.filter((path) => (fieldOf(guide, path)?.group ?? '') === title)
				.map((path) => rowOf(stack, record, path, fieldOf(guide, path)))
		}))
		.filter((group) => group.rows.length > 0);
}

/** A text in each language, as it is edited. */
function textRow(
	{ stack, project }: Model,
	key: string,
	about: Pick<TextRow, 'label' | 'required' | 'longest' | 'oneLine'>,
	look: TextRow['look']
): TextRow {
	const words = stack.guide.words!;
	const text = stack.tables.get(words.kind)?.byId.get(key);
	const languages = Object.entries(words.languages).map(([code, title]) => {
		const value = text?.values.get(code);
		return {
			code,
			title,
			main: code === words.main,
			value: value?.value ?? '',
			base: (text && baseValueOf(text, code)) ?? null,
			mine: isEditable(value?.presence.layer),
			goes: textGoes(stack, key, code, project.mod)
		};
	});
	const { label, required, longest, oneLine } = about;
	return { label, key, required, longest, oneLine, look, languages };
}

function textsOf(model: Model, record: EffectiveRecord): TextRow[] {
	const { guide } = model.stack;
	if (!textTable(model.stack)) return [];
	return textKeysOf(model.stack, record).flatMap((about) =>
		about.key === null
			? []
			: [
					textRow(
						model,
						about.key,
						about,
						lookOf(guide, about, (field) => valueOf(record, field))
					)
				]
	);
}

/** A text by itself, drawn where the first record that has it shows it. */
function textOf(model: Model, record: EffectiveRecord, users: readonly Link[]): TextRow | null {
	const { guide } = model.stack;
	if (guide.words?.kind !== record.kind) return null;
	const user = users.find(({ text }) => text)?.from;
	const field = users.find(({ text }) => text)?.field;
	const about = user && guide.kinds[user.kind]!.texts.find(({ label }) => label === field);
	const look = lookOf(guide, about, (name) => user && valueOf(user, name));
	return textRow(
		model,
		record.id,
		about ?? { label: guide.kinds[record.kind]!.title, required: false },
		look
	);
}

const AROUND = 3;
const MOST_LINES = 60;

/** The lines of a record in its file; null for a file of bytes, which has none. */
function sourceOf({ layer, path, file: { text }, doc, record }: Presence): SourceView | null {
	const { content } = doc;
	if (!text || typeof content !== 'string') return null;
	const from = lineAt(doc.lines, record.from);
	const to = Math.min(lineAt(doc.lines, Math.max(record.from, record.to - 1)), from + MOST_LINES);
	const lines: SourceView['lines'] = [];
	for (let number = Math.max(1, from - AROUND); number <= Math.min(doc.lines.length, to + AROUND); number++) {
		const start = doc.lines[number - 1]!;
		const end = doc.lines[number] ?? content.length;
		lines.push({
			number,
			text: content.slice(start, Math.min(end, start + 2000)).replace(/[\r\n]+$/, ''),
			inside: number >= from && number <= to
		});
	}
	return {
		layer: layer.title,
		owner: layer.owner,
		path,
		encoding: text.encoding,
		eol: text.eol,
		bom: text.bom,
		from,
		to,
		lines
	};
}

/** Recipes that start from a record of a kind. */
const recipesFor = (stack: Stack, kind: string): Ticket['recipes'] =>
	Object.entries(stack.guide.recipes ?? {}).flatMap(([name, { title, blanks }]) => {
		const blank = Object.entries(blanks).find(([, about]) => about.kind === kind && !about.new)?.[0];
		return blank === undefined ? [] : [{ name, title, blank }];
	});

/** Its lists, what of it is optional, and what it has not got and others have. */
function partsOfTicket(
	stack: Stack,
	record: EffectiveRecord
): Pick<Ticket, 'lists' | 'missing' | 'optional' | 'removable'> {
	const lists = listsOf(stack, record);
	const { doc } = record.presences.at(-1)!;
	return {
		lists,
		missing: missingIn(stack, record, lists),
		optional: optionalIn(record),
		removable: formatOf(doc.format)?.traits.nested === true
	};
}

/** Records that name this one, as many as are listed at first. */
const MOST_USERS = 200;

/** One field of a record, as its ticket shows it; null where the record has no such field. @throws NotThere */
export function fieldIn(model: Model, kind: string, id: string, path: string): FieldRow | null {
	const record = recordIn(model, kind, id);
	const guide = model.stack.guide.kinds[kind]!;
	// A text may be written in any language that the game has.
	const isText = Object.hasOwn(languagesOf(model.stack, kind) ?? {}, path);
	if (path === guide.key || (!isText && !isField(record, guide, path))) return null;
	return rowOf(model.stack, record, path, fieldOf(guide, path));
}

/** The ticket of a record. @throws NotThere */
export function ticketOf(model: Model, kind: string, id: string): Ticket {
	const { stack, links, snags } = model;
	const record = recordIn(model, kind, id);
	const users = linksTo(links, record, MOST_USERS);
	const usedBy = users.map((link) => ({
		...named(stack, link.from),
		field: link.text
			? link.field
			: (fieldOf(stack.guide.kinds[link.from.kind], link.field)?.title ?? link.field)
	}));
	return {
		kind,
		kindTitle: stack.guide.kinds[kind]!.title,
		kindPlural: stack.guide.kinds[kind]!.plural ?? stack.guide.kinds[kind]!.title,
		id,
		name: nameOf(stack, record) ?? id,
		names: [...namesOf(stack, record)].map(([language, name]) => ({
			language: stack.guide.words?.languages[language] ?? languageName(language) ?? '',
			name
		})),
		ownNames: ownNamesOf(stack, record).map(({ language, name }) => ({
			language,
			title: stack.guide.words?.languages[language] ?? languageName(language),
			name
		})),
		remark: record.presences.map((presence) => presence.remark).findLast(Boolean) ?? null,
		changed: isChanged(record.table, record.row),
		inMine: record.presences.some((presence) => isEditable(presence.layer)),
		inBase: isInBase(record),
		groups: groupsOf(stack, record),
		...partsOfTicket(stack, record),
		// The parts of a text are its languages, and each can be written.
		...(languagesOf(stack, kind) ? { missing: [] } : {}),
		assets: assetsOf(stack, record),
		texts: textsOf(model, record),
		text: textOf(model, record, users),
		usedBy,
		users: usesOf(links, record, true),
		mentions: mentionsOf(stack, id),
		sources: record.presences.flatMap((one) => sourceOf(one) ?? []).reverse(),
		bytes: recordBytes(record),
		snags: snags.filter((snag) => snag.kind === kind && snag.record === id),
		budget: budgetIn(stack, record),
		merge: stack.guide.kinds[kind]!.merge,
		named:
			record.presences.some(({ written }) => written) ||
			(stack.guide.kinds[kind]!.keyParts === undefined && !/#\d+$/.test(id)),
		together: togetherOf(stack, record),
		ownId: ownIdOf(stack, record),
		outable: stack.mine !== null && removesPath(stack.guide.kinds[kind]!, model.project.mod) !== null,
		places: placesIn(stack, record),
		recipes: recipesFor(stack, kind)
	};
}

/** The values that name a record together, by their fields; null where another thing does. */
function togetherOf(stack: Stack, record: EffectiveRecord): Ticket['together'] {
	const { keyParts } = stack.guide.kinds[record.kind]!;
	return keyParts?.length ? keyParts.map((field) => ({ field, value: valueOf(record, field) ?? '' })) : null;
}

/** The item of a list of ids that names a record; null where another thing does. */
function ownIdOf(stack: Stack, record: EffectiveRecord): string | null {
	const first = firstIdOf(stack.guide.kinds[record.kind]!);
	return first !== undefined && isOwnId(stack, record, first) ? first : null;
}

/** What belongs to a record besides itself, and what is wrong with an id for a new one. @throws NotThere */
export function partsFor(model: Model, kind: string, id: string, newId: string): PartsView {
	const record = recordIn(model, kind, id);
	return {
		parts: partsOf(model.stack, model.links, record),
		inside: idsInside(model.stack, record, newId || `${id}_new`).map((one) => ({
			...one,
			title: model.stack.guide.kinds[one.kind]!.title
		})),
		fault: newId === '' ? null : idFault(model.stack, kind, newId),
		longest: model.stack.guide.kinds[kind]!.limits.id ?? null
	};
}

/** Choices that are sent at a time. */
const MOST_CHOICES = 400;

/**
 * The records that fit a reference field, and how many there are; where they are many, those whose name or id holds all
 * words. With the id of one of them, those most like it come first.
 */
export function choicesFor(model: Model, kind: string, field: string, words: string, like = ''): ChoiceList {
	const { stack } = model;
	const reference = fieldOf(stack.guide.kinds[kind], field)?.reference;
	const kinds = reference?.kinds ?? [];
	const total = kinds.reduce((sum, target) => sum + (stack.tables.get(target)?.count ?? 0), 0);
	const asked =
		total > MOST_CHOICES
			? fold(words)
					.split(/\s+/)
					.filter((word) => word !== '')
			: [];
	const choices = kinds.flatMap((target) => {
		const guide = stack.guide.kinds[target]!;
		const told = Object.entries(guide.fields)
			.filter(([, about]) => about.type === 'whole' || about.type === 'decimal')
			.slice(0, 4);
		const table = stack.tables.get(target);
		const known = recordNamed(table, like, reference!.key);
		const ordered = known
			? [known, ...mostLike(known, MOST_CHOICES).map(({ row }) => table!.record(row))]
			: (table?.records ?? []);
		const records: EffectiveRecord[] = [];
		for (const record of ordered) {
			if (records.length >= MOST_CHOICES) break;
			if (asked.length > 0) {
				const said = fold(`${displayName(stack, record)} ${record.id}`);
				if (!asked.every((word) => said.includes(word))) continue;
			}
			records.push(record);
		}
		return records.map((record) => ({
			...named(stack, record),
			value:
				reference!.key === undefined
					? (valueFor(reference!, record.id, target) ?? record.id)
					: (valueOf(record, reference!.key) ?? ''),
			figures: told.map(([path, about]) => ({
				title: about.title ?? path,
				value: `${valueOf(record, path) ?? ''}${about.unit ? ` ${about.unit}` : ''}`
			}))
		}));
	});
	return { choices: choices.slice(0, MOST_CHOICES), total };
}
