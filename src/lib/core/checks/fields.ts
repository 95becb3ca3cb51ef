import { isFromPath, type FieldGuide, type KindGuide, type SAID } from '../guide';
import { columnsFor } from '../links';
import {
	cellsOf,
	isEditable,
	rowsWhere,
	rowsWith,
	type EffectiveRecord,
	type EffectiveValue,
	type Stack,
	type Table
} from '../stack';

/** A value of which the guide says something, with what is wrong with it. */
export interface FaultyValue<T> {
	record: EffectiveRecord;
	path: string;
	field: FieldGuide;
	value: EffectiveValue;
	fault: T;
}

/** The rows of the records that my mod has a file of. */
export function myRows({ files, rows }: Table): Set<number> {
	const mine = new Set<number>();
	files.forEach(({ layer }, nth) => {
		if (isEditable(layer)) for (const row of rows.rowsOf[nth]!) if (row >= 0) mine.add(row);
	});
	return mine;
}

/** What the guide says of each column that it speaks of. */
export function* fieldsIn(table: Table): Generator<[string, FieldGuide]> {
	for (const [spoken, field] of Object.entries(table.guide.fields)) {
		if (isFromPath(spoken)) continue;
		for (const path of columnsFor(table, spoken)) yield [path, field];
	}
}

/** Whether the game does not read a field of a record, because another one is not set so. */
export const isIdle = (record: EffectiveRecord, { onlyIf }: FieldGuide): boolean =>
	onlyIf !== undefined && !onlyIf.is.includes(record.value(onlyIf.field) ?? '');

/**
 * Whether people said of a field what the game asks of it.
 * @param what the statement that it is about, where that can be said by itself
 */
export const isSaid = ({ found }: FieldGuide, what?: (typeof SAID)[number]): boolean =>
	found === undefined || (what !== undefined && found.said?.includes(what) === true);

/**
 * Every value of a guided field in which `find` sees a fault. It is asked once for each text that a field takes, and
 * again only where a table changed. Null between two columns: others may go first.
 * @param name of the fault, unique among all that are looked for
 * @param mayBe whether a value of a field can have it at all: most fields cannot, and are not gone through
 */
export function* faultyValues<T>(
	stack: Stack,
	name: string,
	mayBe: (field: FieldGuide) => boolean,
	find: (field: FieldGuide, value: string, kind: KindGuide) => T | null
): Generator<FaultyValue<T> | null> {
	for (const table of stack.tables.values())
		for (const [path, field] of fieldsIn(table)) {
			if (!mayBe(field)) continue;
			const seen = new Map<number, T | null>();
			let cells: ((row: number) => number) | null = null;
			const found = rowsWhere(
				table,
				`${name} ${path}`,
				(row) => {
					const value = (cells ??= cellsOf(table, path))(row);
					if (value < 0) return null;
					let fault = seen.get(value);
					if (fault === undefined) seen.set(value, (fault = find(field, table.pool.at(value), table.guide)));
					return fault;
				},
				() => rowsWith(table, path)
			);
			for (const [row, fault] of found) {
				const record = table.record(row);
				yield { record, path, field, value: record.said(path)!, fault };
			}
			yield null;
		}
}
