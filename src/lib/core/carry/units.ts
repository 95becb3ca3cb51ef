// A record that both versions and my mod have, decided field by field and list by list.
import { fieldOf } from '../guide';
import { isEditable, unitOf, type EffectiveRecord } from '../stack';
import { isColumnar, keyOf, NONE, type Deciding, type Want } from './deciding';
import type { CarryItem } from './items';
import { valuesIn, type MyRecord } from './mine';
import { followed, type Missing } from './references';
import { mergeUnit, sameUnit, unitsOf, type Merged, type Unit } from './three';

const shown = (unit: Unit): string | null =>
	unit.size === 0 ? null : unit.size === 1 ? [...unit.values()][0]! : [...unit.values()].join(', ');

const fullOf = (units: ReadonlyMap<string, Unit>): Map<string, string> =>
	new Map([...units.values()].flatMap((unit) => [...unit]));

/** A record that all three have, field by field. */
export function decideUnits(
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
