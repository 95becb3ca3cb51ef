import type { FieldGuide } from './schema';

/** The named bits of an integer that the guide knows, and whether each is set. Bits count from 0. */
export function flagsOf(field: FieldGuide, value: string): { bit: number; name: string; set: boolean }[] {
	const number = Number(value);
	return Object.entries(field.codes ?? {}).map(([bit, name]) => ({
		bit: Number(bit),
		name,
		set: Number.isInteger(number) && Math.floor(number / 2 ** Number(bit)) % 2 === 1
	}));
}

/** What a value stands for, in words; null where the guide has none. */
export function meaningOf(field: FieldGuide | undefined, value: string): string | null {
	if (!field?.codes) return null;
	if (field.type !== 'flags') return field.codes[value] ?? null;
	const names = flagsOf(field, value)
		.filter((flag) => flag.set)
		.map((flag) => flag.name);
	return names.length > 0 ? names.join(', ') : 'none set';
}

/** A number behind its unit's back: the value as a number, or null where it is none. */
export function unitless(value: string): number | null {
	const trimmed = value.trim();
	return trimmed !== '' && Number.isFinite(Number(trimmed)) ? Number(trimmed) : null;
}
