import * as z from 'zod';
import { fieldOf, valueFor } from '../../guide';
import { buildLinks, type Links } from '../../links';
import { displayName, ownNamesOf, valueOf, type EffectiveRecord } from '../../stack';
import {
	copyAssets,
	copyOthers,
	copyRecord,
	copyTexts,
	itemOf,
	listLinks,
	ruleAt,
	withAlike
} from '../belongings';
import { recount, recountItems, setValues } from '../follow';
import { checkNewId } from '../new-id';
import { setField, take } from '../steps';
import { find, note, NotPossible, wanted, type Work } from '../work';
import { declining, name, type Drafted } from './intention';

const schema = z.object({
	do: z.literal('copy'),
	kind: name,
	id: name,
	newId: name,
	/** The shown name by language; under `''` where the record has it itself and no language is said. */
	names: z.record(z.string(), z.string()).default({}),
	/** Ids for copies of the records in its folder, by `kind/id`; what is left out gets one by itself. */
	ids: z.record(z.string(), name).optional(),
	/** A field that is to name the new record. */
	into: z.object({ kind: name, id: name, field: name }).optional(),
	...declining
});

/** Puts the new record behind the old one in every list that names that. */
function joinLists(work: Work, links: Links, record: EffectiveRecord, newId: string): void {
	const { stack, draft } = work;
	const following = { follows: `is listed where ${record.id} stands`, by: 'list' } as const;
	for (const link of listLinks(links, record)) {
		const { from, field } = link;
		if (ruleAt(stack, link).key !== undefined) continue;
		if (!wanted(work, 'list', ruleAt(stack, link).found)) continue;
		const item = itemOf(field);
		if (!item) {
			const value = withAlike(ruleAt(stack, link), valueOf(from, field) ?? '', record.id, newId);
			setValues(work, [{ record: from, field, value }], following);
			continue;
		}
		const path = take(draft, from, work.say, item.list);
		const node = draft.record({ path, kind: from.kind, id: from.id });
		if (!node) continue;
		draft.edit(
			path,
			draft.format(path).insertItem(draft.doc(path)!, node, item.list, item.at + 1, { value: newId })
		);
		note(work, from, `${item.list}[${item.at + 1}]`, null, newId, following);
		recountItems(work, from, path, item.list);
	}
}

/** A new record from a similar one, with all that makes it whole. */
export const copy: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, id, newId, names, ids, into }, { links: known }) {
		const { stack } = work;
		const record = find(stack, kind, id);
		checkNewId(stack, kind, newId);
		const clash = Object.entries(ids ?? {}).find(([place, own]) =>
			stack.tables.get(place.slice(0, place.indexOf('/')))?.byId.has(own)
		);
		if (clash)
			throw new NotPossible(
				`The id “${clash[1]}” is already used; give the copy of ${clash[0]} another one.`
			);
		const { path, derived } = copyRecord(work, record, newId, undefined, ids);
		for (const { field, language, name: before } of ownNamesOf(stack, record)) {
			const value = names[language] ?? '';
			if (value === '' || value === before) continue;
			setField(work.draft, { path, kind, id: newId }, { field, value });
			note(work, { kind, id: newId }, field, before, value);
		}
		copyTexts(work, record, newId, derived, names);
		copyAssets(work, record, newId);
		copyOthers(work, record, newId, derived);
		joinLists(work, known ?? buildLinks(stack), record, newId);
		recount(work, kind, 1);
		if (into) {
			const user = find(stack, into.kind, into.id);
			const reference = fieldOf(stack.guide.kinds[into.kind], into.field)?.reference;
			if (!reference?.kinds.includes(kind))
				throw new NotPossible(
					`${into.field} of ${displayName(stack, user)} does not name a record of this kind.`
				);
			if (reference.key !== undefined)
				throw new NotPossible(
					`${into.field} refers to records by their ${reference.key}; give the new one its own, then refer to it there.`
				);
			setValues(work, [
				{ record: user, field: into.field, value: valueFor(reference, newId, kind) ?? newId }
			]);
		}
		return `Copy ${displayName(stack, record)} as new ${stack.guide.kinds[kind]!.title.toLowerCase()} ${newId}`;
	},
	words: ({ said }) => `Copy ${said('id')} as new: ${said('newId')}`,
	opens: ({ names }, open) => ({
		names: Object.fromEntries(
			Object.entries(names).map(([language, text]) => [
				language,
				open.value(text, language === '' ? 'Name' : `Name, ${open.language(language)}`)
			])
		)
	})
};
