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

/** A field of which the values now stand in two, one after the other. */
export interface FieldSplit {
	from: string;
	to: [string, string];
	/** What stood between the two. */
	between: string;
	/** How sure it is, from 0 to 1: the share of records of which the two make what was in the one. */
	sure: number;
	records: number;
}

/** Rows of both versions that are the same record, as many as are compared. */
function rowsOfBoth(old: Table, fresh: Table, renamed: ReadonlyMap<string, string>): [number, number][] {
	const rows: [number, number][] = [];
	for (let row = 0; row < old.count && rows.length < MOST; row++) {
		const id = old.pool.at(old.rows.ids[row]!);
		const there = fresh.rowOf(renamed.get(id) ?? id);
		if (there >= 0) rows.push([row, there]);
	}
	return rows;
}

/** Fields that only one of two versions has. */
const onlyIn = (one: Table, other: Table): string[] =>
	one.columns.filter((path) => !other.columns.includes(path));

/** What stands between two parts in a whole; null where they do not make it. */
function betweenIn(whole: string, first: string, second: string): string | null {
	const rest = whole.length - first.length - second.length;
	if (first === '' || second === '' || rest < 0) return null;
	if (!whole.startsWith(first) || !whole.endsWith(second)) return null;
	return whole.slice(first.length, first.length + rest);
}

/**
 * Fields that only the old version has, and of which two that only the new one has say a part each.
 * @param renamed ids of the new version by those of the old one, where they are others
 * @param taken fields that are known to have another name only
 */
export function splitFields(
	old: Table,
	fresh: Table,
	renamed: ReadonlyMap<string, string>,
	taken: readonly FieldRenamed[]
): FieldSplit[] {
	const gone = onlyIn(old, fresh).filter((path) => !taken.some(({ from }) => from === path));
	const added = onlyIn(fresh, old).filter((path) => !taken.some(({ to }) => to === path));
	if (gone.length === 0 || added.length < 2) return [];
	const [was, is] = [readerOf(old), readerOf(fresh)];
	const rows = rowsOfBoth(old, fresh, renamed);
	const left = new Set(added);
	return gone.flatMap((from) => {
		const filled = rows.filter(([row]) => was(row, from) !== undefined);
		const parts = (at: 'startsWith' | 'endsWith') =>
			[...left].filter((path) => {
				let alike = 0;
				for (const [row, there] of filled) {
					const value = is(there, path);
					if (value !== undefined && value !== '' && was(row, from)![at](value)) alike++;
				}
				return filled.length >= FEW && alike / filled.length >= ALIKE;
			});
		const lasts = parts('endsWith');
		let best: FieldSplit | null = null;
		for (const first of parts('startsWith'))
			for (const second of lasts) {
				if (first === second) continue;
				const counts = new Map<string, number>();
				for (const [row, there] of filled) {
					const between = betweenIn(was(row, from)!, is(there, first) ?? '', is(there, second) ?? '');
					if (between !== null) counts.set(between, (counts.get(between) ?? 0) + 1);
				}
				for (const [between, count] of counts) {
					const sure = count / filled.length;
					if (sure >= ALIKE && sure > (best?.sure ?? 0))
						best = { from, to: [first, second], between, sure, records: filled.length };
				}
			}
		for (const path of best?.to ?? []) left.delete(path);
		return best ? [best] : [];
	});
}

/**
 * Fields that only the old version has, with those that only the new one has and that say the same.
 * @param renamed ids of the new version by those of the old one, where they are others
 */
export function renamedFields(
	old: Table,
	fresh: Table,
	renamed: ReadonlyMap<string, string>
): FieldRenamed[] {
	const [gone, added] = [onlyIn(old, fresh), onlyIn(fresh, old)];
	if (gone.length === 0 || added.length === 0) return [];
	const [was, is] = [readerOf(old), readerOf(fresh)];
	const rows = rowsOfBoth(old, fresh, renamed);
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
