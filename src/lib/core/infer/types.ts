// What sort of value a column holds, detected from all values that it takes and from its name.
import type { Pool } from '../facts';
import type { FieldGuide } from '../guide';
import { wordsOf } from './likeness';
import { meansNothing } from './columns';
import type { Column } from './sketch';
import { counted } from '../wording';
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
	['on', 'off'],
	['#t', '#f']
];
const DATE = /^\d{4}-\d{2}-\d{2}(?:[T ]\d{2}:\d{2}(?::\d{2})?(?:Z|[-+]\d{2}:?\d{2})?)?$/;
const COLOUR = /^(?:#|0x)?(?:[0-9a-fA-F]{6}|[0-9a-fA-F]{8})$|^#[0-9a-fA-F]{3}$/;
const TRIPLE = /^\s*\d{1,3}\s*[,; ]\s*\d{1,3}\s*[,; ]\s*\d{1,3}\s*$/;
const DURATION = /^\d+(?:\.\d+)?\s*(?:ms|s|sec|min|h|d|ticks?|frames?|turns?)$/;
const PLACE = /^[-+]?\d+(?:\.\d+)?\s*[,; ]\s*[-+]?\d+(?:\.\d+)?(?:\s*[,; ]\s*[-+]?\d+(?:\.\d+)?)?$/;
const FILE = /^(?:[a-z]+:\/\/)?[\w./\\ -]+\.[A-Za-z0-9]{2,5}$/;
/** Something compared, counted or joined; three plain words behind each other are said to people and are none. */
const EXPRESSION =
	/^(?!.*(?:\b(?!and\b|or\b|not\b)[A-Za-z]+\b[ ,]+){2}(?!and\b|or\b|not\b)[A-Za-z]+\b)(?=.*(?:[A-Za-z_][\w.]*\s*(?:[<>]=?|==|~=|!=|[-+*/%])\s*[\w.(]|\b(?:and|or|not)\b\s*[\w(]))/s;
/** What every expression has in it: told soon. */
const MAY_BE = /[<>=~*/%+-]|\b(?:and|or|not)\b/;
const CODE = /^[A-Za-z][\w-]{0,23}$/;
/** A few words that may be a code too, where they come often. */
const WORDS = /^[A-Za-z][\w-]*(?: [A-Za-z][\w-]*){0,2}$/;

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

/** Whether words are written as those of names are. */
const isTitles = (words: readonly string[]): boolean =>
	words.filter((word) => /^\p{Lu}/u.test(word)).length > words.length / 2;

/** The parts of lists of words or numbers; null as soon as one is something else. */
function codesIn(texts: readonly string[], separator: string): string[] | null {
	const parts: string[] = [];
	for (const text of texts)
		for (const piece of text.split(separator)) {
			const part = piece.trim();
			if (!CODE.test(part) && !WHOLE.test(part)) return null;
			parts.push(part);
		}
	return parts;
}

function listOf(texts: readonly string[]): { separator: string; parts: number } | null {
	for (const separator of SEPARATORS) {
		const held = texts.filter((text) => text.includes(separator));
		if (held.length < Math.max(2, texts.length * 0.3)) continue;
		const parts = codesIn(texts, separator);
		if (!parts) continue;
		// Parts of a list are words that recur; parts of a sentence are not.
		const different = new Set(parts).size;
		if (
			!(separator === ' ' && isTitles(parts)) &&
			different <= parts.length * (separator === ' ' ? 0.15 : 0.6)
		)
			return { separator, parts: different };
	}
	return null;
}

/** Values that are looked at where looking is dear. */
const MOST = 2000;
/** Letters from which on a value is a text and nothing else. */
const LONGEST = 2000;

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

/** A value of a column, how many cells have it, and what it is as a number. */
interface Value {
	text: string;
	count: number;
	number: number;
}

/** What the rules look at. */
interface Seen {
	/** Different values; of very many texts some. */
	all: readonly Value[];
	/** As many of them as are looked at where looking is dear. */
	some: readonly Value[];
	/** Cells with a value, and those of them that are numbers. */
	cells: number;
	numbers: number;
	/** The type that the column's name speaks of. */
	named: string | undefined;
	paths: ReadonlySet<string>;
	/** Cells whose value passes a test. */
	share(test: (value: Value) => boolean): number;
	/** The part of the values that fits a pattern, from 0 to 1. */
	fits(pattern: RegExp): number;
	/** “n of m values are …”; of a single one what it is. */
	said(hits: number, what: string): string;
	tell(type: FieldGuide['type'], sure: number, because: string, more?: Partial<Told>): Told;
	/** As the part of the values that are something: as sure as it is large. */
	by(type: FieldGuide['type'], part: number, what: string, sure: number): Told;
}

/** What a column of numbers is about besides. */
interface Numbers {
	low: number;
	high: number;
	range: string;
	/** Nearly all are between. */
	usual: [number, number];
}

/** Tells a type, or that it is not its own. The first that tells one has it. */
type Rule = (seen: Seen) => Told | null;
type NumberRule = (seen: Seen, numbers: Numbers) => Told | null;

/** Values by which it is told whether most are words. */
const SAMPLE = 200;

function areWords(values: Int32Array, pool: Pool): boolean {
	let words = 0;
	for (let nth = 0; nth < SAMPLE; nth++)
		if (Number.isNaN(pool.number(values[Math.floor((nth * values.length) / SAMPLE)]!))) words++;
	return words > SAMPLE / 2;
}

/** Of very many texts some are looked at; numbers all, for their limits. */
function valuesOf({ values, counts }: Column, pool: Pool): Value[] {
	const step = values.length > MOST * 2 && areWords(values, pool) ? values.length / MOST : 1;
	const all: Value[] = [];
	for (let place = 0; place < values.length; place += step) {
		const at = Math.floor(place);
		const text = pool.at(values[at]!);
		if (text.length < 5 && meansNothing(text)) continue;
		all.push({ text, count: counts[at]!, number: pool.number(values[at]!) });
	}
	return all;
}

function look(column: Column, records: number, pool: Pool, paths: ReadonlySet<string>): Seen {
	const all = valuesOf(column, pool);
	const some = all.slice(0, MOST);
	const cells = all.reduce((sum, { count }) => sum + count, 0);
	const required = column.records >= records && column.filled >= column.cells;
	const only = cells === 1 ? `Its only value is ${listed([all[0]!.text])}.` : null;
	const fitting = new Map<RegExp, number>();
	const share: Seen['share'] = (test) => all.reduce((sum, value) => sum + (test(value) ? value.count : 0), 0);
	const tell: Seen['tell'] = (type, sure, because, more = {}) => ({
		type,
		required,
		...more,
		found: finding(sure, because)
	});
	return {
		all,
		some,
		cells,
		numbers: share(({ number }) => !Number.isNaN(number)),
		named: namedAs(column.path),
		paths,
		share,
		fits(pattern) {
			let part = fitting.get(pattern);
			if (part === undefined) {
				const fit = some.filter(({ text }) => text.length <= LONGEST && pattern.test(text));
				fitting.set(pattern, (part = fit.length / some.length));
			}
			return part;
		},
		said: (hits, what) => only ?? `${said(hits)} of ${said(cells)} values are ${what}.`,
		tell,
		by: (type, part, what, sure) =>
			tell(type, sure * part, only ?? `${said(Math.round(part * 100))} % of the values are ${what}.`)
	};
}

/** Columns of whole numbers. */
const WHOLES: readonly NumberRule[] = [
	({ named, tell }, { low, range }) =>
		low >= 0 && named === 'flags'
			? tell('flags', 0.9, `Its name says so, and all values are whole, ${range}.`)
			: null,
	({ cells, tell, said }, { low, high, usual }) =>
		low === 0 && high === 1 && cells >= 4 ? tell('switch', 0.7, said(cells, '0 or 1'), { usual }) : null,
	({ named, tell }, { low, high, range, usual }) =>
		named === 'angle' && low >= -360 && high <= 360 && high > 12
			? tell('angle', 0.85, `Its name says so, and the values lie from ${range}.`, { usual })
			: null,
	({ named, tell }, { range, usual }) =>
		named === 'duration'
			? tell('duration', 0.75, `Its name says so; the values lie from ${range}.`, { usual })
			: null,
	({ cells, tell, said }, { range, usual }) =>
		tell('whole', atLeast(cells, cells), said(cells, `whole numbers, ${range}`), { usual })
];

/** How many decimals the values have, where all have as many. */
function decimalsOf({ some, share, cells }: Seen): { even: boolean; most: number; more: Partial<Told> } {
	const most = Math.max(...some.map(({ text }) => places(text)));
	const even = share(({ text }) => places(text) === most) === cells;
	return { even, most, more: even && most > 0 && most <= 9 ? { decimals: most } : {} };
}

/** Columns of numbers of which some have decimals. */
const DECIMALS: readonly NumberRule[] = [
	(seen, { low, high, usual }) => {
		const named = seen.named === 'chance';
		if (low < 0 || high > 1 || !(named || seen.all.length >= 4)) return null;
		const because = seen.said(seen.cells, `between 0 and 1${named ? ', and its name says so' : ''}`);
		return seen.tell('chance', named ? 0.95 : 0.75, because, { usual, ...decimalsOf(seen).more });
	},
	(seen, { low, high, range, usual }) =>
		seen.named === 'angle' && low >= -360 && high <= 360
			? seen.tell('angle', 0.85, `Its name says so, and the values lie from ${range}.`, {
					usual,
					...decimalsOf(seen).more
				})
			: null,
	(seen, { range, usual }) =>
		seen.named === 'position'
			? seen.tell('position', 0.75, `Its name says so; the values lie from ${range}.`, {
					usual,
					...decimalsOf(seen).more
				})
			: null,
	(seen, { range, usual }) => {
		const { even, most, more } = decimalsOf(seen);
		const because = seen.said(
			seen.cells,
			`numbers, ${range}${even ? `, with ${counted(most, 'decimal')} each` : ''}`
		);
		return seen.tell('decimal', atLeast(seen.cells, seen.cells), because, { usual, ...more });
	}
];

function ofNumbers(seen: Seen): Told | null {
	const { all, cells, numbers, share } = seen;
	if (numbers !== cells) return null;
	const sorted = all.toSorted((a, b) => a.number - b.number);
	const [low, high] = [sorted[0]!.number, sorted.at(-1)!.number];
	const usual: [number, number] = [quantile(sorted, cells, 0.02), quantile(sorted, cells, 0.98)];
	const about: Numbers = { low, high, range: `${low} to ${high}`, usual };
	const rules = share(({ text }) => WHOLE.test(text)) === cells ? WHOLES : DECIMALS;
	return first(rules, (rule) => rule(seen, about));
}

/** Whether the values are paths of files, by what is there or by how they look. */
function ofFiles({ some, paths, fits, by }: Seen): Told | null {
	const there = some.filter(({ text }) => paths.has(text)).length / some.length;
	if (there < 0.5 && (fits(FILE) < 0.9 || !some.some(({ text }) => /[/\\]/.test(text)))) return null;
	const what = there > 0 ? 'paths of existing files' : 'written like paths of files';
	return by('file', Math.max(there, fits(FILE)), what, there >= 0.5 ? 0.97 : 0.8);
}

function ofLists({ some, tell }: Seen): Told | null {
	const list = listOf(some.map(({ text }) => text));
	if (!list) return null;
	const because = `Values are lists with “${list.separator}” between; ${said(list.parts)} different parts recur.`;
	return tell('list', 0.85, because, { separator: list.separator });
}

/** A few words that recur. */
function ofCodes({ all, cells, fits, tell }: Seen): Told | null {
	if (all.length < 2 || all.length > 16 || cells < all.length * 3) return null;
	if (fits(CODE) < 1 && (cells < all.length * 6 || fits(WORDS) < 1)) return null;
	const words = listed(
		all.map(({ text }) => text),
		6
	);
	const because = `${said(all.length)} different words in ${said(cells)} values: ${words}.`;
	return tell('code', atLeast(cells, cells) * 0.95, because);
}

/** Mostly numbers, and words between. */
function ofMixed({ all, cells, numbers, tell }: Seen): Told | null {
	if (numbers <= cells * 0.8) return null;
	const others = listed(all.filter(({ number }) => Number.isNaN(number)).map(({ text }) => text));
	return tell('text', 0.5, `${said(numbers)} of ${said(cells)} values are numbers; the others: ${others}.`);
}

/** Types in the order in which they are tried. */
const TYPES: readonly Rule[] = [
	({ all, cells, tell, said }) => {
		const truths = TRUTHS.find((pair) => all.every(({ text }) => pair.includes(text.toLowerCase())));
		const because = truths && said(cells, listed(truths).replace(', ', ' or '));
		return because ? tell('switch', all.length > 1 ? 0.98 : 0.85, because) : null;
	},
	ofNumbers,
	({ fits, by }) => (fits(DATE) >= 0.9 ? by('date', fits(DATE), 'dates', 0.97) : null),
	({ fits, by, named, some }) =>
		fits(COLOUR) >= 0.95 && (named === 'colour' || some.every(({ text }) => /^#|^0x/.test(text)))
			? by('colour', fits(COLOUR), 'colours', 0.95)
			: null,
	({ fits, by, named }) =>
		named === 'colour' && fits(TRIPLE) >= 0.9 ? by('colour', fits(TRIPLE), 'three numbers each', 0.9) : null,
	({ fits, by }) => (fits(DURATION) >= 0.9 ? by('duration', fits(DURATION), 'spans of time', 0.9) : null),
	({ fits, by, named }) =>
		fits(PLACE) >= 0.9
			? by('position', fits(PLACE), 'two or three numbers each', named === 'position' ? 0.92 : 0.7)
			: null,
	ofFiles,
	ofLists,
	({ fits, by }) =>
		fits(MAY_BE) >= 0.5 && fits(EXPRESSION) >= 0.5 && fits(CODE) < 0.5
			? by('expression', fits(EXPRESSION), 'conditions or formulas', 0.8)
			: null,
	ofCodes,
	ofMixed
];

/** The first answer that is one. */
function first<T, A>(list: readonly T[], ask: (one: T) => A | null): A | null {
	for (const one of list) {
		const answer = ask(one);
		if (answer !== null) return answer;
	}
	return null;
}

function readType(column: Column, records: number, pool: Pool, paths: ReadonlySet<string>): Told {
	const seen = look(column, records, pool, paths);
	if (seen.cells === 0) return seen.tell('text', 0.2, 'No record has a value there.');
	return first(TYPES, (rule) => rule(seen)) ?? seen.tell('text', 0.9, seen.said(seen.cells, 'texts'));
}
