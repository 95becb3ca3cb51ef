// Records of which my mod says only some fields, where layers replace single fields: what is not changed is not copied.
import { EditRefused, findRecord, type Document, type RecordNode } from '../formats';
import { isEditable, unitOf, type EffectiveRecord, type Presence } from '../stack';
import { insertPart } from './parts';
import { startDraft, type Draft, type Place } from './draft';

/** Whether my mod says of a record only what it changes. */
export const isSparse = ({ stack }: Draft, kind: string): boolean =>
	stack.guide.kinds[kind]?.merge === 'field';

const topOf = (path: string): string => /^[^.[]*/.exec(path)![0];

/** Where a field, or a list by any of its items, is said that counts. */
function saying(record: EffectiveRecord, unit: string): Presence | undefined {
	for (const [path, { presence }] of record.values) if (unitOf(path) === unit) return presence;
	return undefined;
}

/** @throws EditRefused where a list cannot be changed as a whole, for it is joined with those of other layers */
function mustBeWhole({ stack }: Draft, { kind, id }: EffectiveRecord, unit: string): void {
	if (stack.guide.kinds[kind]!.joins?.[unit])
		throw new EditRefused(
			`The game joins “${unit}” of ${id} from all layers. Write what your mod adds or removes into its own file, as text.`
		);
}

/** The units of a record as its file has it. */
const unitsIn = (node: RecordNode): Set<string> => new Set(node.fields.map(({ path }) => unitOf(path)));

/** Puts a field or list into a record of a draft as it is below, so that it can be changed there. */
function putUnit(draft: Draft, place: Place, record: EffectiveRecord, unit: string): void {
	const presence = saying(record, unit);
	if (!presence) return;
	const { path, kind } = place;
	const format = draft.format(path);
	const here = () => draft.record(place)!;
	const source = { doc: presence.doc, record: presence.record };
	const holders = [unit];
	for (let at = unit.lastIndexOf('.'); at > 0; at = unit.lastIndexOf('.', at - 1))
		holders.push(unit.slice(0, at));
	if (format.parts && presence.doc.format === format.id)
		// Where the block is not there that it stands in, the block comes with it.
		for (const part of holders)
			try {
				insertPart(draft, place, part, { ...source, path: part });
				if (part !== unit)
					for (const beside of [...unitsIn(here())].reverse())
						if (beside !== unit && beside.startsWith(`${part}.`)) drop(draft, place, beside);
				return;
			} catch (fault) {
				if (!(fault instanceof EditRefused) || part === holders.at(-1)) throw fault;
			}
	for (const { path: field, value } of presence.record.fields)
		if (unitOf(field) === unit)
			draft.edit(path, format.set(draft.doc(path, kind)!, here(), field, String(value ?? '')));
}

/** Sees to it that a record of my mod says a field or list itself. @throws EditRefused */
export function ensureUnit(draft: Draft, place: Place, record: EffectiveRecord, path: string): void {
	if (!isSparse(draft, place.kind)) return;
	const unit = unitOf(path);
	mustBeWhole(draft, record, unit);
	const node = draft.record(place);
	if (node && !unitsIn(node).has(unit)) putUnit(draft, place, record, unit);
}

/** Takes a part out of a record; false where the format can only empty it. */
function drop(draft: Draft, place: Place, part: string): boolean {
	const { path, kind } = place;
	const format = draft.format(path);
	const doc = () => draft.doc(path, kind)!;
	const isIn = ({ path: field }: { path: string }) => unitOf(field) === part || topOf(field) === part;
	// Every row of a table has a cell in every column, if only an empty one.
	if (doc().columns.includes(part)) return false;
	const splices = format.unset(doc(), draft.record(place)!, part);
	if (splices.length > 0) draft.edit(path, splices);
	// Items that share a name have nothing that holds them all.
	else
		for (
			let left = draft.record(place)!.fields.length;
			left > 0 && draft.record(place)!.fields.some(isIn);
			left--
		)
			draft.edit(path, format.removeItem(doc(), draft.record(place)!, part, 0));
	return draft.record(place)?.fields.some(isIn) === false;
}

/** Takes everything out of a record that is not wanted; false where the format needs it to be there. @throws EditRefused */
export function strip(draft: Draft, place: Place, wanted: ReadonlySet<string>): boolean {
	const key = draft.doc(place.path, place.kind)!.key ?? draft.stack.guide.kinds[place.kind]!.key;
	const units = [...unitsIn(draft.record(place)!)].filter((unit) => unit !== key);
	const kept = new Set(units.filter((unit) => wanted.has(unit)).map(topOf));
	const parts = new Set(
		units.filter((unit) => !wanted.has(unit)).map((unit) => (kept.has(topOf(unit)) ? unit : topOf(unit)))
	);
	return [...parts].reverse().every((part) => drop(draft, place, part));
}

/** A draft of its own that holds one record as a layer has it. */
function scratchOf(
	draft: Draft,
	record: EffectiveRecord,
	{ path, doc, file, record: node }: Presence
): Draft {
	const { kind, id } = record;
	const scratch = startDraft({ ...draft.stack, mine: null });
	const format = scratch.format(path);
	scratch.create(path, format.blank(doc), file.text);
	// A file that is one record has it already.
	if (!scratch.record({ path, kind, id }))
		scratch.edit(path, format.insert(scratch.doc(path, kind) ?? scratch.doc(path)!, doc, node));
	return scratch;
}

/**
 * A record with no more than some of its fields, in a document of its own, to be put into a file of my mod; the whole
 * record where its format needs every field.
 * @param units fields and lists that are to be in it, as they are below
 */
export function sparseCopy(
	draft: Draft,
	record: EffectiveRecord,
	units: ReadonlySet<string>
): { doc: Document; record: RecordNode } {
	for (const unit of units) mustBeWhole(draft, record, unit);
	const [first] = units;
	const model = (first === undefined ? undefined : saying(record, first)) ?? record.presences[0]!;
	const { kind, id } = record;
	const place = { path: model.path, kind, id };
	try {
		const scratch = scratchOf(draft, record, model);
		if (strip(scratch, place, units)) {
			for (const unit of units) ensureUnit(scratch, place, record, unit);
			const doc = scratch.doc(model.path, kind)!;
			return { doc, record: findRecord(doc, id)! };
		}
	} catch (fault) {
		if (!(fault instanceof EditRefused)) throw fault;
	}
	return wholeCopy(draft, record);
}

/** Writes a joined list as the game sees it. @throws EditRefused where its items are not single values */
function writeItems(draft: Draft, place: Place, record: EffectiveRecord, list: string): void {
	const { path, kind } = place;
	const format = draft.format(path);
	const here = () => draft.record(place)!;
	const doc = () => draft.doc(path, kind)!;
	const items = [...record.values].filter(([field]) => unitOf(field) === list);
	if (items.some(([field]) => !/\]$/.test(field)))
		throw new EditRefused(
			`The game joins “${list}” of ${record.id} from all layers, so it cannot be copied.`
		);
	if (!unitsIn(here()).has(list)) putUnit(draft, place, record, list);
	const old = here().fields.filter((field) => unitOf(field.path) === list).length;
	for (const [nth, [, { value }]] of items.entries())
		draft.edit(path, format.insertItem(doc(), here(), list, old + nth, { value }));
	for (let left = old; left > 0; left--) draft.edit(path, format.removeItem(doc(), here(), list, 0));
}

/** A record as the game sees it, in a document of its own: the lowest layer's, with what later ones say in its place. */
export function wholeCopy(draft: Draft, record: EffectiveRecord): { doc: Document; record: RecordNode } {
	const base = record.presences[0]!;
	const { path } = base;
	const { kind, id } = record;
	const place = { path, kind, id };
	const scratch = scratchOf(draft, record, base);
	const key = scratch.doc(path, kind)!.key ?? draft.stack.guide.kinds[kind]!.key;
	for (const unit of new Set([...record.values.keys()].map(unitOf))) {
		if (draft.stack.guide.kinds[kind]!.joins?.[unit]) {
			writeItems(scratch, place, record, unit);
			continue;
		}
		const presence = saying(record, unit)!;
		if (unit === key || (presence.path === path && presence.layer === base.layer)) continue;
		if (unitsIn(scratch.record(place)!).has(unit)) drop(scratch, place, unit);
		putUnit(scratch, place, record, unit);
	}
	const made = scratch.doc(path, kind)!;
	return { doc: made, record: findRecord(made, id)! };
}

/**
 * Takes out of a record of my mod what the layers below say too.
 * @returns whether anything is left that it says
 */
export function prune(draft: Draft, place: Place, record: EffectiveRecord): boolean {
	const below = record.presences.findLast(({ layer }) => !isEditable(layer));
	const node = draft.record(place);
	if (!below || !node) return true;
	const key = draft.doc(place.path, place.kind)!.key ?? draft.stack.guide.kinds[place.kind]!.key;
	const said = (fields: readonly { path: string; value: unknown }[], unit: string) =>
		JSON.stringify(
			fields
				.filter((field) => unitOf(field.path) === unit)
				.map(({ path: field, value }) => [field, String(value ?? '')])
		);
	let left = false;
	for (const unit of [...unitsIn(node)].reverse()) {
		if (unit === key) continue;
		const before = draft.doc(place.path)!;
		if (said(node.fields, unit) === said(below.fields, unit) && drop(draft, place, unit)) continue;
		// Where a field can only be emptied, it stays: empty it would say something else.
		draft.restore(place.path, before);
		left = true;
	}
	return left;
}
