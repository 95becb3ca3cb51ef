// A new record from a similar one, with all that makes it whole.
import { fieldOf, valueFor } from '../guide';
import { buildLinks, type Links } from '../links';
import { displayName, valueOf, type EffectiveRecord, type Stack } from '../stack';
import {
	assetsFor,
	copyAssets,
	copyOthers,
	copyRecord,
	copyTexts,
	derivedFor,
	itemOf,
	listLinks,
	pairsOf,
	ruleAt,
	textsFor,
	twinsOf,
	withAlike
} from './belongings';
import { recount, recountItems, setValues } from './follow';
import type { Intention } from './intention';
import { take } from './steps';
import { find, note, NotPossible, wanted, type Work } from './work';

/** What is wrong with an id for a new record of a kind; null where nothing is. */
export function idFault(stack: Stack, kind: string, id: string): string | null {
	const table = stack.tables.get(kind);
	if (!table) return `There is no kind “${kind}” in this project.`;
	const longest = table.guide.limits.id;
	if (id === '') return 'A new record needs an id.';
	if (table.byId.has(id)) return `The id “${id}” is taken.`;
	if (/\s/.test(id)) return 'An id cannot hold spaces; use _ between words.';
	if (longest && id.length > longest) return `The id has ${id.length} characters; the game takes ${longest}.`;
	const folded = id.toLowerCase();
	for (const other of table.byId.keys())
		if (other.toLowerCase() === folded) return `“${id}” differs from “${other}” only in its case.`;
	return null;
}

/** @throws NotPossible */
export function checkNewId(stack: Stack, kind: string, id: string): void {
	const fault = idFault(stack, kind, id);
	if (fault) throw new NotPossible(fault);
}

/** How many of each sort would come with a copy. */
export function partsOf(stack: Stack, links: Links, record: EffectiveRecord): Record<string, number> {
	const probe = `${record.id}_new`;
	const derived = derivedFor(stack, record, probe);
	return {
		text: textsFor(stack, record, probe, derived).length,
		list: listLinks(links, record).filter((link) => !ruleAt(stack, link).found).length,
		asset: assetsFor(stack, record, probe).length,
		twin: twinsOf(stack, record).filter(({ found }) => !found).length,
		pair: pairsOf(stack, record).filter(({ found }) => !found).length
	};
}

/** Puts the new record behind the old one in every list that names that. */
function joinLists(work: Work, links: Links, record: EffectiveRecord, newId: string): void {
	const { stack, draft } = work;
	const following = { follows: `stands where ${record.id} stands`, by: 'list' } as const;
	for (const link of listLinks(links, record)) {
		const { from, field } = link;
		if (!wanted(work, 'list', ruleAt(stack, link).found)) continue;
		const item = itemOf(field);
		if (!item) {
			const value = withAlike(ruleAt(stack, link), valueOf(from, field) ?? '', record.id, newId);
			setValues(work, [{ record: from, field, value }], following);
			continue;
		}
		const path = take(draft, from, work.say);
		const node = draft.record(path, from.id);
		if (!node) continue;
		draft.edit(
			path,
			draft.format(path).insertItem(draft.doc(path)!, node, item.list, item.at + 1, { value: newId })
		);
		note(work, from, `${item.list}[${item.at + 1}]`, null, newId, following);
		recountItems(work, from, path, item.list);
	}
}

/** Copies a record as new. */
export function copy(
	work: Work,
	{ kind, id, newId, names, into }: Extract<Intention, { do: 'copy' }>,
	known?: Links
): string {
	const { stack } = work;
	const record = find(stack, kind, id);
	checkNewId(stack, kind, newId);
	const { derived } = copyRecord(work, record, newId);
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
		setValues(work, [{ record: user, field: into.field, value: valueFor(reference, newId, kind) ?? newId }]);
	}
	return `Copy ${displayName(stack, record)} as new ${stack.guide.kinds[kind]!.title.toLowerCase()} ${newId}`;
}
