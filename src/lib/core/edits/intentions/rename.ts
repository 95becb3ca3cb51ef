// Another id for a record, everywhere: what names it, its texts, its files, scripts. What belongs to the game cannot be
// renamed in it: then the new id is that of a copy, and all that named the old one names the copy.
import { counted, either } from '../../wording';
import * as z from 'zod';
import { removesPath } from '../../guide';
import { buildLinks, linksTo, type Links } from '../../links';
import { fileBelow, isEditable, displayName, valueOf, type EffectiveRecord, type Stack } from '../../stack';
import {
	alike,
	assetsFor,
	copyAssets,
	copyFile,
	copyOthers,
	copyRecord,
	copyTexts,
	derivedFor,
	othersOf,
	pathUnder,
	textsFor
} from '../belongings';
import type { Place } from '../draft';
import { hookUp } from '../hooked';
import { checkNewId } from '../new-id';
import { repoint, repointed, repointScripts } from '../repoint';
import { removeRecord, setField, take } from '../steps';
import { takeOutCopies } from '../take-out';
import { find, note, NotPossible, textBefore, wanted, write, type Following, type Work } from '../work';
import { declining, name, type Drafted } from './intention';

const schema = z.object({ do: z.literal('rename'), kind: name, id: name, newId: name, ...declining });

/** Whether a record can get another id where it stands: it is mine alone, or my mod's copy of its whole file counts. */
function isOwn({ guide }: Stack, { kind, presences }: EffectiveRecord): boolean {
	if (presences.every(({ layer }) => isEditable(layer))) return true;
	return (
		guide.kinds[kind]!.merge === 'file' && presences.length === 1 && presences[0]!.record.idSpan !== null
	);
}

/** Writes another id in a record of my mod, or gives its file another name. */
function renameInPlace(
	work: Work,
	record: EffectiveRecord,
	newId: string,
	following?: Following
): Map<string, string> {
	const { stack, draft } = work;
	const derived = derivedFor(stack, record, newId);
	take(draft, record, work.say);
	for (const { path } of record.presences) {
		let now = path;
		const node = draft.record({ path, kind: record.kind, id: record.id });
		if (!node) continue;
		if (node.idSpan) draft.edit(path, draft.format(path).rename(draft.doc(path)!, node, newId));
		else if (stack.guide.kinds[record.kind]!.id === 'file' && stack.mine!.files.has(path)) {
			now = pathUnder(stack, record, newId);
			if (draft.has(now)) throw new NotPossible(`Your mod already has a file ${now}.`);
			draft.move(path, now);
		} else {
			now = copyRecord({ ...work, values: [] }, record, newId).path;
			draft.drop(path);
		}
		const place: Place = { path: now, kind: record.kind, id: newId };
		for (const [field, next] of derived)
			if (draft.record(place)?.fields.some((one) => one.path === field))
				setField(draft, place, { field, value: next });
	}
	note(work, record, stack.guide.kinds[record.kind]!.key ?? 'id', record.id, newId, following);
	for (const [field, next] of derived)
		note(
			work,
			record,
			field,
			valueOf(record, field) ?? null,
			next,
			following ?? { follows: 'follows from the id', by: 'derived' }
		);
	return derived;
}

/** Gives the texts of a record the keys that they have under another id; those of the game are rewritten. */
function renameTexts(
	work: Work,
	record: EffectiveRecord,
	newId: string,
	derived: ReadonlyMap<string, string>
): void {
	const { stack, draft } = work;
	const words = stack.guide.words;
	if (!words || !wanted(work, 'text')) return;
	const following = { follows: `text of ${newId}`, by: 'text' } as const;
	for (const { key, next } of textsFor(stack, record, newId, derived)) {
		const text = stack.tables.get(words.kind)?.byId.get(key);
		for (const language of Object.keys(words.languages)) {
			const before = textBefore(stack, key, language);
			if (before === null) continue;
			const mine = text?.presences.find((one) => isEditable(one.layer) && one.language === language);
			const node = mine && draft.record({ path: mine.path, kind: words.kind, id: key });
			if (mine && node) {
				draft.edit(mine.path, draft.format(mine.path).rename(draft.doc(mine.path)!, node, next));
				work.values.push({
					kind: words.kind,
					id: next,
					name: next,
					field: language,
					before: null,
					after: before,
					...following
				});
			} else write(work, next, language, before, following);
		}
		repointScripts(work, [words.kind], key, next);
	}
}

/** Renames a record of my mod with all that belongs to it. */
function renameOwn(work: Work, links: Links, record: EffectiveRecord, newId: string): number {
	const { stack, draft } = work;
	const count = repoint(work, links, record, newId, { follows: 'names it', by: 'reference' });
	const derived = renameInPlace(work, record, newId);
	renameTexts(work, record, newId, derived);
	if (wanted(work, 'asset'))
		for (const { path, next } of assetsFor(stack, record, newId)) {
			if (!copyFile(work, path, next)) continue;
			const own = stack.mine!.files.has(path);
			hookUp(work, { kind: record.kind, id: newId }, path, next, own && fileBelow(stack, path) === undefined);
			if (own) draft.drop(path);
			note(work, record, 'file', path, next, { follows: 'is named after it', by: 'asset' });
		}
	for (const [other, following] of [...othersOf(work, record)]) {
		if (isOwn(stack, other)) renameInPlace(work, other, newId, following);
		else copyRecord(work, other, newId, following);
		const place: Place = { path: other.presences.at(-1)!.path, kind: other.kind, id: newId };
		if (following.by === 'twin') alike(work, place, derived);
	}
	return count;
}

const withUsers = (count: number) =>
	count === 0 ? '' : `, with ${counted(count, 'field')} that ${either(count, 'names', 'name')} it`;

/** Another id, everywhere. What belongs to the game stays, and all that names it names its copy instead. */
export const rename: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, id, newId }, { links: known }) {
		const { stack } = work;
		const record = find(stack, kind, id);
		if (stack.guide.words?.kind === kind)
			throw new NotPossible('The key of a text follows from its record; rename the record.');
		if (newId !== id && newId.toLowerCase() !== id.toLowerCase()) checkNewId(stack, kind, newId);
		else if (newId === id || stack.tables.get(kind)!.byId.has(newId))
			throw new NotPossible(`The id “${newId}” is already used.`);
		const links = known ?? buildLinks(stack);
		const shown = displayName(stack, record);
		if (isOwn(stack, record)) {
			const count = renameOwn(work, links, record, newId);
			repointScripts(work, [kind], id, newId);
			return `Rename ${shown}: ${id} to ${newId}${withUsers(count)}`;
		}
		const { path, derived } = copyRecord(work, record, newId);
		copyTexts(work, record, newId, derived);
		copyAssets(work, record, newId);
		copyOthers(work, record, newId, derived);
		const count = repoint(work, links, record, newId, { follows: 'names it', by: 'reference' });
		// What the record says of itself is said of the copy too.
		for (const link of linksTo(links, record)) {
			if (link.text || link.field.startsWith('#') || link.from.kind !== kind || link.from.id !== id) continue;
			setField(
				work.draft,
				{ path, kind, id: newId },
				{
					field: link.field,
					value: repointed(link, valueOf(record, link.field) ?? '', id, newId, links)
				}
			);
		}
		repointScripts(work, [kind], id, newId);
		if (wanted(work, 'text'))
			for (const text of textsFor(stack, record, newId, derived))
				repointScripts(work, [stack.guide.words!.kind], text.key, text.next);
		const out = removesPath(stack.guide.kinds[kind]!, work.name.mod);
		if (out !== null && record.presences.every(({ layer }) => !isEditable(layer))) {
			takeOutCopies(work, record, out);
			// What belongs together with it goes too, where my mod has the whole of its file by now.
			for (const [other] of [...othersOf(work, record)])
				for (const { path } of other.presences) {
					const place: Place = { path, kind: other.kind, id };
					if (work.draft.record(place)) removeRecord(work.draft, place, work.say);
				}
			return `Rename ${shown}: ${id} to ${newId}${withUsers(count)}`;
		}
		work.say(
			`${id} belongs to the game and stays in it, but nothing refers to it any more: ${counted(count, 'field now refers', 'fields now refer')} to ${newId}.`
		);
		return `Rename ${shown}: ${id} to ${newId}, as a copy that ${counted(count, 'field')} name`;
	},
	words: ({ said }) => `Rename ${said('id')} to ${said('newId')}`
};
