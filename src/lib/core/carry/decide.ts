// What becomes of each thing that my mod says: it stays, it follows the game, or it is put to the modder.
import { z } from 'zod';
import { fieldOf, mentionsIn, withMention } from '../guide';
import {
	displayName,
	isEditable,
	recordKey,
	unitOf,
	valueOf,
	type EffectiveRecord,
	type Stack
} from '../stack';
import type { GameChanges } from './changes';
import { myRecords, valuesIn, type MyRecord } from './mine';
import type { Moves } from './moves';
import { mergeUnit, sameUnit, unitsOf, type Merged, type Prefer, type Unit } from './three';

/** Something that a thing without a place could be now. */
export interface Candidate {
	kind: string | null;
	/** An id, a path of a field, or a path of a file. */
	value: string;
	because: string;
	/** Whether it can be chosen in its place. */
	fits: boolean;
}

/** One thing of my mod on the new version. */
export interface CarryItem {
	/** The same for the same thing, however the versions are: what is chosen for it is kept under this. */
	key: string;
	what: 'carried' | 'refreshed' | 'undecided' | 'homeless';
	/** What of it can be chosen by the modder, also where that is done by now; null where nothing can. */
	asks: 'undecided' | 'homeless' | null;
	/** Null for a file that is not data. */
	kind: string | null;
	/** The id in the new version; of one that is gone its old one; of a file its path. */
	record: string;
	name: string;
	/** The id, or the path, that it had before, where that was another one. */
	from: string | null;
	/** Null where the whole record or file is meant. */
	field: string | null;
	old: string | null;
	new: string | null;
	mine: string | null;
	result: string | null;
	/** Whether these are the items of a list: no single value can be put in its place. */
	list: boolean;
	/** What counted, where both sides changed it. */
	by: Prefer | 'both' | 'chosen' | null;
	/** A sentence. */
	why: string;
	candidates: Candidate[];
}

/** An item of which only some things are said. */
export const itemOf = (
	about: Partial<CarryItem> & Pick<CarryItem, 'key' | 'what' | 'kind' | 'record' | 'name' | 'why'>
): CarryItem => ({
	asks: about.what === 'undecided' || about.what === 'homeless' ? about.what : null,
	from: null,
	field: null,
	old: null,
	new: null,
	mine: null,
	result: null,
	list: false,
	by: null,
	candidates: [],
	...about
});

/** What is chosen for an item: one side, both changes, a value, another record in its place, or that it is let go. */
export const choiceSchema = z.union([
	z.enum(['mine', 'theirs', 'on-top', 'let-go']),
	z.object({ value: z.string().max(100_000) }),
	z.object({ place: z.object({ kind: z.string().max(500), id: z.string().max(500) }) })
]);
export type Choice = z.infer<typeof choiceSchema>;

/** What a record of the new version is to be with my mod. */
export interface Want {
	kind: string;
	id: string;
	/** The one that it comes from. */
	from: MyRecord;
	what: 'change' | 'add' | 'remove' | 'copy' | 'keep';
	/** All of its values; empty where it is to be gone. */
	values: Map<string, string>;
	/** Fields and lists that my mod says differently from the game. */
	own: Set<string>;
}

export interface Decided {
	items: CarryItem[];
	wants: Want[];
}

export interface Deciding {
	/** The layers of the old version with my mod, and without it. */
	before: Stack;
	below: Stack;
	/** The layers of the new version without my mod. */
	after: Stack;
	changes: GameChanges;
	moves: Moves;
	prefer?: Prefer | undefined;
	choices?: ReadonlyMap<string, Choice> | undefined;
}

const shown = (unit: Unit): string | null =>
	unit.size === 0 ? null : unit.size === 1 ? [...unit.values()][0]! : [...unit.values()].join(', ');

const fullOf = (units: ReadonlyMap<string, Unit>): Map<string, string> =>
	new Map([...units.values()].flatMap((unit) => [...unit]));

const NONE: Unit = new Map();

/**
 * Hears of a reference to a record that the new version does not have; gives the id that is chosen in its place, or null.
 * @param likely the record that it is now, where the reference was only detected: a guess never writes
 */
type Missing = (
	field: string,
	value: string,
	id: string,
	kinds: readonly string[],
	likely?: { kind: string; id: string }
) => string | null;

/** Values with each reference to a record that has another id naming that. */
function followed(
	{ before, below, after, moves }: Deciding,
	kind: string,
	record: EffectiveRecord,
	values: ReadonlyMap<string, string>,
	gone: Missing
): Map<string, string> {
	const about = before.guide.kinds[kind];
	return new Map(
		[...values].map(([path, value]): [string, string] => {
			const reference = fieldOf(about, path)?.reference;
			// The field by which a record is named may be another one than its id.
			if (!reference || reference.key !== undefined || reference.names) return [path, value];
			const decided = reference.by ? valueOf(record, reference.by.field) : undefined;
			let next = value;
			for (const mention of mentionsIn(reference, value, decided).reverse()) {
				const kinds = mention.kind === undefined ? reference.kinds : [mention.kind];
				const target = kinds.find((one) => before.tables.get(one)?.byId.has(mention.id));
				if (target === undefined || kinds.some((one) => after.tables.get(one)?.byId.has(mention.id)))
					continue;
				const now = moves.record(target, mention.id);
				const isKnown = now !== undefined && kinds.includes(now.kind);
				if (isKnown && !reference.found) next = withMention(reference, next, mention, now.id);
				else if (isKnown) {
					const other = gone(path, value, mention.id, kinds, now);
					if (other !== null) next = withMention(reference, next, mention, other);
				} else if (below.tables.get(target)?.byId.has(mention.id)) {
					const other = gone(path, value, mention.id, kinds);
					if (other !== null) next = withMention(reference, next, mention, other);
				}
			}
			return [path, next];
		})
	);
}

/** Decides what becomes of every record that my mod holds or takes away. */
export function* decide(deciding: Deciding): Generator<void, Decided> {
	const items: CarryItem[] = [];
	const wants: Want[] = [];
	const lost: SoFar['lost'] = new Map();
	for (const record of myRecords(deciding.before, deciding.below)) {
		decideRecord(deciding, record, { items, wants, lost });
		yield;
	}
	// What my mod keeps as a record of its own can be referred to.
	const kept = new Set(wants.flatMap(({ kind, id, what }) => (what === 'keep' ? [recordKey(kind, id)] : [])));
	const isLost = (item: CarryItem) => {
		const { id = '', kinds = [] } = lost.get(item) ?? {};
		return !kinds.some((kind) => kept.has(recordKey(kind, id)));
	};
	return { items: items.filter(isLost), wants };
}

const columnar = new WeakMap<Stack, Map<string, boolean>>();

/** Whether the records of a kind are rows of a table in the new version: a field without a column has no place there. */
function isColumnar({ after }: Deciding, kind: string): boolean {
	let known = columnar.get(after);
	if (!known) columnar.set(after, (known = new Map()));
	let found = known.get(kind);
	if (found === undefined)
		known.set(
			kind,
			(found = after.tables.get(kind)?.files.some(({ file }) => (file.doc?.columns.length ?? 0) > 0) === true)
		);
	return found;
}

const keyOf = (kind: string, id: string, field: string | null): string => JSON.stringify([kind, id, field]);

/** What is decided so far, and the references to records that the new version does not have. */
interface SoFar extends Decided {
	lost: Map<CarryItem, { id: string; kinds: readonly string[] }>;
}

function decideRecord(deciding: Deciding, own: MyRecord, { items, wants, lost }: SoFar): void {
	const { after, before, moves, choices } = deciding;
	const { kind, id, was, is } = own;
	const wholeKey = keyOf(kind, id, null);
	const choice = choices?.get(wholeKey);
	const chosenPlace = typeof choice === 'object' && 'place' in choice ? choice.place : undefined;
	const place = was ? (chosenPlace ? { ...chosenPlace, sure: 1 } : moves.record(kind, id)) : undefined;
	const there = place && after.tables.get(place.kind)?.byId.get(place.id);
	const now = { kind: place?.kind ?? kind, id: place?.id ?? id };
	const named = is ?? was!;
	const item = (about: Partial<CarryItem> & Pick<CarryItem, 'what' | 'why'>): CarryItem =>
		itemOf({
			key: keyOf(kind, id, about.field ?? null),
			kind: now.kind,
			record: now.id,
			name: there ? displayName(after, there) : displayName(before, named),
			from: now.kind === kind && now.id === id ? null : id,
			...about,
			// A record under another id was found by what it says.
			why:
				place && place.sure < 1
					? `${about.why} It was ${id} before, ${Math.round(place.sure * 100)} % sure.`
					: about.why
		});
	const missing: Missing = (field, value, gone, kinds, likely) => {
		const key = keyOf(kind, id, `${field} → ${gone}`);
		const chosen = choices?.get(key);
		const other = typeof chosen === 'object' && 'place' in chosen ? chosen.place.id : null;
		const settled = other !== null || chosen === 'mine';
		const near = kinds.flatMap((target) => moves.candidates(target, gone));
		const one = item({
			what: settled ? 'carried' : 'homeless',
			by: settled ? 'chosen' : null,
			asks: 'homeless',
			key,
			field: moves.field(kind, field),
			mine: value,
			result: other ?? value,
			why: likely
				? `It seems to refer to ${gone}, which has another id now.`
				: `It refers to ${gone}, which the new version does not have.`,
			candidates: [...(likely ? [{ ...likely, because: 'it is the same record' }] : []), ...near].map(
				({ kind: target, id: value_, because }) => ({
					kind: target,
					value: value_,
					because,
					fits: kinds.includes(target)
				})
			)
		});
		lost.set(one, { id: gone, kinds });
		items.push(one);
		return other;
	};
	/** All that my mod says of it, under the names of the new version; what has no place there is told. */
	const carriedValues = () => {
		const values = followed(deciding, kind, is!, valuesIn(is), missing);
		const found = new Map<string, string>();
		for (const [path, value] of values) {
			if (moves.fieldGone(kind, path)) {
				const fits = !isColumnar(deciding, kind);
				items.push(
					item({
						what: 'homeless',
						field: path,
						mine: value,
						result: fits ? value : null,
						why: 'The new version no longer has this field.',
						candidates: moves
							.fieldCandidates(kind, path)
							.map(({ path: other, because }) => ({ kind: null, value: other, because, fits: false }))
					})
				);
				if (!fits) continue;
			}
			found.set(moves.field(kind, path), value);
		}
		return found;
	};
	const keyField = before.guide.kinds[kind]?.key;
	const language = before.guide.words?.kind === kind;

	if (!was) {
		const renamed = carriedValues();
		const clash = after.tables.get(kind)?.byId.get(id);
		if (clash && !language) {
			const theirs = valuesIn(clash);
			if (sameUnit(theirs, renamed)) {
				items.push(item({ what: 'refreshed', why: 'The new version has the same record.' }));
				wants.push({ kind, id, from: own, what: 'copy', values: theirs, own: new Set() });
				return;
			}
			const side = choice === 'mine' || choice === 'theirs' ? choice : deciding.prefer;
			items.push(
				item({
					what: side === 'mine' || side === 'theirs' ? 'carried' : 'undecided',
					by: side === 'mine' || side === 'theirs' ? side : null,
					asks: 'undecided',
					why: 'Your mod adds it, and the new version now has one of the same id.'
				})
			);
			if (side === 'theirs')
				wants.push({ kind, id, from: own, what: 'copy', values: theirs, own: new Set() });
			else wants.push({ kind, id, from: own, what: 'keep', values: renamed, own: new Set() });
			return;
		}
		if (clash) return decideUnits(deciding, own, { kind, id }, clash, items, wants, item, missing);
		items.push(item({ what: 'carried', why: 'Your mod adds it.' }));
		wants.push({ kind, id, from: own, what: 'add', values: renamed, own: new Set(renamed.keys()) });
		return;
	}
	if (!there) {
		if (!is) {
			items.push(
				item({ what: 'carried', why: 'Your mod removes it, and the new version no longer has it.' })
			);
			wants.push({ kind, id, from: own, what: 'remove', values: new Map(), own: new Set() });
			return;
		}
		const changed = [...unitsOf(valuesIn(is))].some(
			([unit, values]) => !sameUnit(values, unitsOf(valuesIn(was)).get(unit) ?? NONE)
		);
		if (!changed || choice === 'let-go') {
			items.push(
				item({
					what: changed ? 'carried' : 'refreshed',
					by: changed ? 'chosen' : null,
					asks: changed ? 'homeless' : null,
					why: changed
						? 'The new version no longer has it, and your changes to it are dropped.'
						: 'The new version no longer has it, and your mod only had a copy of it.'
				})
			);
			wants.push({ kind, id, from: own, what: 'remove', values: new Map(), own: new Set() });
			return;
		}
		const renamed = carriedValues();
		const kept = choice === 'mine';
		items.push(
			item({
				what: kept ? 'carried' : 'homeless',
				asks: 'homeless',
				by: kept ? 'chosen' : null,
				why: kept
					? 'The new version no longer has it; your mod keeps it as a record of its own.'
					: 'The new version no longer has this record.',
				candidates: moves
					.candidates(kind, id)
					.map(({ kind: other, id: value, because }) => ({ kind: other, value, because, fits: true }))
			})
		);
		wants.push({ kind, id, from: own, what: 'keep', values: renamed, own: new Set(renamed.keys()) });
		return;
	}
	if (!is) {
		const differs = [...unitsOf(valuesIn(was))].some(
			([unit, values]) =>
				unit !== keyField && !sameUnit(values, unitsOf(valuesIn(there)).get(moves.field(kind, unit)) ?? NONE)
		);
		const side = choice === 'mine' || choice === 'theirs' ? choice : deciding.prefer;
		const decided = !differs || side === 'mine' || side === 'theirs';
		items.push(
			item({
				what: decided ? 'carried' : 'undecided',
				asks: differs ? 'undecided' : null,
				by: differs && decided ? (side as 'mine' | 'theirs') : null,
				why: differs ? 'Your mod removes it, and the new version changes it.' : 'Your mod removes it.'
			})
		);
		if (differs && side === 'theirs')
			wants.push({ ...now, from: own, what: 'copy', values: valuesIn(there), own: new Set() });
		else wants.push({ ...now, from: own, what: 'remove', values: new Map(), own: new Set() });
		return;
	}
	decideUnits(deciding, own, now, there, items, wants, item, missing);
}

/** A record that all three have, field by field. */
function decideUnits(
	deciding: Deciding,
	own: MyRecord,
	now: { kind: string; id: string },
	there: EffectiveRecord,
	items: CarryItem[],
	wants: Want[],
	item: (about: Partial<CarryItem> & Pick<CarryItem, 'what' | 'why'>) => CarryItem,
	missing: Missing
): void {
	const { moves, choices, prefer, before } = deciding;
	const { kind, id, was, is } = own;
	const about = before.guide.kinds[kind];
	const rename = (values: ReadonlyMap<string, string>) =>
		new Map([...values].map(([path, value]) => [moves.field(kind, path), value]));
	// Layers of others may still have the old names.
	const [old, theirs] = [unitsOf(rename(valuesIn(was))), unitsOf(rename(valuesIn(there)))];
	const asWas = unitsOf(valuesIn(was));
	/** What only my mod says: a copy of what the old version had follows the game by itself. */
	const said = new Map(
		[...valuesIn(is)].filter(([path]) => {
			const unit = unitOf(path);
			return !sameUnit(asWas.get(unit) ?? NONE, unitsOf(valuesIn(is)).get(unit) ?? NONE);
		})
	);
	const mine = unitsOf(rename(followed(deciding, kind, is!, said, missing)));
	const all = unitsOf(rename(valuesIn(is)));
	const result = new Map<string, Unit>(theirs);
	const ownUnits = new Set<string>();
	/** What a file of my mod says itself: the rest was never a copy. */
	const held = new Set(
		[...is!.values].flatMap(([path, { presence }]) =>
			isEditable(presence.layer) ? [unitOf(moves.field(kind, path))] : []
		)
	);
	const { words } = before.guide;
	const main = words?.kind === kind ? words.main : undefined;
	const mainChanged = main !== undefined && !sameUnit(old.get(main) ?? NONE, theirs.get(main) ?? NONE);
	// What names a record is not among its values.
	const keys = new Set([about?.key, deciding.after.guide.kinds[now.kind]?.key]);
	for (const unit of new Set([...old.keys(), ...all.keys()])) {
		if (keys.has(unit)) continue;
		const [before_, now_] = [old.get(unit) ?? NONE, theirs.get(unit) ?? NONE];
		const removed = !all.has(unit);
		const changed = mine.has(unit) || (removed && before_.size > 0);
		if (!changed) {
			if (!sameUnit(before_, now_) && held.has(unit))
				items.push(
					item({
						what: 'refreshed',
						field: unit,
						old: shown(before_),
						new: shown(now_),
						mine: shown(before_),
						result: shown(now_),
						why: 'You never changed it.'
					})
				);
			continue;
		}
		const value = mine.get(unit) ?? NONE;
		ownUnits.add(unit);
		const from = unit;
		const isList = [before_, now_, value].some((one) => [...one.keys()].some((path) => path !== unit));
		const chosen = choices?.get(keyOf(kind, id, unit));
		// A list is no single value.
		const choice = isList && typeof chosen === 'object' ? undefined : chosen;
		const gone = now_.size === 0 && before_.size > 0 && moves.fieldGone(kind, unit);
		// A table without the column cannot keep it.
		const keeps = choice === 'mine' && !isColumnar(deciding, now.kind);
		if (gone && value.size > 0 && !keeps && choice !== 'let-go') {
			items.push(
				item({
					what: 'homeless',
					field: from,
					old: shown(before_),
					mine: shown(value),
					result: isColumnar(deciding, now.kind) ? null : shown(value),
					why: 'The new version no longer has this field.',
					candidates: moves
						.fieldCandidates(kind, unit)
						.map(({ path, because }) => ({ kind: null, value: path, because, fits: false }))
				})
			);
			if (isColumnar(deciding, now.kind)) {
				result.delete(unit);
				ownUnits.delete(unit);
			} else result.set(unit, value);
			continue;
		}
		if (choice === 'let-go' || (typeof choice === 'object' && 'value' in choice)) {
			const next: Unit = choice === 'let-go' ? now_ : new Map([[unit, choice.value]]);
			result.set(unit, next);
			items.push(
				item({
					what: 'carried',
					by: 'chosen',
					asks: gone && value.size > 0 ? 'homeless' : 'undecided',
					field: unit,
					old: shown(before_),
					new: shown(now_),
					mine: shown(value),
					result: shown(next),
					why: 'You chose it.'
				})
			);
			continue;
		}
		const field = fieldOf(about, unit);
		const separator = field?.separator ?? field?.reference?.list ?? null;
		const side = typeof choice === 'string' ? choice : prefer;
		const both = !sameUnit(before_, now_) && !sameUnit(value, now_);
		// A translation of mine may no longer say what the main text says.
		const stale = !both && mainChanged && unit !== main && !sameUnit(value, now_);
		const merged: Merged = !stale
			? mergeUnit(unit, { old: before_, theirs: now_, mine: value }, separator, side)
			: side === 'mine' || side === 'theirs'
				? { what: 'carried', result: side === 'mine' ? value : now_, by: side }
				: { what: 'undecided', result: value };
		result.set(unit, merged.result);
		if (sameUnit(merged.result, now_)) ownUnits.delete(unit);
		const asks =
			gone && value.size > 0 ? 'homeless' : stale || (both && merged.by !== 'both') ? 'undecided' : null;
		items.push(
			item({
				what: merged.what,
				asks,
				list: isList,
				by: merged.by ?? null,
				field: unit,
				old: shown(before_),
				new: shown(now_),
				mine: shown(value),
				result: shown(merged.result),
				why: !both
					? sameUnit(value, now_)
						? 'The new version has the same.'
						: stale
							? `Only you changed it, but the new version changed the main text: ${shown(theirs.get(main!) ?? NONE) ?? ''}`
							: 'Only you changed it.'
					: merged.by === 'both'
						? 'You and the new version changed different items; both changes are kept.'
						: 'You and the new version both changed it.'
			})
		);
	}
	const isCopy = ownUnits.size === 0;
	wants.push({
		...now,
		from: own,
		what: isCopy ? 'copy' : 'change',
		values: isCopy ? valuesIn(there) : fullOf(new Map([...result].filter(([, unit]) => unit.size > 0))),
		own: ownUnits
	});
}
