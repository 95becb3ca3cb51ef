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
		// A field that no record has is still asked for where it is required.
		for (const path of columnsFor(table, spoken)) yield [path, field];
	}
}

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

const NUMBER = /^[-+]?\d+(\.\d+)?$/;

function isDate(value: string): boolean {
	const match = /^(\d{4})-(\d{2})-(\d{2})(?:[T ].+)?$/.exec(value);
	if (!match) return false;
	const [, year, month, day] = match.map(Number) as [number, number, number, number];
	const date = new Date(Date.UTC(year, month - 1, day));
	return date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
}

/** What is wrong with a value as a value of its type; null where nothing is. The same for checks and while typing. */
export function typeFault(field: FieldGuide, value: string): string | null {
	if (value === '') return field.required ? 'is empty' : null;
	if (field.type === 'whole' || field.type === 'flags')
		return /^[-+]?\d+$/.test(value) ? null : 'is not a whole number';
	if (field.type === 'decimal' || field.type === 'angle')
		return NUMBER.test(value) ? null : 'is not a number';
	if (field.type === 'chance')
		return !NUMBER.test(value)
			? 'is not a number'
			: Number(value) < 0 || Number(value) > 1
				? 'is no share between 0 and 1'
				: null;
	if (field.type === 'switch')
		return /^(true|false|0|1|yes|no|on|off)$/i.test(value) ? null : 'is neither on nor off';
	if (field.type === 'date') return isDate(value) ? null : 'is no date such as 1931-05-24';
	if (field.type === 'colour')
		return /^(#|0x)?[0-9a-f]{3,8}$/i.test(value) || /^\s*\d{1,3}([,; ]\s*\d{1,3}){2,3}\s*$/.test(value)
			? null
			: 'is no colour';
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
