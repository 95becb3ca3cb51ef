import type { FieldGuide } from '../guide';
import type { EffectiveRecord, EffectiveValue, Stack } from '../stack';

/** Every value of which the guide says something. */
export function* guidedValues(
	stack: Stack
): Generator<{ record: EffectiveRecord; path: string; field: FieldGuide; value: EffectiveValue }> {
	for (const table of stack.tables.values()) {
		const guided = Object.entries(table.guide.fields);
		for (const record of table.records)
			for (const [path, field] of guided) {
				const value = record.values.get(path);
				if (value) yield { record, path, field, value };
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
