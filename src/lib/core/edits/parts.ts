// Blocks and lists of records put in after the model of others.
import { EditRefused, type PartSource } from '../formats';
import type { Draft, Place } from './draft';

const isWithin = (path: string, field: string) =>
	field === path || field.startsWith(`${path}.`) || field.startsWith(`${path}[`);

/**
 * Puts a copy of a block or list of another record under a path that is free.
 * @throws EditRefused
 */
export function insertPart(draft: Draft, place: Place, path: string, model: PartSource): void {
	const { path: file, kind } = place;
	const parts = draft.format(file).parts;
	if (!parts) throw new EditRefused(`${file} holds single values only, no blocks.`);
	const insert = (to: string, source: PartSource) =>
		draft.edit(file, parts.insert(draft.doc(file, kind)!, draft.record(place)!, to, source));
	try {
		insert(path, model);
	} catch (fault) {
		// Those that share a name have no node that holds them all.
		const count = new Set(
			model.record.fields
				.filter((field) => isWithin(model.path, field.path))
				.map((field) => /^\[(\d+)\]/.exec(field.path.slice(model.path.length))?.[1])
		);
		if (!(fault instanceof EditRefused) || count.has(undefined) || count.size === 0) throw fault;
		for (let nth = 0; nth < count.size; nth++)
			insert(`${path}[${nth}]`, { ...model, path: `${model.path}[${nth}]` });
	}
}
