// What sort of value a column holds, told from all values that it takes and from its name.
import type { Pool } from '../facts';
import type { FieldGuide } from '../guide';
import { wordsOf } from './likeness';
import { meansNothing } from './columns';
import type { Column } from './sketch';
import { atLeast, finding, listed, said } from './sure';

/** What was told of a column's values. */
export type Told = Pick<
	FieldGuide,
	'type' | 'decimals' | 'usual' | 'separator' | 'weight' | 'codes' | 'required' | 'unit' | 'found'
>;

const WHOLE = /^[-+]?\d+$/;
const TRUTHS: readonly (readonly string[])[] = [
	['true', 'false'],
	['yes', 'no'],
	['on', 'off']
];
const DATE = /^\d{4}-\d{2}-\d{2}(?:[T ]\d{2}:\d{2}(?::\d{2})?(?:Z|[-+]\d{2}:?\d{2})?)?$/;
const COLOUR = /^(?:#|0x)?(?:[0-9a-fA-F]{6}|[0-9a-fA-F]{8})$|^#[0-9a-fA-F]{3}$/;
const TRIPLE = /^\s*\d{1,3}\s*[,; ]\s*\d{1,3}\s*[,; ]\s*\d{1,3}\s*$/;
const DURATION = /^\d+(?:\.\d+)?\s*(?:ms|s|sec|min|h|d|ticks?|frames?|turns?)$/;
const PLACE = /^[-+]?\d+(?:\.\d+)?\s*[,; ]\s*[-+]?\d+(?:\.\d+)?(?:\s*[,; ]\s*[-+]?\d+(?:\.\d+)?)?$/;
const FILE = /^[\w./\\ -]+\.[A-Za-z0-9]{2,5}$/;
const EXPRESSION = /[A-Za-z_][\w.]*\s*(?:[<>]=?|==|~=|!=|[-+*/%])\s*[\w.(]|\b(?:and|or|not)\b\s*[\w(]/;
const CODE = /^[A-Za-z][\w-]{0,23}$/;

const NAMED: readonly [FieldGuide['type'] & string, readonly string[]][] = [
	['chance', ['chance', 'share', 'odds', 'probability', 'ratio', 'rate', 'likelihood']],
	['flags', ['flag', 'mark', 'mask', 'bitmask']],
	['colour', ['colour', 'color', 'tint', 'rgb', 'hue', 'shade']],
	['angle', ['angle', 'heading', 'bearing', 'course', 'yaw', 'rotation', 'facing']],
	['duration', ['tick', 'frame', 'duration', 'delay', 'cooldown', 'timeout', 'seconds', 'millisecond']],
	[
		'position',
		['position', 'lat', 'lon', 'latitude', 'longitude', 'north', 'east', 'x', 'y', 'z', 'coordinate']
	]
];

const namedAs = (path: string): string | undefined => {
	const words = wordsOf(path);
	return NAMED.find(([, list]) => words.some((word) => list.includes(word)))?.[0];
};

/** The number at a share of the cells, in ascending order. */
function quantile(sorted: readonly { number: number; count: number }[], all: number, share: number): number {
	let left = all * share;
	for (const { number, count } of sorted) if ((left -= count) <= 0) return number;
	return sorted.at(-1)!.number;
}

/** Separators of lists of words, the rarer in plain text the sooner. */
const SEPARATORS = ['|', ';', ',', '+', '&', ' '];

function listOf(texts: readonly string[]): { separator: string; parts: number } | null {
	for (const separator of SEPARATORS) {
		const held = texts.filter((text) => text.includes(separator));
		if (held.length < Math.max(2, texts.length * 0.3)) continue;
		const parts = texts.flatMap((text) => text.split(separator).map((part) => part.trim()));
		// Parts of a list are words that come again; parts of a sentence are not.
		const different = new Set(parts).size;
		if (
			parts.every((part) => CODE.test(part) || WHOLE.test(part)) &&
			different <= parts.length * (separator === ' ' ? 0.15 : 0.6)
		)
			return { separator, parts: different };
	}
	return null;
}

/** Values that are looked at where looking is dear. */
const MOST = 2000;

const places = (text: string) => (text.includes('.') ? text.trim().length - text.indexOf('.') - 1 : 0);

/**
 * The type of a column. Told once for the same column.
 * @param paths of all files of the game, for fields that name one
 */
export function typeOf(column: Column, records: number, pool: Pool, paths: ReadonlySet<string>): Told {
	const old = known.get(column);
	if (old?.records === records && old.paths === paths.size) return old.told;
	const told = readType(column, records, pool, paths);
	known.set(column, { records, paths: paths.size, told });
	return told;
}

const known = new WeakMap<Column, { records: number; paths: number; told: Told }>();

function readType(column: Column, records: number, pool: Pool, paths: ReadonlySet<string>): Told {
	const { path, values, counts, filled } = column;
	const required = column.records >= records && filled >= column.cells;
	const tell = (type: FieldGuide['type'], sure: number, because: string, more: Partial<Told> = {}): Told => ({
		type,
		required,
		...more,
		found: finding(sure, because)
	});
	const all: { text: string; count: number; number: number }[] = [];
	let cells = 0;
	// Of very many texts some are looked at; numbers all, for their limits.
	const some = Array.from({ length: 200 }, (_, nth) => values[Math.floor((nth * values.length) / 200)]!);
	const words =
		values.length > MOST * 2 && some.filter((value) => Number.isNaN(pool.number(value))).length > 100;
	const step = words ? values.length / MOST : 1;
	for (let place = 0; place < values.length; place += step) {
		const at = Math.floor(place);
		const text = pool.at(values[at]!);
		if (text.length < 5 && meansNothing(text)) continue;
		all.push({ text, count: counts[at]!, number: pool.number(values[at]!) });
		cells += counts[at]!;
	}
	if (cells === 0) return tell('text', 0.2, 'No record has a value there.');
	const share = (test: (value: { text: string; number: number }) => boolean) =>
		all.reduce((sum, value) => sum + (test(value) ? value.count : 0), 0);
	const seen = (hits: number, what: string) => `${said(hits)} of ${said(cells)} values are ${what}.`;
	const named = namedAs(path);
	const truths = TRUTHS.find((pair) => all.every(({ text }) => pair.includes(text.toLowerCase())));
	if (truths)
		return tell('switch', all.length > 1 ? 0.98 : 0.85, seen(cells, listed(truths).replace(', ', ' or ')));
	const numbers = share(({ number }) => !Number.isNaN(number));
	if (numbers === cells) {
		const sorted = all.toSorted((a, b) => a.number - b.number);
		const [low, high] = [sorted[0]!.number, sorted.at(-1)!.number];
		const usual: [number, number] = [quantile(sorted, cells, 0.02), quantile(sorted, cells, 0.98)];
		const whole = share(({ text }) => WHOLE.test(text)) === cells;
		const range = `${low} to ${high}`;
		if (whole) {
			if (low >= 0 && named === 'flags')
				return tell('flags', 0.9, `Its name says so, and all values are whole, ${range}.`);
			if (low === 0 && high === 1 && cells >= 4) return tell('switch', 0.7, seen(cells, '0 or 1'), { usual });
			if (named === 'angle' && low >= -360 && high <= 360 && high > 12)
				return tell('angle', 0.85, `Its name says so, and the values lie from ${range}.`, { usual });
			if (named === 'duration')
				return tell('duration', 0.75, `Its name says so; the values lie from ${range}.`, { usual });
			return tell('whole', atLeast(cells, cells), seen(cells, `whole numbers, ${range}`), { usual });
		}
		const most = Math.max(...all.slice(0, MOST).map(({ text }) => places(text)));
		const even = share(({ text }) => places(text) === most) === cells;
		const decimals = even && most > 0 && most <= 9 ? { decimals: most } : {};
		if (low >= 0 && high <= 1 && (named === 'chance' || all.length >= 4))
			return tell(
				'chance',
				named === 'chance' ? 0.95 : 0.75,
				seen(cells, `between 0 and 1${named === 'chance' ? ', and its name says so' : ''}`),
				{ usual, ...decimals }
			);
		if (named === 'angle' && low >= -360 && high <= 360)
			return tell('angle', 0.85, `Its name says so, and the values lie from ${range}.`, {
				usual,
				...decimals
			});
		if (named === 'position')
			return tell('position', 0.75, `Its name says so; the values lie from ${range}.`, {
				usual,
				...decimals
			});
		return tell(
			'decimal',
			atLeast(cells, cells),
			seen(cells, `numbers, ${range}${even ? `, with ${most} decimals each` : ''}`),
			{ usual, ...decimals }
		);
	}
	const seenOf = all.slice(0, MOST);
	const fits = (pattern: RegExp) => seenOf.filter(({ text }) => pattern.test(text)).length / seenOf.length;
	const by = (type: FieldGuide['type'], part: number, what: string, sure: number, more: Partial<Told> = {}) =>
		tell(type, sure * part, `${said(Math.round(part * 100))} % of the values are ${what}.`, more);
	if (fits(DATE) >= 0.9) return by('date', fits(DATE), 'dates', 0.97);
	if (fits(COLOUR) >= 0.95 && (named === 'colour' || seenOf.every(({ text }) => /^#|^0x/.test(text))))
		return by('colour', fits(COLOUR), 'colours', 0.95);
	if (named === 'colour' && fits(TRIPLE) >= 0.9) return by('colour', fits(TRIPLE), 'three numbers each', 0.9);
	if (fits(DURATION) >= 0.9) return by('duration', fits(DURATION), 'spans of time', 0.9);
	if (fits(PLACE) >= 0.9)
		return by('position', fits(PLACE), 'two or three numbers each', named === 'position' ? 0.92 : 0.7);
	const there = seenOf.filter(({ text }) => paths.has(text)).length / seenOf.length;
	if (there >= 0.5 || (fits(FILE) >= 0.9 && seenOf.some(({ text }) => /[/\\]/.test(text))))
		return by(
			'file',
			Math.max(there, fits(FILE)),
			there > 0 ? 'paths of files that are there' : 'written like paths of files',
			there >= 0.5 ? 0.97 : 0.8
		);
	const list = listOf(seenOf.map(({ text }) => text));
	if (list)
		return tell(
			'list',
			0.85,
			`Values are lists with “${list.separator}” between; ${said(list.parts)} different parts come again and again.`,
			{ separator: list.separator }
		);
	if (fits(EXPRESSION) >= 0.5 && fits(CODE) < 0.5)
		return by('expression', fits(EXPRESSION), 'conditions or formulas', 0.8);
	if (all.length >= 2 && all.length <= 16 && cells >= all.length * 3 && fits(CODE) === 1)
		return tell(
			'code',
			atLeast(cells, cells) * 0.95,
			`${said(all.length)} different words in ${said(cells)} values: ${listed(
				all.map(({ text }) => text),
				6
			)}.`
		);
	if (numbers > cells * 0.8)
		return tell(
			'text',
			0.5,
			`${said(numbers)} of ${said(cells)} values are numbers; the others: ${listed(all.filter(({ number }) => Number.isNaN(number)).map(({ text }) => text))}.`
		);
	return tell('text', 0.9, seen(cells, 'texts'));
}
