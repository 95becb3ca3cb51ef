// What a field that names nothing may have meant.
import { fieldOf } from '../guide';
import { nearest, type Link } from '../links';
import type { Stack, Table } from '../stack';

/** By what the records of a table are named: their ids, or the values of another field. */
function namesIn(table: Table, key: string | undefined): string[] {
	if (key === undefined) return [...table.byId.keys()];
	return [...new Set(table.column(key))].filter((value) => value >= 0).map((value) => table.pool.at(value));
}

/** What could be in a field instead of what names nothing there, the nearest first. */
export function candidatesFor({ guide, tables }: Stack, { from, field, kinds, value }: Link): string[] {
	const key = fieldOf(guide.kinds[from.kind], field)?.reference?.key;
	return nearest(
		value,
		kinds.flatMap((kind) => namesIn(tables.get(kind)!, key))
	);
}
