// What becomes of each thing that my mod says: it stays, it follows the game, or it is put to the modder.
import { displayName, recordKey, type EffectiveRecord } from '../stack';
import {
	COMPARED,
	DECIDED,
	isColumnar,
	keyOf,
	NONE,
	type Decided,
	type Deciding,
	type Want
} from './deciding';
import { itemOf, type CarryItem } from './items';
import { myRecords, valuesIn, type MyRecord } from './mine';
import { followed, type Missing } from './references';
import { sameUnit, unitsOf } from './three';
import { decideUnits, type Case } from './units';

/** Decided records after which half of the rest is done: how many there are is not known before. */
const HALF = 500;

/**
 * Decides what becomes of every record that my mod holds or takes away.
 * @yields the share of carrying over that is done
 */
export function* decide(deciding: Deciding): Generator<number, Decided> {
	const items: CarryItem[] = [];
	const wants: Want[] = [];
	const lost: SoFar['lost'] = new Map();
	let nth = 0;
	for (const record of myRecords(deciding.before, deciding.below)) {
		decideRecord(deciding, record, { items, wants, lost });
		yield COMPARED + (DECIDED - COMPARED) * (1 - HALF / (HALF + ++nth));
	}
	// What my mod keeps as a record of its own can be referred to.
	const kept = new Set(wants.flatMap(({ kind, id, what }) => (what === 'keep' ? [recordKey(kind, id)] : [])));
	const isLost = (item: CarryItem) => {
		const { id = '', kinds = [] } = lost.get(item) ?? {};
		return !kinds.some((kind) => kept.has(recordKey(kind, id)));
	};
	return { items: items.filter(isLost), wants };
}

/** What is decided so far, and the references to records that the new version does not have. */
interface SoFar extends Decided {
	lost: Map<CarryItem, { id: string; kinds: readonly string[] }>;
}

/** A record of my mod beside the new version, with what is said of it as it is decided. */
function caseOf(deciding: Deciding, own: MyRecord, { items, wants, lost }: SoFar): Case {
	const { after, before, moves, choices } = deciding;
	const { kind, id, was, is } = own;
	const choice = choices?.get(keyOf(kind, id, null));
	const chosenPlace = typeof choice === 'object' && 'place' in choice ? choice.place : undefined;
	const place = was ? (chosenPlace ? { ...chosenPlace, sure: 1 } : moves.record(kind, id)) : undefined;
	const there = place && after.tables.get(place.kind)?.byId.get(place.id);
	const now = { kind: place?.kind ?? kind, id: place?.id ?? id };
	const item = (about: Parameters<Case['tell']>[0]): CarryItem =>
		itemOf({
			key: keyOf(kind, id, about.field ?? null),
			kind: now.kind,
			record: now.id,
			name: there ? displayName(after, there) : displayName(before, is ?? was!),
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
	return {
		deciding,
		own,
		choice,
		now,
		there,
		missing,
		tell: (about) => void items.push(item(about)),
		want: (what, { at = now, values = NONE, own: units = NONE_OWN } = {}) =>
			void wants.push({ ...at, from: own, what, values, own: units })
	};
}

const NONE_OWN: ReadonlySet<string> = new Set();

/** The side that the modder chose for a whole record, or prefers; null where that is neither. */
const sideOf = ({ choice, deciding }: Case): 'mine' | 'theirs' | null => {
	const side = choice === 'mine' || choice === 'theirs' ? choice : deciding.prefer;
	return side === 'mine' || side === 'theirs' ? side : null;
};

/** All that my mod says of a record, under the names of the new version; what has no place there is told. */
function carriedValues({ deciding, own, missing, tell }: Case): Map<string, string> {
	const { moves } = deciding;
	const { kind, is } = own;
	const found = new Map<string, string>();
	for (const [path, value] of followed(deciding, kind, is!, valuesIn(is), missing)) {
		if (moves.fieldGone(kind, path)) {
			const fits = !isColumnar(deciding, kind);
			tell({
				what: 'homeless',
				field: path,
				mine: value,
				result: fits ? value : null,
				why: 'The new version no longer has this field.',
				candidates: moves
					.fieldCandidates(kind, path)
					.map(({ path: other, because }) => ({ kind: null, value: other, because, fits: false }))
			});
			if (!fits) continue;
		}
		found.set(moves.field(kind, path), value);
	}
	return found;
}

/** A record that my mod adds. */
function decideAdded(one: Case): void {
	const { deciding, own, tell, want } = one;
	const { after, before } = deciding;
	const { kind, id } = own;
	const renamed = carriedValues(one);
	const clash = after.tables.get(kind)?.byId.get(id);
	const at = { kind, id };
	if (!clash) {
		tell({ what: 'carried', why: 'Your mod adds it.' });
		want('add', { at, values: renamed, own: new Set(renamed.keys()) });
		return;
	}
	// A text is added by its translations, one by one.
	if (before.guide.words?.kind === kind) return decideUnits({ ...one, now: at, there: clash });
	const theirs = valuesIn(clash);
	if (sameUnit(theirs, renamed)) {
		tell({ what: 'refreshed', why: 'The new version has the same record.' });
		want('copy', { at, values: theirs });
		return;
	}
	const side = sideOf(one);
	tell({
		what: side ? 'carried' : 'undecided',
		by: side,
		asks: 'undecided',
		why: 'Your mod adds it, and the new version now has one of the same id.'
	});
	if (side === 'theirs') want('copy', { at, values: theirs });
	else want('keep', { at, values: renamed });
}

/** A record that the new version no longer has. */
function decideGone(one: Case): void {
	const { deciding, own, choice, tell, want } = one;
	const { kind, id, was, is } = own;
	const at = { kind, id };
	if (!is) {
		tell({ what: 'carried', why: 'Your mod removes it, and the new version no longer has it.' });
		want('remove', { at });
		return;
	}
	const changed = [...unitsOf(valuesIn(is))].some(
		([unit, values]) => !sameUnit(values, unitsOf(valuesIn(was)).get(unit) ?? NONE)
	);
	if (!changed || choice === 'let-go') {
		tell({
			what: changed ? 'carried' : 'refreshed',
			by: changed ? 'chosen' : null,
			asks: changed ? 'homeless' : null,
			why: changed
				? 'The new version no longer has it, and your changes to it are dropped.'
				: 'The new version no longer has it, and your mod only had a copy of it.'
		});
		want('remove', { at });
		return;
	}
	const renamed = carriedValues(one);
	const kept = choice === 'mine';
	tell({
		what: kept ? 'carried' : 'homeless',
		asks: 'homeless',
		by: kept ? 'chosen' : null,
		why: kept
			? 'The new version no longer has it; your mod keeps it as a record of its own.'
			: 'The new version no longer has this record.',
		candidates: deciding.moves
			.candidates(kind, id)
			.map(({ kind: other, id: value, because }) => ({ kind: other, value, because, fits: true }))
	});
	want('keep', { at, values: renamed, own: new Set(renamed.keys()) });
}

/** A record that my mod takes out of the game. */
function decideRemoved(one: Case, there: EffectiveRecord): void {
	const { deciding, own, tell, want } = one;
	const { kind, was } = own;
	const keyField = deciding.before.guide.kinds[kind]?.key;
	const theirs = unitsOf(valuesIn(there));
	const differs = [...unitsOf(valuesIn(was))].some(
		([unit, values]) =>
			unit !== keyField && !sameUnit(values, theirs.get(deciding.moves.field(kind, unit)) ?? NONE)
	);
	const side = sideOf(one);
	tell({
		what: differs && !side ? 'undecided' : 'carried',
		asks: differs ? 'undecided' : null,
		by: differs ? side : null,
		why: differs ? 'Your mod removes it, and the new version changes it.' : 'Your mod removes it.'
	});
	if (differs && side === 'theirs') want('copy', { values: valuesIn(there) });
	else want('remove');
}

function decideRecord(deciding: Deciding, own: MyRecord, soFar: SoFar): void {
	const one = caseOf(deciding, own, soFar);
	const { there } = one;
	if (!own.was) decideAdded(one);
	else if (!there) decideGone(one);
	else if (!own.is) decideRemoved(one, there);
	else decideUnits({ ...one, there });
}
