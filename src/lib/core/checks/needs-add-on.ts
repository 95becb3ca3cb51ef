import { addTo } from '../gather';
import { recordAt, rowAt, type Links, type Strand } from '../links';
import { changedRows, displayName } from '../stack';
import { addOnsIn, ANYWHERE, type AddOns } from './add-ons';
import { consequence, quoted, snagAt, SURE_ENOUGH, type Rule } from './snag';

/** How unlikely it must be that the game's own references keep to their add-ons by chance. */
const CHANCE = 1e-6;

/** The add-ons that records name, by their rows. */
function namedBy(addOns: AddOns, links: Links, kind: string): Map<number, number[]> {
	const named = new Map<number, number[]>();
	const start = links.starts.get(addOns.table.kind)!;
	for (const strand of addOns.naming) {
		if (strand.table.kind !== kind) continue;
		strand.to.forEach((place, entry) => {
			const addOn = place - start;
			if (addOn < 0 || addOn >= addOns.table.count) return;
			const row = rowAt(strand, entry);
			addTo(named, row, addOn);
		});
	}
	return named;
}

/** Entries of a strand that lead from outside into an add-on that is not asked for, with it; and how telling that is. */
function across(addOns: AddOns, links: Links, strand: Strand) {
	const from = addOns.homesOf(strand.table);
	const homes = strand.targets.map(({ table }) => addOns.homesOf(table));
	const all = homes.reduce((sum, { length }) => sum + length, 0);
	const inside = homes.reduce((sum, list) => sum + list.filter((home) => home !== ANYWHERE).length, 0);
	const entries: [entry: number, addOn: number][] = [];
	let named: Map<number, number[]> | null = null;
	let followed = 0;
	if (inside > 0)
		for (let entry = 0; entry < strand.to.length; entry++) {
			const place = strand.to[entry]!;
			if (place < 0) continue;
			followed++;
			const nth = strand.targets.findIndex(({ start, room }) => place >= start && place < start + room);
			const home = nth < 0 ? ANYWHERE : (homes[nth]![place - strand.targets[nth]!.start] ?? ANYWHERE);
			if (home === ANYWHERE) continue;
			const row = rowAt(strand, entry);
			const own = from[row]!;
			if (own !== ANYWHERE && addOns.neededBy(own).has(home)) continue;
			named ??= namedBy(addOns, links, strand.table.kind);
			if ((named.get(row) ?? []).some((addOn) => addOns.neededBy(addOn).has(home))) continue;
			entries.push([entry, home]);
		}
	return { entries, chance: (1 - inside / Math.max(1, all)) ** followed };
}

/** A reference to a record that is only there with an add-on, from one that is there without it. */
export const needsAddOn: Rule = {
	id: 'needs-add-on',
	title: 'Only there with an add-on',
	reads: ['records', 'links'],
	*find({ stack, links }) {
		const addOns = addOnsIn(stack, links);
		if (!addOns) return;
		for (const strand of links.strands) {
			yield null;
			if (strand.text || strand.table === addOns.table || strand.sure < SURE_ENOUGH) continue;
			const { entries, chance } = across(addOns, links, strand);
			if (entries.length === 0) continue;
			const mine = new Set(changedRows(strand.table));
			// Where the game does it too, add-ons are no border for this field.
			const never = chance < CHANCE && entries.every(([entry]) => mine.has(rowAt(strand, entry)));
			for (const [entry, addOn] of entries) {
				const record = strand.table.record(rowAt(strand, entry));
				const target = recordAt(links, strand.to[entry]!);
				const presence = record.said(strand.field)?.presence ?? record.presences.at(-1)!;
				const called = displayName(stack, addOns.table.record(addOn));
				yield snagAt(stack, record, presence, {
					rule: 'needs-add-on',
					severity: never ? 'warns' : 'note',
					field: strand.field,
					value: strand.table.pool.at(strand.values[entry]!),
					message: `${quoted(target.id)} is only there with the add-on ${called} (${quoted(addOns.folders[addOn]!)}), which ${quoted(record.id)} does not name. ${consequence(stack, record)} where the add-on is off (line ${presence.line}).`,
					repairable: false
				});
			}
		}
	}
};
