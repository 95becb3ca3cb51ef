// One record on one page, for the ticket: each field with base value, my value, meaning and place among all others.
import {
	beside,
	fieldOf,
	flagsOf,
	isPattern,
	meaningOf,
	removesPath,
	mentionsIn,
	valueFor,
	type FieldGuide,
	type KindGuide,
	type ReferenceGuide
} from '$core/guide';
import { idFault, partsOf } from '$core/edits';
import { linksTo, mentionsOf, usesOf } from '$core/links';
import { budgetOf, columnSpread, costInWords, inWords, valuesTaken } from '$core/numbers';
import { fold, mostLike } from '$core/search';
import { lineAt } from '$core/text';
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
	textKeysOf,
	valueOf,
	type EffectiveRecord,
	type Presence,
	type Stack
} from '$core/stack';
import type { ChoiceList, FieldRow, Named, PartsView, SourceView, TextRow, Ticket } from '$core/views';
import type { Model } from '../model';
import { placesIn } from './places';
import { recordIn } from './relations';

const named = (stack: Stack, record: EffectiveRecord): Named => ({
	kind: record.kind,
	id: record.id,
	name: displayName(stack, record)
});

/** The record that a value names, by the rule of its field. */
function targetOf(
	stack: Stack,
	record: EffectiveRecord,
	path: string,
	reference: ReferenceGuide,
	written: string
): EffectiveRecord | null {
	const decided = reference.by && valueOf(record, beside(path, reference.by.field));
	const [mention] = mentionsIn(reference, written, decided);
	if (!mention) return null;
	for (const kind of mention.kind === undefined ? reference.kinds : [mention.kind]) {
		const table = stack.tables.get(kind);
		const found =
			table?.byId.get(mention.id) ??
			(reference.anyCase
				? table?.records.find(({ id }) => id.toLowerCase() === mention.id.toLowerCase())
				: undefined);
		if (found) return found;
	}
	return null;
}

const severalIn = (path: string, { list, weight, names }: ReferenceGuide) =>
	Boolean(list ?? weight ?? names) || path.startsWith('#');

/** Shown names of the records that a list names, by their ids. */
function shownIn(
	stack: Stack,
	reference: ReferenceGuide | undefined,
	written: string
): Record<string, string> | null {
	if (!reference || reference.names) return null;
	const named = mentionsIn(reference, written).flatMap(({ id }) => {
		const record = reference.kinds.map((kind) => stack.tables.get(kind)?.byId.get(id)).find(Boolean);
		return record ? [[id, displayName(stack, record)] as const] : [];
	});
	return Object.fromEntries(named);
}

function costIn({ guide }: Stack, kind: string, path: string): string | null {
	const about = guide.kinds[kind];
	if (!about?.budget) return null;
	const field = fieldOf(about, path);
	return costInWords(about.budget, path, (code) => (field ? meaningOf(field, code) : null));
}

function budgetIn({ guide }: Stack, record: EffectiveRecord): Ticket['budget'] {
	const budget = guide.kinds[record.kind]!.budget;
	if (!budget) return null;
	const base = isInBase(record) ? budgetOf(budget, (field) => baseValueOf(record, field)).spent : null;
	return { ...budgetOf(budget, (field) => valueOf(record, field)), base };
}

/** All codes that the guide or some record knows. */
function choicesOf(
	{ table }: EffectiveRecord,
	path: string,
	{ codes = {} }: FieldGuide
): FieldRow['choices'] {
	const taken = new Map(valuesTaken(table, path).map(({ value, count }) => [value, count]));
	return [...new Set([...Object.keys(codes), ...taken.keys()])].map((value) => ({
		value,
		means: codes[value] ?? null,
		count: taken.get(value) ?? 0
	}));
}

function ignoredIn(record: EffectiveRecord, guide: FieldGuide | undefined): string | null {
	if (guide?.unused) return 'The game never reads it.';
	if (!guide?.onlyIf) return null;
	const { field, is } = guide.onlyIf;
	return is.includes(valueOf(record, field) ?? '') ? null : `Ignored unless ${field} is ${is.join(' or ')}.`;
}

/** What a record takes over in a field from another of its kind. */
function takenOver(stack: Stack, { table, row }: EffectiveRecord, path: string): FieldRow['taken'] {
	const found = inheritedValue(table, row, path);
	return found && { ...found, from: named(stack, table.record(found.from)) };
}

function rowOf(stack: Stack, record: EffectiveRecord, path: string, guide: FieldGuide | undefined): FieldRow {
	const value = record.values.get(path);
	const written = value?.value ?? '';
	const base = baseValueOf(record, path) ?? null;
	const layer = value?.presence.layer;
	const kinds = guide?.reference?.kinds ?? [];
	const target = guide?.reference ? targetOf(stack, record, path, guide.reference, written) : null;
	const scaled = guide?.type !== 'flags' && guide?.type !== 'code' && !guide?.reference;
	const among = scaled ? columnSpread(record.table, path) : null;
	return {
		path,
		title: guide?.title ?? path,
		unit: guide?.unit ?? null,
		type: guide?.type ?? 'text',
		numeric: ['whole', 'decimal', 'flags', 'chance', 'angle', 'duration', 'position'].includes(
			guide?.type ?? (among ? 'decimal' : 'text')
		),
		meaning: guide?.meaning ?? null,
		base,
		below:
			isEditable(layer) && value?.overrode[0]?.layer.owner === 'others'
				? value.overrode[0].layer.title
				: null,
		value: written,
		mine: isEditable(layer),
		changed: isEditable(layer) && base !== written,
		from: layer?.owner === 'others' ? layer.title : null,
		min: guide?.min ?? null,
		max: guide?.max ?? null,
		required: guide?.required ?? false,
		flags: guide?.type === 'flags' ? flagsOf(guide, written) : [],
		shown: shownAs(record, path, guide),
		means: meaningOf(guide, written) ?? (guide ? inWords(guide, written) : null),
		reference: guide?.reference
			? {
					kinds,
					target: target ? named(stack, target) : null,
					several: severalIn(path, guide.reference),
					chain: kinds.includes(record.kind) && !/[[#*]/.test(path)
				}
			: null,
		weights:
			guide?.type === 'weights' && (guide.reference?.list ?? guide.separator)
				? {
						list: guide.reference?.list ?? guide.separator,
						weight: guide.reference?.weight ?? guide.weight
					}
				: null,
		names: guide?.type === 'weights' ? shownIn(stack, guide.reference, written) : null,
		choices: guide?.codes && guide.type !== 'flags' ? choicesOf(record, path, guide) : [],
		about: { perSecond: guide?.perSecond, decimals: guide?.decimals },
		costs: costIn(stack, record.kind, path),
		taken: value ? null : takenOver(stack, record, path),
		ignored: ignoredIn(record, guide),
		spread: among,
		remark: value?.remark ?? null
	};
}

/** Whether a record has a field, or may get it: what the guide says of many paths at once is none of them. */
const isField = (record: EffectiveRecord, guide: KindGuide, path: string): boolean =>
	record.values.has(path) ||
	(path in guide.fields && !isPattern(path)) ||
	inheritedValue(record.table, record.row, path) !== null;

function groupsOf(stack: Stack, record: EffectiveRecord): Ticket['groups'] {
	const table = stack.tables.get(record.kind)!;
	const guide = table.guide;
	const paths = [
		...new Set([
			...Object.keys(guide.fields),
			...(isWide(table) ? inheritedIn(table, record.row).keys() : table.columns),
			...record.values.keys()
		])
	].filter((path) => path !== guide.key && isField(record, guide, path));
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

function textsOf(stack: Stack, record: EffectiveRecord): TextRow[] {
	const words = stack.guide.words;
	const table = words && stack.tables.get(words.kind);
	if (!words || !table) return [];
	return textKeysOf(stack, record).flatMap(({ label, key, required, longest, oneLine }) => {
		if (key === null) return [];
		const text = table.byId.get(key);
		const languages = Object.entries(words.languages).map(([code, title]) => {
			const value = text?.values.get(code);
			const mine = isEditable(value?.presence.layer);
			const base = mine ? (value!.overrode[0]?.value ?? null) : (value?.value ?? null);
			return { code, title, value: value?.value ?? '', base, mine };
		});
		return [{ label, key, required, longest, oneLine, languages }];
	});
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

/** As which item of its list the game shows a value, where that is the last first. */
function shownAs(record: EffectiveRecord, path: string, guide: FieldGuide | undefined): FieldRow['shown'] {
	const item = guide?.reversed ? /^(.*)\[(\d+)\]$/.exec(path) : null;
	if (!item) return null;
	let count = 0;
	while (record.values.has(`${item[1]}[${count}]`)) count++;
	return [count - Number(item[2]), count];
}

/** Recipes that start from a record of a kind. */
const recipesFor = (stack: Stack, kind: string): Ticket['recipes'] =>
	Object.entries(stack.guide.recipes ?? {}).flatMap(([name, { title, blanks }]) => {
		const blank = Object.entries(blanks).find(([, about]) => about.kind === kind && !about.new)?.[0];
		return blank === undefined ? [] : [{ name, title, blank }];
	});

/** Records that name this one, as many as are listed at first. */
const MOST_USERS = 200;

/** One field of a record, as its ticket shows it; null where the record has no such field. @throws NotThere */
export function fieldIn(model: Model, kind: string, id: string, path: string): FieldRow | null {
	const record = recordIn(model, kind, id);
	const guide = model.stack.guide.kinds[kind]!;
	if (path === guide.key || !isField(record, guide, path)) return null;
	return rowOf(model.stack, record, path, fieldOf(guide, path));
}

/** The ticket of a record. @throws NotThere */
export function ticketOf(model: Model, kind: string, id: string): Ticket {
	const { stack, links, snags } = model;
	const record = recordIn(model, kind, id);
	const usedBy = linksTo(links, record, MOST_USERS).map((link) => ({
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
			language: stack.guide.words!.languages[language]!,
			name
		})),
		remark: record.presences.map((presence) => presence.remark).findLast(Boolean) ?? null,
		changed: isChanged(record.table, record.row),
		inMine: record.presences.some((presence) => isEditable(presence.layer)),
		inBase: isInBase(record),
		groups: groupsOf(stack, record),
		texts: textsOf(stack, record),
		usedBy,
		users: usesOf(links, record, true),
		mentions: mentionsOf(stack, id),
		sources: record.presences.flatMap((one) => sourceOf(one) ?? []).reverse(),
		snags: snags.filter((snag) => snag.kind === kind && snag.record === id),
		budget: budgetIn(stack, record),
		merge: stack.guide.kinds[kind]!.merge,
		outable: stack.mine !== null && removesPath(stack.guide.kinds[kind]!, model.project.mod) !== null,
		places: placesIn(stack, record),
		recipes: recipesFor(stack, kind)
	};
}

/** What belongs to a record besides itself, and what is wrong with an id for a new one. @throws NotThere */
export function partsFor(model: Model, kind: string, id: string, newId: string): PartsView {
	return {
		parts: partsOf(model.stack, model.links, recordIn(model, kind, id)),
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
		const known = table?.byId.get(like);
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
