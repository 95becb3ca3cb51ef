import { FOLDER, ID, type FieldGuide, type Found, type KindGuide } from '../guide';
import { columnsFor } from '../links';
import type { Severity } from './snag';
import { derived, type EffectiveRecord, type EffectiveValue, type Stack, type Table } from '../stack';

/** A value of which the guide says something, with what is wrong with it. */
export interface FaultyValue<T> {
	record: EffectiveRecord;
	path: string;
	field: FieldGuide;
	value: EffectiveValue;
	fault: T;
}

/** What the guide says of each column that it speaks of. */
export function* fieldsIn(table: Table): Generator<[string, FieldGuide]> {
	for (const [spoken, field] of Object.entries(table.guide.fields)) {
		if (spoken === ID || spoken === FOLDER) continue;
		for (const path of columnsFor(table, spoken)) yield [path, field];
	}
}

/** Whether people said of a field what the game asks of it. */
export const isSaid = ({ found }: FieldGuide): boolean => found === undefined;

/** How grave it is to go against a statement: what was only found in the files cannot block. */
export const gravity = (found: Found): Severity => (found ? 'warns' : 'blocks');

/**
 * Every value of a guided field in which `find` sees a fault. It is asked once for each text that a field takes, and
 * again only where a table changed.
 * @param name of the fault, unique among all that are looked for
 */
export function* faultyValues<T>(
	stack: Stack,
	name: string,
	find: (field: FieldGuide, value: string, kind: KindGuide) => T | null
): Generator<FaultyValue<T>> {
	for (const table of stack.tables.values())
		for (const [path, field] of fieldsIn(table)) {
			const found = derived(table, `${name} ${path}`, () => {
				const seen = new Map<number, T | null>();
				const rows: [number, T][] = [];
				const column = table.column(path);
				for (let row = 0; row < column.length; row++) {
					const value = column[row]!;
					if (value < 0) continue;
					let fault = seen.get(value);
					if (fault === undefined) seen.set(value, (fault = find(field, table.pool.at(value), table.guide)));
					if (fault !== null) rows.push([row, fault]);
				}
				return rows;
			});
			for (const [row, fault] of found) {
				const record = table.record(row);
				yield { record, path, field, value: record.values.get(path)!, fault };
			}
		}
}
