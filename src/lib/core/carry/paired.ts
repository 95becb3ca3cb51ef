// Which record of a new version is which of the old one, by its id: looked up once for two tables, whoever asks.
import type { Rows, Table } from '../stack';

export interface Paired {
	/** The row in the new version of each of the old one; -1 where that has no such id. */
	there: Int32Array;
	/** Rows of the old version, and of the new one, whose id only that has. */
	gone: number[];
	added: number[];
}

/** Neither version is kept by having been compared. */
const known = new WeakMap<Rows, WeakMap<Rows, Paired>>();

/** The rows of two versions of a kind by their ids. */
export function pairedRows(old: Table, fresh: Table): Paired {
	const own = known.get(old.rows) ?? new WeakMap<Rows, Paired>();
	known.set(old.rows, own);
	const last = own.get(fresh.rows);
	if (last) return last;
	const there = new Int32Array(old.count);
	const seen = new Uint8Array(fresh.count);
	const gone: number[] = [];
	const one = old.pool === fresh.pool;
	for (let row = 0; row < old.count; row++) {
		const id = old.rows.ids[row]!;
		const found = one ? (fresh.rows.byText.get(id) ?? -1) : fresh.rowOf(old.pool.at(id));
		there[row] = found;
		if (found < 0) gone.push(row);
		else seen[found] = 1;
	}
	const added: number[] = [];
	for (let row = 0; row < fresh.count; row++) if (seen[row] === 0) added.push(row);
	const paired = { there, gone, added };
	own.set(fresh.rows, paired);
	return paired;
}
