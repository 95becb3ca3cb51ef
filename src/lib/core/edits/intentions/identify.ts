import * as z from 'zod';
import { findField, readDocument } from '../../formats';
import {
	IDENTITY_LISTS,
	IDENTITY_TEXTS,
	identityIn,
	identitySchema,
	identityText,
	safeName
} from '../../stack';
import { NothingToDo, NotPossible } from '../work';
import { declining, type Drafted } from './intention';

const schema = z.object({ do: z.literal('identify'), identity: identitySchema, ...declining });

/** Says who my mod is, in the file by which mods of the game do. */
export const identify: Drafted<typeof schema> = {
	schema,
	draft(work, { identity }) {
		const { draft, stack } = work;
		const path = stack.guide.identity;
		if (path === undefined)
			throw new NotPossible('The field guide does not name the file that identifies a mod of this game.');
		safeName(identity.name);
		const wanted = identityText(identity);
		const model = readDocument(path, wanted, { format: 'json', at: null });
		const before = identityIn(draft.doc(path));
		const said = (field: keyof typeof identity) => [before[field] ?? ''].flat().join(', ');
		if (!draft.has(path)) draft.create(path, wanted, null);
		else {
			const here = () => {
				const record = draft.doc(path)?.records[0];
				if (!record) throw new NotPossible(`${path} has no record that could identify the mod.`);
				return record;
			};
			const format = draft.format(path);
			for (const field of IDENTITY_TEXTS) {
				if (identity[field] === (before[field] ?? '')) continue;
				const doc = draft.doc(path)!;
				const empty = identity[field] === '' && findField(here(), field) !== undefined;
				draft.edit(
					path,
					empty ? format.unset(doc, here(), field) : format.set(doc, here(), field, identity[field])
				);
			}
			for (const list of IDENTITY_LISTS) {
				if (identity[list].join('\n') === (before[list] ?? []).join('\n')) continue;
				draft.edit(path, format.unset(draft.doc(path)!, here(), list));
				if (identity[list].length === 0) continue;
				if (!format.parts || format.id !== 'json' || !model)
					throw new NotPossible(`${path} cannot hold the list “${list}”.`);
				const source = { doc: model, record: model.records[0]!, path: list };
				draft.edit(path, format.parts.insert(draft.doc(path)!, here(), list, source));
			}
		}
		for (const field of [...IDENTITY_TEXTS, ...IDENTITY_LISTS]) {
			const now = [identity[field]].flat().join(', ');
			if (now !== said(field))
				work.values.push({ kind: '', id: path, name: path, field, before: said(field), after: now });
		}
		if (work.values.length === 0)
			throw new NothingToDo('Nothing to change: your mod already has these details.');
		return `Set the mod’s details: ${identity.title} ${identity.version}`;
	},
	words: () => 'Set the mod’s details'
};
