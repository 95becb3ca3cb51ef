// What the game would see with other layers, or in another order.
import { buildSteps, displayName, isGame, type Layer, type Stack, type Table } from '../stack';

/** A value that would be another one. */
export interface OtherValue {
	kind: string;
	id: string;
	name: string;
	field: string;
	/** Null where the game has no such value. */
	before: string | null;
	after: string | null;
}

/** The stack with its layers in another order, or without some of them, in steps; what did not change is taken over. */
export const stackWith = (stack: Stack, layers: readonly Layer[]): Generator<void, Stack> =>
	buildSteps([...layers], stack.guide, stack.pool, stack);

/** The ids that layers other than the game have in a table. */
function* idsOfOthers(table: Table | undefined): Generator<string> {
	for (const { layer, facts } of table ? [...table.files, ...table.hidden] : [])
		if (!isGame(layer)) for (const id of facts.ids) yield facts.pool.at(id);
}

/** Every value in which two stacks of the same game differ. Only what layers besides the game have can differ. */
export function valuesBetween(before: Stack, after: Stack): OtherValue[] {
	const found: OtherValue[] = [];
	for (const kind of new Set([...before.tables.keys(), ...after.tables.keys()])) {
		const [old, fresh] = [before.tables.get(kind), after.tables.get(kind)];
		for (const id of new Set([...idsOfOthers(old), ...idsOfOthers(fresh)])) {
			const [was, is] = [old?.byId.get(id), fresh?.byId.get(id)];
			const name = is ? displayName(after, is) : was ? displayName(before, was) : id;
			for (const field of new Set([...(was?.values.keys() ?? []), ...(is?.values.keys() ?? [])])) {
				const [from, to] = [was?.values.get(field)?.value ?? null, is?.values.get(field)?.value ?? null];
				if (from !== to) found.push({ kind, id, name, field, before: from, after: to });
			}
		}
	}
	return found;
}
