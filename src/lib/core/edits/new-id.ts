// A new id: whether it can be taken, and what would come with a record that gets it.
import type { Links } from '../links';
import { recordNamed, type EffectiveRecord, type Stack } from '../stack';
import { assetsFor, derivedFor, listLinks, pairsOf, ruleAt, textsFor, twinsOf } from './belongings';
import { NotPossible } from './work';

/** What is wrong with an id for a new record of a kind; null where nothing is. */
export function idFault(stack: Stack, kind: string, id: string): string | null {
	const table = stack.tables.get(kind);
	if (!table) return `There is no kind “${kind}” in this project.`;
	const longest = table.guide.limits.id;
	if (id === '') return 'A new record needs an id.';
	if (recordNamed(table, id)) return `The id “${id}” is already used.`;
	if (/\s/.test(id)) return 'An id cannot contain spaces; use _ between words.';
	if (longest && id.length > longest)
		return `The id has ${id.length} characters; the game allows ${longest}.`;
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
