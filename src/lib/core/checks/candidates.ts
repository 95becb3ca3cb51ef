// What a field that names nothing may have meant.
import { fieldOf, severalIdsIn } from '../guide';
import { nearestIn, type Link } from '../links';
import { derived, type Stack, type Table } from '../stack';

/** The texts that a table has under some fields, each once. */
const textsUnder = (table: Table, fields: readonly string[]): string[] =>
	[...new Set(fields.flatMap((field) => [...table.column(field)]))]
		.filter((value) => value >= 0)
		.map((value) => table.pool.at(value));

/** By what the records of a table are named: their ids, or the values of another field. The same list while they are. */
const namesIn = (table: Table, key?: string): readonly string[] =>
	derived(table, `names ${key ?? ''}`, () => {
		if (key !== undefined) return textsUnder(table, [key]);
		const several = textsUnder(table, severalIdsIn(table.guide, table.columns));
		return several.length === 0 ? [...table.byId.keys()] : [...new Set([...table.byId.keys(), ...several])];
	});

/** Values of a stack for which candidates are looked for: where more name nothing, they are no slips of the finger. */
const MOST = 500;

const known = new WeakMap<Stack, Map<string, string[]>>();

/**
 * What could be in a field instead of what names nothing there, the nearest first. Looked for once for the same value,
 * and not for ever more of them.
 */
export function candidatesFor(stack: Stack, { from, field, kinds, value }: Link): string[] {
	const { guide, tables } = stack;
	const key = fieldOf(guide.kinds[from.kind], field)?.reference?.key;
	let found = known.get(stack);
	if (!found) known.set(stack, (found = new Map()));
	const asked = JSON.stringify([kinds, key, value]);
	let candidates = found.get(asked);
	if (!candidates) {
		if (found.size >= MOST) return [];
		const lists = kinds.map((kind) => namesIn(tables.get(kind)!, key));
		found.set(asked, (candidates = nearestIn(value, lists)));
	}
	return candidates;
}
