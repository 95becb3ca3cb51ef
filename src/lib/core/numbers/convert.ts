// What a written value stands for in the units that people think in, and what they type turned into what is written.
import type { FieldGuide } from '../guide';
import { sharesOf } from './weights';

/** The parts of the guide that these need. */
export type About = Pick<FieldGuide, 'type' | 'unit' | 'perSecond' | 'separator' | 'weight' | 'reference'>;

const NUMBER = /^[-+]?\d+(?:\.\d+)?$/;
const places = (text: string) => (text.includes('.') ? text.length - text.indexOf('.') - 1 : 0);

/** A number with as many decimals as another has, and more where it would not be the same otherwise. */
function inStyle(number: number, like: string, most = 6): string {
	for (let digits = places(like.trim()); digits <= most; digits++)
		if (Math.abs(Number(number.toFixed(digits)) - number) < 1e-9) return number.toFixed(digits);
	return number.toFixed(Math.max(most, places(like.trim())));
}

const WINDS = 'N NNE NE ENE E ESE SE SSE S SSW SW WSW W WNW NW NNW'.split(' ');

/** The nearest of sixteen winds of an angle in degrees, clockwise from north. */
export const windOf = (degrees: number): string =>
	WINDS[Math.round((((degrees % 360) + 360) % 360) / 22.5) % 16]!;

/**
 * Degrees, minutes and seconds with a letter or a sign, as signed degrees: `61°30'15"N`, `7 15 W`, `-7.25`. South and
 * west are negative. Null where it is none of these.
 */
export function degreesOf(text: string): number | null {
	const match =
		/^\s*([-+]?)(\d+(?:\.\d+)?)\s*[°d: ]?\s*(?:(\d+(?:\.\d+)?)\s*['′m: ]?\s*)?(?:(\d+(?:\.\d+)?)\s*["″s]?\s*)?([NSEWnsew]?)\s*$/.exec(
			text
		);
	if (!match) return null;
	const [, sign, degrees, minutes = '0', seconds = '0', letter = ''] = match;
	if (Number(minutes) >= 60 || Number(seconds) >= 60) return null;
	const size = Number(degrees) + Number(minutes) / 60 + Number(seconds) / 3600;
	return sign === '-' || /[SWsw]/.test(letter) ? -size : size;
}

/** Red, green and blue of a written colour, 0 to 255 each; null where it is none. */
export function rgbOf(text: string): [number, number, number] | null {
	const hex = /^(?:#|0x)?([0-9a-f]{6})(?:[0-9a-f]{2})?$/i.exec(text)?.[1];
	if (hex) return [0, 2, 4].map((at) => parseInt(hex.slice(at, at + 2), 16)) as [number, number, number];
	const short = /^#([0-9a-f])([0-9a-f])([0-9a-f])$/i.exec(text);
	if (short) return short.slice(1).map((digit) => parseInt(digit + digit, 16)) as [number, number, number];
	const triple = /^\s*(\d{1,3})\s*[,; ]\s*(\d{1,3})\s*[,; ]\s*(\d{1,3})\s*$/.exec(text);
	const parts = triple?.slice(1).map(Number);
	return parts?.every((part) => part <= 255) ? (parts as [number, number, number]) : null;
}

const twoDigits = (part: number) => part.toString(16).padStart(2, '0');

/** A colour as browsers write it: `#a1b2c3`. */
export const hexOf = (rgb: readonly number[]): string => `#${rgb.map(twoDigits).join('')}`;

/** Another colour in the way that one is written: its marks, case, separators and what is after it kept. */
export function withColour(written: string, rgb: readonly [number, number, number]): string {
	if (/^#[0-9a-f]{3}$/i.test(written)) return hexOf(rgb);
	const hex = /^(#|0x|)([0-9a-f]{6})([0-9a-f]{2})?$/i.exec(written);
	if (hex) {
		const digits = rgb.map(twoDigits).join('');
		return hex[1] + (/[A-F]/.test(hex[2]!) ? digits.toUpperCase() : digits) + (hex[3] ?? '');
	}
	let nth = 0;
	return written.replace(/\d{1,3}/g, (part) => String(rgb[nth++] ?? part));
}

const percent = (share: number) => `${Number((share * 100).toFixed(2))} %`;

/** What a value stands for in words; null where it needs none. */
export function inWords(about: About, value: string): string | null {
	const number = NUMBER.test(value.trim()) ? Number(value) : null;
	switch (about.type) {
		case 'chance':
			return number === null ? null : percent(number);
		case 'angle':
			return number === null ? null : windOf(number);
		case 'duration':
			return number === null || !about.perSecond
				? null
				: `${Number((number / about.perSecond).toFixed(2))} s`;
		case 'weights': {
			const { list, weight } = about.reference ?? { list: about.separator, weight: about.weight };
			const shares = sharesOf(value, { list: list ?? about.separator, weight: weight ?? about.weight });
			return shares.length < 2 ? null : shares.map(({ id, share }) => `${id} ${percent(share)}`).join(', ');
		}
		case 'flags':
			return null;
		default:
			return null;
	}
}

/**
 * What people typed, as written: `25 %` as a share, `NNE` as an angle, `3 s` as ticks, degrees, minutes and seconds
 * as signed degrees; in the style of what was there. All else stays as it is.
 */
export function asWritten(about: About, typed: string, before: string): string {
	const text = typed.trim();
	switch (about.type) {
		case 'chance': {
			const share = /^([-+]?\d+(?:[.,]\d+)?)\s*%$/.exec(text)?.[1];
			return share === undefined ? typed : inStyle(Number(share.replace(',', '.')) / 100, before);
		}
		case 'angle': {
			const wind = WINDS.indexOf(text.toUpperCase());
			if (wind >= 0) return inStyle(wind * 22.5, before);
			const degrees = /[°'"′″]/.test(text) ? degreesOf(text) : null;
			return degrees === null ? typed : inStyle(degrees, before);
		}
		case 'position': {
			if (NUMBER.test(text)) return typed;
			const degrees = degreesOf(text);
			return degrees === null ? typed : inStyle(degrees, before);
		}
		case 'duration': {
			const seconds = /^(\d+(?:\.\d+)?)\s*(?:s|sec|seconds)$/i.exec(text)?.[1];
			return seconds === undefined || !about.perSecond
				? typed
				: inStyle(Number(seconds) * about.perSecond, before);
		}
		default:
			return typed;
	}
}

const PAIRS: readonly (readonly [string, string])[] = [
	['false', 'true'],
	['0', '1'],
	['no', 'yes'],
	['off', 'on'],
	['#f', '#t']
];

/** A switch the other way round, in the words and case that it is written in; null where it is no switch. */
export function switched(value: string): { on: boolean; other: string } | null {
	for (const [off, on] of PAIRS) {
		const at = value.toLowerCase();
		if (at !== off && at !== on) continue;
		const other = at === on ? off : on;
		const first = other.charAt(0).toUpperCase() + other.slice(1);
		return {
			on: at === on,
			other:
				value === value.toLowerCase() ? other : value === value.toUpperCase() ? other.toUpperCase() : first
		};
	}
	return null;
}
