// A record that both versions and my mod have, decided field by field and list by list.
import { fieldOf } from '../guide';
import { isEditable, unitOf, type EffectiveRecord } from '../stack';
import { isColumnar, keyOf, NONE, type Deciding, type Want } from './deciding';
import type { CarryItem, Choice } from './items';
import { valuesIn, type MyRecord } from './mine';
import { followed, type Missing } from './references';
import { mergeUnit, sameUnit, unitsOf, type Merged, type Unit } from './three';

const shown = (unit: Unit): string | null =>
	unit.size === 0 ? null : unit.size === 1 ? [...unit.values()][0]! : [...unit.values()].join(', ');

const fullOf = (units: ReadonlyMap<string, Unit>): Map<string, string> =>
	new Map([...units.values()].flatMap((unit) => [...unit]));

/** A record of my mod beside the new version, with what is said of it as it is decided. */
export interface Case {
	deciding: Deciding;
	own: MyRecord;
	/** What the modder chose for the record as a whole. */
	choice: Choice | undefined;
	/** What it is in the new version. */
	now: { kind: string; id: string };
	there: EffectiveRecord | undefined;
	/** Says that a reference leads nowhere. */
	missing: Missing;
	/** Says what became of the record or of a field. */
	tell(about: Partial<CarryItem> & Pick<CarryItem, 'what' | 'why'>): void;
	/** Has the record be so; with the id that it has in the new version, unless another is said. */
	want(
		what: Want['what'],
		about?: { at?: Case['now']; values?: ReadonlyMap<string, string>; own?: ReadonlySet<string> }
	): void;
}

/** The three versions of a record, by fields and lists under the names of the new version. */
interface Versions {
	old: Map<string, Unit>;
	theirs: Map<string, Unit>;
	/** What my mod says, and of that what only it says: a copy of what the old version had follows the game by itself. */
	all: Map<string, Unit>;
	mine: Map<string, Unit>;
	/** What a file of my mod says itself: the rest was never a copy. */
	held: Set<string>;
	/** The main language, where the record is a text whose main text the new version changed. */
	mainChanged: string | null;
}

function versionsOf({ deciding, own, there, missing }: Case): Versions {
	const { moves, before } = deciding;
	const { kind, was, is } = own;
	const rename = (values: ReadonlyMap<string, string>) =>
		new Map([...values].map(([path, value]) => [moves.field(kind, path), value]));
	const asWas = unitsOf(valuesIn(was));
	const asIs = unitsOf(valuesIn(is));
	const said = new Map(
		[...valuesIn(is)].filter(([path]) => {
			const unit = unitOf(path);
			return !sameUnit(asWas.get(unit) ?? NONE, asIs.get(unit) ?? NONE);
		})
	);
	// Layers of others may still have the old names.
	const [old, theirs] = [unitsOf(rename(valuesIn(was))), unitsOf(rename(valuesIn(there)))];
	const { words } = before.guide;
	const main = words?.kind === kind ? words.main : null;
	return {
		old,
		theirs,
		all: unitsOf(rename(valuesIn(is))),
		mine: unitsOf(rename(followed(deciding, kind, is!, said, missing))),
		held: new Set(
			[...is!.values].flatMap(([path, { presence }]) =>
				isEditable(presence.layer) ? [unitOf(moves.field(kind, path))] : []
			)
		),
		mainChanged: main !== null && !sameUnit(old.get(main) ?? NONE, theirs.get(main) ?? NONE) ? main : null
	};
}

/** A field or list that my mod changed, in all three versions, and what the modder chose for it. */
interface Field {
	unit: string;
	old: Unit;
	theirs: Unit;
	mine: Unit;
	isList: boolean;
	choice: Choice | undefined;
	/** Whether the new version no longer has it, and my mod does. */
	homeless: boolean;
}

function fieldIn({ deciding, own }: Case, versions: Versions, unit: string): Field {
	const { moves, choices } = deciding;
	const [old, theirs, mine] = [versions.old, versions.theirs, versions.mine].map(
		(units) => units.get(unit) ?? NONE
	) as [Unit, Unit, Unit];
	const isList = [old, theirs, mine].some((one) => [...one.keys()].some((path) => path !== unit));
	const chosen = choices?.get(keyOf(own.kind, own.id, unit));
	return {
		unit,
		old,
		theirs,
		mine,
		isList,
		// A list is no single value.
		choice: isList && typeof chosen === 'object' ? undefined : chosen,
		homeless: theirs.size === 0 && old.size > 0 && moves.fieldGone(own.kind, unit) && mine.size > 0
	};
}

const saidOf = ({ unit, old, theirs, mine }: Field, result: Unit) => ({
	field: unit,
	old: shown(old),
	new: shown(theirs),
	mine: shown(mine),
	result: shown(result)
});

/** What becomes of a field that my mod changed, and whether that is mine; null where the record loses it. */
function decideField(one: Case, versions: Versions, field: Field): { next: Unit; isMine: boolean } | null {
	const { deciding, own, now, tell } = one;
	const { unit, theirs, mine, choice, homeless } = field;
	const isTable = isColumnar(deciding, now.kind);
	// A table without the column cannot keep it.
	const keeps = choice === 'mine' && !isTable;
	if (homeless && !keeps && choice !== 'let-go') {
		tell({
			what: 'homeless',
			...saidOf(field, mine),
			...(isTable ? { result: null } : {}),
			why: 'The new version no longer has this field.',
			candidates: deciding.moves
				.fieldCandidates(own.kind, unit)
				.map(({ path, because }) => ({ kind: null, value: path, because, fits: false }))
		});
		return isTable ? null : { next: mine, isMine: true };
	}
	if (choice === 'let-go' || (typeof choice === 'object' && 'value' in choice)) {
		const next: Unit = choice === 'let-go' ? theirs : new Map([[unit, choice.value]]);
		tell({
			what: 'carried',
			by: 'chosen',
			asks: homeless ? 'homeless' : 'undecided',
			...saidOf(field, next),
			why: 'You chose it.'
		});
		return { next, isMine: true };
	}
	const next = mergedField(one, versions, field);
	return { next, isMine: !sameUnit(next, theirs) };
}

/** A field that my mod changed and nobody chose by hand: both changes are joined where they can be. */
function mergedField({ deciding, own, tell }: Case, versions: Versions, field: Field): Unit {
	const { before, prefer } = deciding;
	const { unit, old, theirs, mine, choice, homeless, isList } = field;
	const about = fieldOf(before.guide.kinds[own.kind], unit);
	const separator = about?.separator ?? about?.reference?.list ?? null;
	const side = typeof choice === 'string' && choice !== 'let-go' ? choice : prefer;
	const agrees = sameUnit(mine, theirs);
	const both = !sameUnit(old, theirs) && !agrees;
	const { mainChanged } = versions;
	// A translation of mine may no longer say what the main text says.
	const stale = !both && mainChanged !== null && unit !== mainChanged && !agrees;
	const merged: Merged = !stale
		? mergeUnit(unit, { old, theirs, mine }, separator, side)
		: side === 'mine' || side === 'theirs'
			? { what: 'carried', result: side === 'mine' ? mine : theirs, by: side }
			: { what: 'undecided', result: mine };
	const asksBoth = both && merged.by !== 'both';
	const why = both
		? merged.by === 'both'
			? 'You and the new version changed different items; both changes are kept.'
			: 'You and the new version both changed it.'
		: agrees
			? 'The new version has the same.'
			: stale
				? `Only you changed it, but the new version changed the main text: ${shown(versions.theirs.get(mainChanged) ?? NONE) ?? ''}`
				: 'Only you changed it.';
	tell({
		what: merged.what,
		asks: homeless ? 'homeless' : stale || asksBoth ? 'undecided' : null,
		list: isList,
		by: merged.by ?? null,
		...saidOf(field, merged.result),
		why
	});
	return merged.result;
}

/** Decides a record that all three have, field by field and list by list. */
export function decideUnits(one: Case & { there: EffectiveRecord }): void {
	const { deciding, own, now, there, tell, want } = one;
	const versions = versionsOf(one);
	const { old, theirs, all, mine, held } = versions;
	const result = new Map<string, Unit>(theirs);
	const ownUnits = new Set<string>();
	// What names a record is not among its values.
	const keys = new Set(
		[deciding.before.guide.kinds[own.kind], deciding.after.guide.kinds[now.kind]].map((about) => about?.key)
	);
	for (const unit of new Set([...old.keys(), ...all.keys()])) {
		if (keys.has(unit)) continue;
		const [before, after] = [old.get(unit) ?? NONE, theirs.get(unit) ?? NONE];
		const changed = mine.has(unit) || (!all.has(unit) && before.size > 0);
		if (!changed) {
			if (!sameUnit(before, after) && held.has(unit))
				tell({
					what: 'refreshed',
					...saidOf({ ...fieldIn(one, versions, unit), mine: before }, after),
					why: 'You never changed it.'
				});
			continue;
		}
		const decided = decideField(one, versions, fieldIn(one, versions, unit));
		if (!decided) result.delete(unit);
		else {
			result.set(unit, decided.next);
			if (decided.isMine) ownUnits.add(unit);
		}
	}
	const isCopy = ownUnits.size === 0;
	const whole = fullOf(new Map([...result].filter(([, unit]) => unit.size > 0)));
	want(isCopy ? 'copy' : 'change', { values: isCopy ? valuesIn(there) : whole, own: ownUnits });
}
