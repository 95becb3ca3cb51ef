// Fields of a kind that have another name in a new version, by what records of the same ids say in them.
import type { Table } from '../stack';

/** A field that was given another name. */
export interface FieldRenamed {
	from: string;
	to: string;
	/** How sure it is, from 0 to 1: the share of records that say the same in both. */
	sure: number;
	/** Records that were compared. */
	records: number;
}

/** Records that are compared at most. */
const MOST = 4000;
/** Records that are enough, and the share of them that has to say the same. */
const FEW = 3;
const ALIKE = 0.7;

/** A table's values by id and path. */
export type Reader = (row: number, path: string) => string | undefined;

export const readerOf = (table: Table): Reader => {
	const columns = new Map<string, Int32Array>();
	return (row, path) => {
		let column = columns.get(path);
		if (!column) columns.set(path, (column = table.column(path)));
		const text = column[row]!;
		return text < 0 ? undefined : table.pool.at(text);
	};
};

/**
 * Fields that only the old version has, with those that only the new one has and that say the same.
 * @param renamed ids of the new version by those of the old one, where they are others
 */
export function renamedFields(
	old: Table,
	fresh: Table,
	renamed: ReadonlyMap<string, string>
): FieldRenamed[] {
	const gone = old.columns.filter((path) => !fresh.columns.includes(path));
	const added = fresh.columns.filter((path) => !old.columns.includes(path));
	if (gone.length === 0 || added.length === 0) return [];
	const [was, is] = [readerOf(old), readerOf(fresh)];
	const rows: [number, number][] = [];
	for (let row = 0; row < old.count && rows.length < MOST; row++) {
		const id = old.pool.at(old.rows.ids[row]!);
		const there = fresh.rowOf(renamed.get(id) ?? id);
		if (there >= 0) rows.push([row, there]);
	}
	const found: (FieldRenamed & { distinct: number })[] = [];
	for (const from of gone)
		for (const to of added) {
			let [both, same] = [0, 0];
			const values = new Set<string>();
			for (const [row, there] of rows) {
				const [before, after] = [was(row, from), is(there, to)];
				if (before === undefined && after === undefined) continue;
				both++;
				if (before !== after) continue;
				same++;
				values.add(before!);
			}
			if (both === 0 || same / both < ALIKE || same < Math.min(FEW, rows.length)) continue;
			// Where all say one value, as switches do, many fields would look alike.
			const sure = (same / both) * (values.size > 1 ? 1 : 0.75);
			if (sure >= ALIKE) found.push({ from, to, sure, records: both, distinct: values.size });
		}
	found.sort((a, b) => b.sure - a.sure || b.distinct - a.distinct);
	const taken = new Set<string>();
	return found.flatMap(({ distinct: _, ...one }) => {
		if (taken.has(`-${one.from}`) || taken.has(`+${one.to}`)) return [];
		taken.add(`-${one.from}`).add(`+${one.to}`);
		return [one];
	});
}
