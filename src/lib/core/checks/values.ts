// What is wrong with a value by itself: the same while typing and in the checks. Knows nothing of layers and records, so
// that pages can use it.
import { listed } from '../wording';
import { switched } from '../numbers';
import type { FieldGuide, TextGuide } from '../guide';

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
		return /^[-+]?\d+$/.test(value) ? null : 'must be a whole number';
	if (field.type === 'decimal' || field.type === 'angle')
		return NUMBER.test(value) ? null : 'must be a number';
	if (field.type === 'duration')
		return (field.decimals === 0 ? /^[-+]?\d+\s*[a-z]*$/i : /^[-+]?\d+(\.\d+)?\s*[a-z]*$/i).test(value)
			? null
			: 'must be a span of time such as 3 s';
	if (field.type === 'position')
		return /^[-+]?\d+(\.\d+)?(\s*[,; ]\s*[-+]?\d+(\.\d+)?){0,2}$/.test(value)
			? null
			: 'must be a position: one to three numbers';
	if (field.type === 'chance')
		return !NUMBER.test(value)
			? 'must be a number'
			: Number(value) < 0 || Number(value) > 1
				? 'must be between 0 and 1'
				: null;
	if (field.type === 'switch') return switched(value) ? null : 'must be on or off';
	if (field.type === 'date') return isDate(value) ? null : 'must be a date such as 1931-05-24';
	if (field.type === 'colour')
		return /^(#|0x)?[0-9a-f]{3,8}$/i.test(value) || /^\s*\d{1,3}([,; ]\s*\d{1,3}){2,3}\s*$/.test(value)
			? null
			: 'must be a colour';
	// A set holds what is known; others may be there.
	if (field.type === 'code' && field.codes && field.set === undefined)
		return value in field.codes ? null : `must be ${listed(Object.keys(field.codes), 'or')}`;
	return null;
}

/** How a number breaks its hard limit; null where it does not. */
export function limitFault(field: FieldGuide, value: string): { said: string; clamped: number } | null {
	if (value === '' || (field.min === undefined && field.max === undefined)) return null;
	const number = Number(value);
	if (!Number.isFinite(number)) return null;
	if (field.min !== undefined && number < field.min)
		return { said: `must be at least ${field.min}`, clamped: field.min };
	if (field.max !== undefined && number > field.max)
		return { said: `must be at most ${field.max}`, clamped: field.max };
	return null;
}

/** How a text breaks the room that the game has for it; null where it fits. Letters are counted, not bytes. */
export function roomFault(
	{ longest, oneLine }: Pick<TextGuide, 'longest' | 'oneLine'>,
	text: string
): string | null {
	if (oneLine && /[\r\n]/.test(text)) return 'has several lines; the game shows one';
	const letters = longest === undefined ? 0 : [...text].length;
	return longest !== undefined && letters > longest
		? `has ${letters} letters; the game has room for ${longest}`
		: null;
}
