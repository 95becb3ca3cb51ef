import type { FieldGuide, KindGuide } from '../guide';
import { derived, type EffectiveRecord, type EffectiveValue, type Stack } from '../stack';

/** A value of which the guide says something, with what is wrong with it. */
export interface FaultyValue<T> {
	record: EffectiveRecord;
	path: string;
	field: FieldGuide;
	value: EffectiveValue;
	fault: T;
}

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
		for (const [path, field] of Object.entries(table.guide.fields)) {
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

/** What is wrong with a value as a value of its type; null where nothing is. The same for checks and while typing. */
export function typeFault(field: FieldGuide, value: string): string | null {
	if (value === '') return field.required ? 'is empty' : null;
	if (field.type === 'whole' || field.type === 'flags')
		return /^[-+]?\d+$/.test(value) ? null : 'is not a whole number';
	if (field.type === 'decimal') return /^[-+]?\d+(\.\d+)?$/.test(value) ? null : 'is not a number';
	if (field.type === 'switch') return /^(true|false|0|1)$/.test(value) ? null : 'is neither on nor off';
	if (field.type === 'code' && field.codes)
		return value in field.codes ? null : `is none of ${Object.keys(field.codes).join(', ')}`;
	return null;
}

/** How a number breaks its hard limit; null where it does not. */
export function limitFault(field: FieldGuide, value: string): { said: string; clamped: number } | null {
	if (value === '' || (field.min === undefined && field.max === undefined)) return null;
	const number = Number(value);
	if (!Number.isFinite(number)) return null;
	if (field.min !== undefined && number < field.min)
		return { said: `is below ${field.min}`, clamped: field.min };
	if (field.max !== undefined && number > field.max)
		return { said: `is above ${field.max}`, clamped: field.max };
	return null;
}
