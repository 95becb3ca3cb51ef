import { degreesOf, hexOf, rgbOf, windOf } from './convert';

/** One thing that a typed value may be, written in another way. */
export interface Reading {
	what: string;
	value: string;
}

/** A number without the dust of binary fractions, with at most so many decimals. */
const tidy = (value: number, places = 6): string => String(Number(value.toFixed(places)));

const bitsOf = (value: number): string => {
	const bits = [];
	for (let bit = 0; bit < 53; bit++) if (Math.floor(value / 2 ** bit) % 2 === 1) bits.push(bit);
	return bits.join(', ') || 'none';
};

/** Degrees, minutes and seconds of signed degrees, to a hundredth of a second. */
function sexagesimal(degrees: number): string {
	const hundredths = Math.round(Math.abs(degrees) * 360_000);
	const [whole, minutes] = [Math.floor(hundredths / 360_000), Math.floor(hundredths / 6000) % 60];
	return `${degrees < 0 ? '-' : ''}${whole}°${minutes}′${tidy((hundredths % 6000) / 100, 2)}″`;
}

/**
 * All that a value may be, turned into the other ways of writing it: a whole number as hex and bits, bits or hex as a
 * number, per cent and shares, degrees, minutes and seconds, winds, spans of time in ticks, colours.
 * @param perSecond ticks of the game in a second
 */
export function readingsOf(typed: string, perSecond: number): Reading[] {
	const text = typed.trim();
	const found: Reading[] = [];
	const add = (what: string, value: string) => {
		if (value !== text && !found.some((one) => one.what === what)) found.push({ what, value });
	};
	const hex = /^0x([0-9a-f]{1,12})$/i.exec(text)?.[1];
	const whole = /^\d{1,15}$/.test(text) ? Number(text) : hex ? parseInt(hex, 16) : null;
	if (whole !== null) {
		if (hex) add('number', String(whole));
		else add('hex', `0x${whole.toString(16).toUpperCase()}`);
		add('bits that are set', bitsOf(whole));
	}
	const list = /^bits?\s+(\d{1,2}(?:[\s,]+\d{1,2})*[\s,]*)$/i.exec(text)?.[1];
	if (list) {
		const bits = new Set(
			list
				.split(/[\s,]+/)
				.filter(Boolean)
				.map(Number)
		);
		const sum = [...bits].filter((bit) => bit < 53).reduce((all, bit) => all + 2 ** bit, 0);
		add('number with these bits', String(sum));
		add('hex', `0x${sum.toString(16).toUpperCase()}`);
	}
	const percent = /^([-+]?\d+(?:[.,]\d+)?)\s*%$/.exec(text)?.[1];
	if (percent) add('share', tidy(Number(percent.replace(',', '.')) / 100));
	const number = /^[-+]?\d+(?:\.\d+)?$/.test(text) ? Number(text) : null;
	if (number !== null && number >= 0 && number <= 1 && text.includes('.'))
		add('per cent', `${tidy(number * 100)} %`);
	const span = /^(\d+(?:\.\d+)?)\s*(s|sec|seconds|min|minutes|h|hours|t|ticks)$/i.exec(text);
	if (span && perSecond > 0) {
		const unit = span[2]!.toLowerCase()[0]!;
		const seconds =
			Number(span[1]) * { s: 1, m: 60, h: 3600, t: 1 / perSecond }[unit as 's' | 'm' | 'h' | 't'];
		add('ticks', tidy(seconds * perSecond, 3));
		add('seconds', tidy(seconds, 3));
	}
	if (number === null && /[°′″'"NSEWnsew]/.test(text)) {
		const degrees = degreesOf(text);
		if (degrees !== null) add('signed degrees', tidy(degrees));
	}
	if (number !== null && text.includes('.') && Math.abs(number) <= 180)
		add('degrees, minutes, seconds', sexagesimal(number));
	if (number !== null && number >= 0 && number < 360) add('wind', windOf(number));
	const rgb = rgbOf(text);
	if (rgb && !/^\d+$/.test(text)) {
		add('red, green, blue', rgb.join(', '));
		add('colour as hex', hexOf(rgb));
	}
	return found;
}
