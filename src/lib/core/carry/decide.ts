// What becomes of each thing that my mod says: it stays, it follows the game, or it is put to the modder.
import { displayName, recordKey } from '../stack';
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
import { decideUnits } from './units';

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
