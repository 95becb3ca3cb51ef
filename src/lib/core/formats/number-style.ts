// How a number is written, so that another one can be written alike.
import type { Document, FieldNode } from './document';
import { formatOf } from './registry';

const WHOLE = /^([+-]?)(\d+)$/;
const NUMBER = /^([+-]?)(\d*)(?:\.(\d*))?$/;
const HEX = /^([+-]?)0([xX])([0-9a-fA-F]+)$/;
const EXPONENT = /^([+-]?)(\d+)(?:\.(\d*))?([eE])([+-]?)(\d+)$/;
const UNIT = /^([+-]?\d+(?:\.\d+)?)(\s*(?:%|°|[A-Za-zµ]{1,4}))$/;

/** A value in the style of the one it replaces. */
export interface Styled {
	text: string;
	/** What to say when the style could not hold the value. */
	note?: string;
}

/** Plain decimal text of `text`, which is a whole or decimal number without style of its own; else null. */
const plain = (text: string): string | null => (/^-?(0|[1-9]\d*)(\.\d+)?$/.test(text) ? text : null);

function hexLike(old: RegExpExecArray, typed: string): Styled | null {
	const number = WHOLE.test(typed) ? BigInt(typed) : null;
	if (number === null) return null;
	const digits = (number < 0n ? -number : number).toString(16);
	const upper = /[A-F]/.test(old[3]!) || (!/[a-f]/.test(old[3]!) && old[2] === 'X');
	const body = (upper ? digits.toUpperCase() : digits).padStart(old[3]!.length, '0');
	return {
		text: `${number < 0n ? '-' : ''}0${old[2]}${body}`,
		...(digits.length > old[3]!.length
			? { note: `${typed} needs ${digits.length} hex digits; the file had ${old[3]!.length} here.` }
			: {})
	};
}

function exponentLike(old: RegExpExecArray, typed: string): Styled | null {
	const value = Number(typed);
	const places = old[3]?.length ?? 0;
	const written = value.toExponential(places);
	if (Number(written) !== value)
		return { text: typed, note: `${typed} has more digits than the file writes here (${old[0]}).` };
	const [mantissa, power] = written.split('e') as [string, string];
	const sign = power.startsWith('-') ? '-' : old[5] === '+' ? '+' : '';
	return { text: `${mantissa}${old[4]}${sign}${power.replace(/^[+-]/, '').padStart(old[6]!.length, '0')}` };
}

function decimalLike(old: RegExpExecArray, typed: string): Styled {
	const [, sign, whole = '', decimals] = old as unknown as [string, string, string, string?];
	const [, minus, digits = '', places = ''] = NUMBER.exec(typed)!;
	const notes: string[] = [];
	let body = digits;
	if (/^0\d/.test(whole)) {
		if (digits.length > whole.length)
			notes.push(`${typed} is longer than the ${whole.length} digits that the file writes here.`);
		body = digits.padStart(whole.length, '0');
	} else if (whole === '' && digits === '0') body = '';
	let behind = '';
	if (decimals !== undefined || places !== '') {
		const wanted = decimals?.length ?? 0;
		if (places.length > wanted)
			notes.push(
				wanted === 0
					? `${typed} has decimals; the file has a whole number here.`
					: `${typed} has ${places.length} decimals; the file writes ${wanted} here.`
			);
		behind = decimals === undefined && places === '' ? '' : `.${places.padEnd(wanted, '0')}`;
	}
	const front = minus || (sign === '+' ? '+' : '');
	return { text: front + body + behind, ...(notes.length > 0 ? { note: notes.join(' ') } : {}) };
}

/**
 * A number as the one it replaces is written: its decimals (`1.2500`), hex, exponent, leading zeros, plus sign or unit.
 * A value that is typed with a style of its own, or that is not a number, stays as typed.
 */
export function inStyleOf(old: string, typed: string): Styled {
	const value = plain(typed);
	if (value === null) return { text: typed };
	const hex = HEX.exec(old);
	if (hex)
		return (
			hexLike(hex, value) ?? { text: typed, note: `${typed} has decimals; the file has a hex number here.` }
		);
	const exponent = EXPONENT.exec(old);
	if (exponent) return exponentLike(exponent, value)!;
	const unit = UNIT.exec(old);
	if (unit) {
		const { text, note } = inStyleOf(unit[1]!, value);
		return { text: text + unit[2]!, ...(note ? { note } : {}) };
	}
	const number = NUMBER.exec(old);
	return number && /\d/.test(old) ? decimalLike(number, value) : { text: typed };
}

/** A typed value in the number style of the field that it goes into. Text in formats that tell text from numbers stays as typed. */
export function styledFor({ content, format }: Document, field: FieldNode, typed: string): Styled {
	// Bytes have no style of writing.
	if (typeof content !== 'string') return { text: typed };
	if (typeof field.value === 'number') return inStyleOf(content.slice(field.from, field.to), typed);
	return typeof field.value === 'string' && formatOf(format)?.traits.untyped
		? inStyleOf(field.value, typed)
		: { text: typed };
}
