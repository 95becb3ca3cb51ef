import * as z from 'zod';
import { findField, type FieldNode, type PartSource, type RecordNode } from '../../formats';
import { fieldOf } from '../../guide';
import { displayName, type EffectiveRecord } from '../../stack';
import { twinsOf } from '../belongings';
import { insertPart } from '../parts';
import { setField, take } from '../steps';
import { find, note, NotPossible, wanted, type Following, type Work } from '../work';
import { declining, name, type Drafted } from './intention';

const schema = z.object({
	do: z.literal('part'),
	kind: name,
	id: name,
	path: name,
	change: z.discriminatedUnion('how', [
		/** After the model of what another record of the kind has there. */
		z.object({ how: z.literal('add'), like: name, from: name.optional() }),
		z.object({ how: z.literal('remove') }),
		/** To the place of another part beside it. */
		z.object({ how: z.literal('move'), to: name })
	]),
	...declining
});

const isWithin = (path: string, field: string) =>
	field === path || field.startsWith(`${path}.`) || field.startsWith(`${path}[`);

/** What is at a path of a record, or within. */
const fieldsAt = (record: Pick<RecordNode, 'fields'>, path: string) =>
	record.fields.filter((field) => isWithin(path, field.path));

/** Whether the game sees anything at a path of a record. */
const fieldsOf = ({ values }: EffectiveRecord, path: string): boolean =>
	[...values.keys()].some((field) => isWithin(path, field));

/** The record in its file, as the draft has it. @throws NotPossible */
function here(work: Work, path: string, { kind, id }: EffectiveRecord): RecordNode {
	const node = work.draft.record({ path, kind, id });
	if (!node) throw new NotPossible(`${path} has no record ${id}.`);
	return node;
}

/** Writes a copy of a part of another record into the draft. */
function add(work: Work, record: EffectiveRecord, file: string, path: string, model: PartSource): void {
	const { draft } = work;
	const { kind, id } = record;
	const place = { path: file, kind, id };
	const format = draft.format(file);
	const only = findField(model.record, model.path);
	if (!format.parts) {
		if (!only) throw new NotPossible(`${file} holds single values only, no blocks.`);
		setField(draft, place, { field: path, value: String(only.value ?? '') });
		return;
	}
	insertPart(draft, place, path, model);
}

/** Takes a part out; where those that share a name have no node that holds them all, one after the other. */
function drop(work: Work, record: EffectiveRecord, file: string, path: string): void {
	const { draft } = work;
	const format = draft.format(file);
	const splices = format.unset(draft.doc(file, record.kind)!, here(work, file, record), path);
	if (splices.length > 0) return draft.edit(file, splices);
	while (fieldsAt(here(work, file, record), path).length > 0)
		draft.edit(file, format.removeItem(draft.doc(file, record.kind)!, here(work, file, record), path, 0));
}

/** What a record says of a part, to see whether two say the same. */
const partOf = ({ values }: EffectiveRecord, path: string): string =>
	JSON.stringify(
		[...values]
			.filter(([field]) => isWithin(path, field))
			.map(([field, { value }]) => [field, value])
			.sort()
	);

/** Changes a part of one record. Gives the title of the step. */
function changePart(
	work: Work,
	record: EffectiveRecord,
	{ path, change }: z.infer<typeof schema>,
	{ title, shown }: { title: string; shown: string },
	following?: Following
): string {
	const { stack, draft } = work;
	const { kind } = record;
	const sparse = stack.guide.kinds[kind]!.merge === 'field';
	const file = take(draft, record, work.say, change.how === 'move' ? path : undefined);
	const written = ({ path: field, value }: FieldNode) => [field, String(value ?? '')] as const;
	const before = fieldsAt(here(work, file, record), path).map(written);
	switch (change.how) {
		case 'add': {
			const like = find(stack, kind, change.like);
			const from = change.from ?? path;
			const model = like.presences.findLast((one) => fieldsAt(one.record, from).length > 0);
			if (!model) throw new NotPossible(`${displayName(stack, like)} has no “${from}”.`);
			if (before.length > 0 || (sparse && fieldsOf(record, path)))
				throw new NotPossible(`${shown} has “${path}” already.`);
			if (draft.format(file).id !== model.doc.format)
				throw new NotPossible(`${model.path} has another format than ${file}; choose another model.`);
			add(work, record, file, path, { doc: model.doc, record: model.record, path: from });
			for (const [field, value] of fieldsAt(here(work, file, record), path).map(written))
				note(work, record, field, null, value, following);
			return `Add ${title} to ${shown}, like ${displayName(stack, like)}`;
		}
		case 'remove': {
			if (before.length === 0)
				throw new NotPossible(
					sparse && fieldsOf(record, path)
						? `“${path}” of ${shown} is from a layer below. Your mod can change it, but not remove it.`
						: `${shown} has no “${path}”.`
				);
			drop(work, record, file, path);
			const left = new Map(here(work, file, record).fields.map(written));
			for (const [field, value] of before)
				if (left.get(field) !== value) note(work, record, field, value, left.get(field) ?? null, following);
			return `Remove ${title} from ${shown}`;
		}
		case 'move': {
			const { parts } = draft.format(file);
			if (!parts) throw new NotPossible(`The order of fields in ${file} is set by its columns.`);
			draft.edit(file, parts.move(draft.doc(file, kind)!, here(work, file, record), path, change.to));
			note(work, record, 'order', path, `to the place of ${change.to}`, following);
			return `Move ${title} of ${shown}`;
		}
	}
}

/** A block, a list or a field of a record as a whole: put in like that of another record, taken out, or moved. */
export const part: Drafted<typeof schema> = {
	schema,
	draft(work, asked) {
		const { stack } = work;
		const { kind, id, path, change } = asked;
		const record = find(stack, kind, id);
		const title = (fieldOf(stack.guide.kinds[kind], path)?.title ?? path).toLowerCase();
		const shown = displayName(stack, record);
		const said = changePart(work, record, asked, { title, shown });
		for (const { record: other, found } of twinsOf(stack, record)) {
			const like = change.how === 'add' ? stack.tables.get(other.kind)?.byId.has(change.like) : true;
			if (!like || partOf(other, path) !== partOf(record, path) || !wanted(work, 'twin', found)) continue;
			changePart(work, other, asked, { title, shown }, { follows: 'its twin changes too', by: 'twin' });
		}
		return said;
	},
	words: ({ said }) => `Change ${said('path')} of ${said('id')}`
};
