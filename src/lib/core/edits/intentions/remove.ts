// A record out of my mod, with what was only there for it, and what becomes of those who name it.
import { counted } from '../../wording';
import * as z from 'zod';
import { fillPattern, mentionsIn, removesPath } from '../../guide';
import { buildLinks, linksTo, type Link, type Links } from '../../links';
import { isEditable, displayName, isInBase, textKeysOf, valueOf, type EffectiveRecord } from '../../stack';
import { itemOf, othersOf, ruleAt } from '../belongings';
import { recount, recountItems, setValues } from '../follow';
import { unhook } from '../hooked';
import { repoint } from '../repoint';
import { removeRecord, take } from '../steps';
import { takeOutCopies } from '../take-out';
import { find, note, NotPossible, wanted, type Following, type Work } from '../work';
import { declining, name, type Drafted } from './intention';

const schema = z.object({
	do: z.literal('remove'),
	kind: name,
	id: name,
	/** Chooses among several with the same id. */
	line: z.int().positive().optional(),
	/** What becomes of fields that name it: they stay, are emptied, or name another. */
	settle: z
		.discriminatedUnion('how', [
			z.object({ how: z.literal('leave') }),
			z.object({ how: z.literal('empty') }),
			z.object({ how: z.literal('point'), to: name })
		])
		.optional(),
	...declining
});

type Settle = z.infer<typeof schema>['settle'];

/** A list in one cell without the entries that name a record. */
function without(link: Link, value: string, links: Links): string {
	const rule = ruleAt(links.stack, link);
	if (rule.list === undefined) return '';
	let next = value;
	for (const mention of mentionsIn(rule, value).reverse()) {
		if (mention.id !== link.value) continue;
		const before = next.lastIndexOf(rule.list, mention.from);
		const behind = next.indexOf(rule.list, mention.to);
		if (behind >= 0)
			next =
				next.slice(0, before < 0 ? 0 : before + rule.list.length) + next.slice(behind + rule.list.length);
		else next = before < 0 ? '' : next.slice(0, before);
	}
	return next;
}

/** Empties every field that names a record; items of lists are taken out. */
function unname(work: Work, links: Links, record: EffectiveRecord): void {
	const { draft, stack } = work;
	const following: Following = { follows: 'named it', by: 'reference' };
	const named = linksTo(links, record).filter(
		({ text, field, from }) =>
			!text && !field.startsWith('#') && !(from.kind === record.kind && from.id === record.id)
	);
	const items = named.filter(({ field }) => itemOf(field) !== null);
	// From the last item on, so that the numbers of the others stay.
	for (const { from, field } of items.sort((a, b) => itemOf(b.field)!.at - itemOf(a.field)!.at)) {
		const { list, at } = itemOf(field)!;
		const path = take(draft, from, work.say, list);
		const node = draft.record({ path, kind: from.kind, id: from.id });
		if (!node) continue;
		draft.edit(path, draft.format(path).removeItem(draft.doc(path)!, node, list, at));
		note(work, from, field, record.id, null, following);
		recountItems(work, from, path, list);
	}
	const cells = named
		.filter((link) => !items.includes(link) && !ruleAt(stack, link).names)
		.map((link) => ({
			record: link.from,
			field: link.field,
			value: without(link, valueOf(link.from, link.field) ?? '', links)
		}));
	setValues(work, cells, following);
}

/** Takes the texts of a record that only my mod has out with it, unless another record wears them. */
function removeTexts(work: Work, record: EffectiveRecord): void {
	const { stack, draft } = work;
	const words = stack.tables.get(stack.guide.words?.kind ?? '');
	if (!words || !wanted(work, 'text')) return;
	const worn = new Set(
		stack.tables
			.get(record.kind)!
			.records.filter(({ id }) => id !== record.id)
			.flatMap((other) => textKeysOf(stack, other).map(({ key }) => key))
	);
	for (const { key } of textKeysOf(stack, record)) {
		const text = key === null || worn.has(key) ? undefined : words.byId.get(key);
		if (!text || isInBase(text)) continue;
		for (const { path, language } of text.presences) {
			const place = { path, kind: words.kind, id: key! };
			if (!draft.record(place)) continue;
			removeRecord(draft, place, work.say);
			note(work, text, language ?? 'text', (language && valueOf(text, language)) ?? null, null, {
				follows: `text of ${record.id}`,
				by: 'text'
			});
		}
	}
}

/** Takes what is one thing with a record out of my mod with it. */
function removeOthers(work: Work, record: EffectiveRecord): void {
	const { stack, draft } = work;
	for (const [other, following] of [...othersOf(work, record)]) {
		if (isInBase(other)) continue;
		for (const { path } of other.presences) {
			const place = { path, kind: other.kind, id: other.id };
			if (draft.record(place)) removeRecord(draft, place, work.say);
		}
		note(work, other, stack.guide.kinds[other.kind]!.key ?? 'id', other.id, null, following);
	}
}

/** Takes the files that are named after a record and that only my mod has out with it. */
function removeAssets(work: Work, record: EffectiveRecord): void {
	const { stack, draft } = work;
	if (!wanted(work, 'asset')) return;
	for (const { path: pattern } of stack.guide.kinds[record.kind]!.assets ?? []) {
		const path = fillPattern(pattern, (name) => (name === 'id' ? record.id : valueOf(record, name)));
		const below = stack.layers.some(
			(layer) => !isEditable(layer) && path !== null && (layer.paths ?? layer.files).has(path)
		);
		if (path === null || below || !draft.has(path)) continue;
		unhook(work, record, path);
		draft.drop(path);
		note(work, record, 'file', path, null, { follows: 'is named after it', by: 'asset' });
	}
}

/** Takes all other files of a record's folder out of my mod: the folder is the record. */
function dropFolder({ draft, stack, say }: Work, path: string): void {
	const folder = path.slice(0, path.lastIndexOf('/') + 1);
	if (folder === '') return;
	for (const other of stack.mine!.files.keys())
		if (other !== path && other.startsWith(folder)) {
			draft.drop(other);
			say(`${other} goes with it.`);
		}
}

/** What becomes of fields that name a record which goes. */
function settleUsers(work: Work, links: Links, record: EffectiveRecord, settle: Settle): void {
	if (!settle || settle.how === 'leave') return;
	if (settle.how === 'empty') return unname(work, links, record);
	find(work.stack, record.kind, settle.to);
	repoint(work, links, record, settle.to, { follows: 'referred to the removed record', by: 'reference' });
}

/** Says how many fields will refer to nothing. */
function sayOrphans(work: Work, links: Links, record: EffectiveRecord, settle: Settle): void {
	const left = linksTo(links, record).filter(({ text, field }) => !text && !field.startsWith('#')).length;
	if (left > 0 && (!settle || settle.how === 'leave'))
		work.say(`${counted(left, 'field refers', 'fields refer')} to it and will refer to nothing.`);
}

/** Takes a record of the layers below out of what the game reads, by exact copies in a file of my mod. */
function takeOut(work: Work, record: EffectiveRecord, path: string, settle: Settle, known?: Links): string {
	const { stack, draft } = work;
	const links = known ?? buildLinks(stack);
	settleUsers(work, links, record, settle);
	takeOutCopies(work, record, path);
	// One that names itself was taken into my mod to be settled.
	for (const { path: from } of record.presences) {
		const place = { path: from, kind: record.kind, id: record.id };
		if (draft.record(place)) removeRecord(draft, place, work.say);
	}
	note(work, record, stack.guide.kinds[record.kind]!.key ?? 'id', record.id, null);
	recount(work, record.kind, -1);
	sayOrphans(work, links, record, settle);
	return `Remove ${displayName(stack, record)} from the game`;
}

/** My version of a record out of my mod; a record of the layers below out of what the game reads. */
export const remove: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, id, line, settle }, { links: known }) {
		const { stack } = work;
		const record = find(stack, kind, id);
		const mine = record.presences.find((presence) => isEditable(presence.layer));
		if (!mine) {
			const path = removesPath(stack.guide.kinds[kind]!, work.name.mod);
			if (path === null)
				throw new NotPossible('Your mod does not have this record; the layers below are never edited.');
			return takeOut(work, record, path, settle, known);
		}
		const below = record.presences.filter((presence) => !isEditable(presence.layer));
		const copies = mine.doc.records.filter((other) => other.id === id).length;
		const goes = copies === 1 && !isInBase(record);
		const links = known ?? (goes ? buildLinks(stack) : null);
		if (goes && links) settleUsers(work, links, record, settle);
		removeRecord(
			work.draft,
			{ path: mine.path, kind, id },
			work.say,
			copies > 1 ? (line ?? mine.line) : undefined
		);
		if (goes && stack.guide.kinds[kind]!.id === 'folder') dropFolder(work, mine.path);
		if (copies > 1) {
			work.say(`Of the ${copies} records with this id, the other stays.`);
			note(work, record, stack.guide.kinds[kind]!.key ?? 'id', id, null);
			return `Remove the second ${id}`;
		}
		for (const [field, value] of record.values) {
			if (!isEditable(value.presence.layer)) continue;
			const under = below.at(-1)?.fields.find((candidate) => candidate.path === field);
			const after = under ? under.value : null;
			if (value.value !== after) note(work, record, field, value.value, after);
		}
		if (below.length > 0) {
			work.say('The record returns to its base values.');
			return `Revert ${displayName(stack, record)} to base`;
		}
		if (goes && links) {
			removeTexts(work, record);
			removeOthers(work, record);
			removeAssets(work, record);
			recount(work, kind, -1);
			sayOrphans(work, links, record, settle);
		}
		return `Remove ${displayName(stack, record)}`;
	},
	words: ({ said }) => `Remove ${said('id')}`
};
