// Records of a draft of my mod brought to what they are to say, field by field, as their format writes it.
import { setField, type Draft, type Place } from '../edits';
import { EditRefused, type RecordNode } from '../formats';
import { isFromPath } from '../guide';
import { isEditable, type Presence } from '../stack';
import type { Want } from './deciding';
import { itemsOf, sameUnit, unitsOf, type Unit } from './three';
import type { Writing } from './writing';

/** Where a field or list can be taken from as a whole; its file is only read when it is asked for. */
type Source = Pick<Presence, 'doc' | 'record'>;

/** The values of a record of a document, as texts. */
export const nodeValues = ({ fields }: RecordNode): Map<string, string> =>
	new Map(fields.map(({ path, value }) => [path, String(value ?? '')]));

/** Brings a field or list of a record of my mod to what it is to say. @throws EditRefused where the format cannot */
function bringUnit(draft: Draft, place: Place, unit: string, want: Unit, sources: readonly Source[]): void {
	const { path, kind } = place;
	const format = draft.format(path);
	const node = () => {
		const found = draft.record(place);
		if (!found) throw new EditRefused(`${path} has no record ${place.id}.`);
		return found;
	};
	const doc = () => draft.doc(path, kind)!;
	const have = () => unitsOf(nodeValues(node())).get(unit) ?? new Map<string, string>();
	const now = have();
	if (sameUnit(now, want)) return;
	const set = () => {
		for (const [field, value] of want)
			if (have().get(field) !== value) setField(draft, place, { field, value });
	};
	if (now.size === want.size && [...want.keys()].every((field) => now.has(field))) return set();
	if (want.size === 0) {
		const splices = format.unset(doc(), node(), unit);
		if (splices.length > 0) draft.edit(path, splices);
		else
			for (let left = itemsOf(unit, now).length; left > 0; left--)
				draft.edit(path, format.removeItem(doc(), node(), unit, left - 1));
		return;
	}
	if (now.size === 0 && format.parts) {
		// After a model, a number stays a number and a text a text.
		const held = (one: Source) => unitsOf(nodeValues(one.record)).get(unit);
		const model = sources.find((one) => {
			const there = held(one);
			return there?.size === want.size && [...want.keys()].every((field) => there.has(field));
		});
		if (model) {
			draft.edit(
				path,
				format.parts.insert(doc(), node(), unit, { doc: model.doc, record: model.record, path: unit })
			);
			return set();
		}
	}
	if (now.size === 0 && want.size === 1 && want.has(unit)) return set();
	const items = itemsOf(unit, want);
	const scalars = items.length > 0 && items.every((item) => item.size === 1 && item.has(''));
	const source = sources.find((one) =>
		sameUnit(unitsOf(nodeValues(one.record)).get(unit) ?? new Map<string, string>(), want)
	);
	if (now.size > 0 && scalars && itemsOf(unit, now).every((item) => item.has(''))) {
		const texts = items.map((item) => item.get('')!);
		const old = itemsOf(unit, now).length;
		for (let nth = old; nth < texts.length; nth++)
			draft.edit(path, format.insertItem(doc(), node(), unit, nth, { value: texts[nth]! }));
		for (let nth = old; nth > texts.length; nth--)
			draft.edit(path, format.removeItem(doc(), node(), unit, nth - 1));
		return set();
	}
	if (source && format.parts) {
		if (now.size > 0) draft.edit(path, format.unset(doc(), node(), unit));
		draft.edit(
			path,
			format.parts.insert(doc(), node(), unit, { doc: source.doc, record: source.record, path: unit })
		);
		return;
	}
	throw new EditRefused(`${unit} of ${place.id} cannot be written in ${path}.`);
}

/** The version of a record that my mod's file had. */
export function mineOf({ before }: Writing, want: Want, path: string): Presence | undefined {
	const record = before.tables.get(want.from.kind)?.byId.get(want.from.id);
	return record?.presences.findLast((one) => isEditable(one.layer) && one.path === path);
}

/** The field under which a file of one language has its text. */
const textField = (node: RecordNode): string => {
	const names = node.fields.map(({ path }) => path);
	return names.includes('text') ? 'text' : names[0]!;
};

/** Brings a record that is in a file of my mod to what is wanted. @param only the fields and lists that are looked at */
export function bringRecord(
	writing: Writing,
	draft: Draft,
	place: Place,
	want: Want,
	language: string | undefined,
	only?: (unit: string) => boolean
): void {
	const { after } = writing;
	if (language !== undefined) {
		const value = want.values.get(language);
		const node = draft.record(place);
		if (value === undefined || !node) throw new EditRefused(`${place.path} has no text ${place.id}.`);
		const field = textField(node);
		if (nodeValues(node).get(field) !== value) setField(draft, place, { field, value });
		return;
	}
	const key = after.guide.kinds[want.kind]?.key;
	const mine =
		mineOf(writing, want, place.path) ?? mineOf(writing, want, want.from.is?.presences.at(-1)?.path ?? '');
	const there = after.tables.get(want.kind)?.byId.get(want.id);
	const sources = [
		...(mine ? [mine] : []),
		...[...(want.from.is?.presences ?? []), ...(there?.presences ?? [])].reverse()
	];
	const wanted = unitsOf(want.values);
	const units = new Set([...unitsOf(nodeValues(draft.record(place)!)).keys(), ...wanted.keys()]);
	for (const unit of units) {
		if (unit === key || isFromPath(unit) || (only && !only(unit))) continue;
		bringUnit(draft, place, unit, wanted.get(unit) ?? new Map<string, string>(), sources);
	}
}
