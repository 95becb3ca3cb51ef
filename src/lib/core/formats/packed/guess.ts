// What layout a file of bytes may have: rows that repeat, addresses of texts, counts. A guess, to be looked at.
import { counted } from '../../wording';
import { numberAt, type Order } from './numbers';
import { packedLayout, type PackedField, type PackedLayout } from './schema';

/** A layout that a file may have, with what speaks for it. */
export interface PackedGuess {
	layout: PackedLayout;
	rows: number;
	because: string[];
}

type Field = Partial<PackedField>;

/** Bytes that are looked at, and the longest row that is tried. */
const MOST_BYTES = 1 << 20;
const LONGEST = 512;
const ORDERS: readonly Order[] = ['little', 'big'];

/** Share of the bytes that are the same as those a row later. */
function likeness(bytes: Uint8Array, from: number, to: number, length: number): number {
	let same = 0;
	for (let at = from; at + length < to; at++) if (bytes[at] === bytes[at + length]) same++;
	return to - from > length ? same / (to - from - length) : 0;
}

/** Row lengths by autocorrelation, the likeliest first; of a length and its multiples, the shortest. */
function lengthsOf(bytes: Uint8Array, from: number, to: number): number[] {
	const most = Math.min(LONGEST, Math.floor((to - from) / 3));
	const scores: [number, number][] = [];
	for (let length = 2; length <= most; length++) scores.push([length, likeness(bytes, from, to, length)]);
	if (scores.length === 0) return [];
	const mean = scores.reduce((sum, [, score]) => sum + score, 0) / scores.length;
	const sorted = scores.filter(([, score]) => score > mean).sort((a, b) => b[1] - a[1]);
	const found: number[] = [];
	for (const [length, score] of sorted.slice(0, 40)) {
		const shorter = sorted.find(
			([other, its]) => other < length && length % other === 0 && its >= mean + (score - mean) * 0.7
		);
		const best = shorter?.[0] ?? length;
		if (!found.includes(best)) found.push(best);
	}
	return found.slice(0, 4);
}

const isLetter = (byte: number) => (byte >= 32 && byte < 127) || byte >= 0xa0;

/** Where a block of texts that each end with a zero begins, up to the end; the end where there is none. */
function textsFrom(bytes: Uint8Array): number {
	let at = bytes.length;
	let texts = 0;
	let from = bytes.length;
	if (bytes[at - 1] !== 0) return bytes.length;
	while (at > 0 && bytes[at - 1] === 0) {
		let start = at - 1;
		while (start > 0 && isLetter(bytes[start - 1]!)) start--;
		if (at - 1 - start < 2) break;
		from = start;
		at = start;
		texts++;
	}
	return texts >= 2 ? from : bytes.length;
}

const startsIn = (bytes: Uint8Array, from: number): Set<number> => {
	const starts = new Set<number>();
	for (let at = from; at < bytes.length; at++) if (at === from || bytes[at - 1] === 0) starts.add(at);
	return starts;
};

interface Rows {
	bytes: Uint8Array;
	from: number;
	rows: number;
	length: number;
	/** Where texts stand, from the beginning of the file. */
	texts: ReadonlySet<number>;
	textsFrom: number;
	/** Bytes behind the rows that are no texts: `[from, to)`. */
	left: [number, number];
}

const SORTS = { 2: 'u16', 4: 'u32' } as const;

/** The numbers of a column. */
function* column(
	{ bytes, from, rows, length }: Rows,
	at: number,
	size: 2 | 4,
	order: Order
): Generator<number> {
	for (let row = 0; row < rows; row++)
		yield Number(numberAt(bytes, from + row * length + at, SORTS[size], order));
}

/** Whether all numbers of a column point at texts, and not all at one. */
function pointsAt(all: Rows, at: number, size: 2 | 4, order: Order, base: number): boolean {
	const seen = new Set<number>();
	for (const number of column(all, at, size, order)) {
		if (!all.texts.has(number + base)) return false;
		seen.add(number);
	}
	return seen.size > 1;
}

/** Whether all numbers of a column are places among the bytes that are left behind the rows, and not all one. */
function pointsBehind(all: Rows, at: number, size: 2 | 4, order: Order): boolean {
	const seen = new Set<number>();
	for (const number of column(all, at, size, order)) {
		if (number < all.left[0] || number >= all.left[1]) return false;
		seen.add(number);
	}
	return seen.size > 1;
}

function addressAt(all: Rows, at: number, room: number): Field | null {
	if (all.left[1] > all.left[0])
		for (const size of [4, 2] as const)
			for (const order of ORDERS)
				if (room >= size && pointsBehind(all, at, size, order))
					return { as: SORTS[size], order, to: 'values' };
	if (all.texts.size === 0) return null;
	for (const size of [4, 2] as const)
		for (const order of ORDERS)
			for (const from of ['file', 'target'] as const)
				if (room >= size && pointsAt(all, at, size, order, from === 'file' ? 0 : all.textsFrom))
					return { as: SORTS[size], order, to: 'texts', from };
	return null;
}

/** Bytes from `at` on that are a text in every row, with zeros behind it; 0 for none. */
function textAt({ bytes, from, rows, length }: Rows, at: number): number {
	let most = length - at;
	let letters = 0;
	for (let row = 0; row < rows; row++) {
		const start = from + row * length + at;
		let end = start;
		while (end < start + most && isLetter(bytes[end]!)) end++;
		letters += end - start;
		let zero = end;
		while (zero < start + most && bytes[zero] === 0) zero++;
		most = zero - start;
		if (most < 3) return 0;
	}
	return letters >= rows * 2.5 ? most : 0;
}

/** Whether a byte is zero in nearly all rows. */
function isEmpty({ bytes, from, rows, length }: Rows, at: number): boolean {
	let zeros = 0;
	for (let row = 0; row < rows; row++) if (bytes[from + row * length + at] === 0) zeros++;
	return zeros >= rows * 0.9;
}

/** Whether a column reads as floating numbers of a usual size. */
function isFloat({ bytes, from, rows, length }: Rows, at: number, order: Order): boolean {
	let broken = 0;
	for (let row = 0; row < rows; row++) {
		const value = Number(numberAt(bytes, from + row * length + at, 'f32', order));
		if (value === 0) continue;
		if (!Number.isFinite(value) || Math.abs(value) < 1e-4 || Math.abs(value) > 1e7) return false;
		broken++;
	}
	return broken > rows / 2;
}

function numberHere(all: Rows, at: number, room: number, order: Order): Field {
	const empty = (nth: number) => isEmpty(all, at + nth);
	if (room >= 4 && at % 4 === 0) {
		if (isFloat(all, at, order)) return { as: 'f32' };
		const high = order === 'little' ? [2, 3] : [0, 1];
		const low = order === 'little' ? [0, 1] : [2, 3];
		if (high.every(empty) && !low.every(empty)) return { as: 'u32' };
	}
	if (room >= 2 && at % 2 === 0 && empty(order === 'little' ? 1 : 0) && !empty(order === 'little' ? 0 : 1))
		return { as: 'u16' };
	return { as: 'u8' };
}

/** The fields of a row, from its first byte on. */
function fieldsOf(all: Rows, order: Order): Field[] {
	const fields: Field[] = [];
	for (let at = 0; at < all.length;) {
		const room = all.length - at;
		const name = `field ${fields.length + 1}`;
		const address = addressAt(all, at, room);
		const text = address ? 0 : textAt(all, at);
		const field: Field =
			address ?? (text > 0 ? { as: 'text', length: text } : numberHere(all, at, room, order));
		fields.push({ name, ...field });
		at += field.length ?? Number(field.as!.slice(1)) / 8;
	}
	return fields;
}

/** A number before the rows that is their count: the lowest place and widest sort. */
function countIn(
	bytes: Uint8Array,
	before: number,
	rows: number
): { at: number; as: PackedField['as']; order: Order } | null {
	for (const as of ['u32', 'u16', 'u8'] as const) {
		const size = Number(as.slice(1)) / 8;
		for (const order of ORDERS)
			for (let at = 0; at + size <= before; at += size)
				if (Number(numberAt(bytes, at, as, order)) === rows) return { at, as, order };
	}
	return null;
}

/** Heads are short. */
const LONGEST_HEAD = 64;

interface Beginning {
	from: number;
	rows: number;
	count: ReturnType<typeof countIn>;
	/** How much speaks for it. */
	weight: number;
}

/** Beginnings of which the fields are looked at. */
const MOST_TRIED = 24;

/** How much a count in the head speaks for a beginning. */
const COUNTED = 0.2;

/** How much addresses of values speak for a guess. */
const POINTING = 0.3;

/** Shares of bytes that are the same a row later, for any part of a file. */
function likenesses(bytes: Uint8Array, length: number): (from: number, to: number) => number {
	const sums = new Int32Array(bytes.length + 1);
	for (let at = 0; at < bytes.length; at++)
		sums[at + 1] = sums[at]! + (at + length < bytes.length && bytes[at] === bytes[at + length] ? 1 : 0);
	return (from, to) => (to - length > from ? (sums[to - length]! - sums[from]!) / (to - length - from) : 0);
}

/** Numbers before a place that may count rows: each with its value. Numbers of one byte are anything. */
function* counts(
	bytes: Uint8Array,
	before: number
): Generator<{ count: NonNullable<Beginning['count']>; rows: number }> {
	for (const as of ['u32', 'u16'] as const) {
		const size = Number(as.slice(1)) / 8;
		for (const order of ORDERS)
			for (let at = 0; at + size <= before; at += size)
				yield { count: { at, as, order }, rows: Number(numberAt(bytes, at, as, order)) };
	}
}

/** Where the rows may begin, and how many there are: up to the end, or as many as a number before them says. */
function beginningsOf(bytes: Uint8Array, length: number, end: number): Beginning[] {
	const found: Beginning[] = [];
	const alike = likenesses(bytes, length);
	const add = (from: number, rows: number, count: Beginning['count']) => {
		const to = from + rows * length;
		const weight = (alike(from, to) * (to - from)) / end + (count ? COUNTED : 0);
		found.push({ from, rows, count, weight });
	};
	const last = Math.min(Math.max(length, LONGEST_HEAD), end);
	for (let from = 0; from < last; from++) {
		const rows = Math.floor((end - from) / length);
		if (rows >= 3 && (end - from) % length === 0)
			add(from, rows, rows > 3 ? countIn(bytes, from, rows) : null);
		if (from > LONGEST_HEAD) continue;
		for (const said of counts(bytes, from))
			if (said.rows > 3 && said.rows <= rows && said.rows >= rows / 2) add(from, said.rows, said.count);
	}
	// Of those that are as likely, what has less before it.
	return found.sort((a, b) => b.weight - a.weight || a.from - b.from).slice(0, MOST_TRIED);
}

const gap = (from: number, to: number): Field[] => (to > from ? [{ as: 'bytes', length: to - from }] : []);

/** A pool of the numbers behind the rows, where a field points at them; as wide as all addresses are apart. */
function valuesBehind(
	all: Rows,
	fields: readonly Field[]
): { name: string; at: number; size: number; as: 'u8' | 'u16' | 'u32' }[] {
	const [from, to] = all.left;
	let at = 0;
	const apart: number[] = [];
	for (const field of fields) {
		if (field.to === 'values')
			for (const number of column(all, at, field.as === 'u16' ? 2 : 4, field.order!))
				apart.push(number - from);
		at += field.length ?? Number(field.as!.slice(1)) / 8;
	}
	if (apart.length === 0) return [];
	const as = ([4, 2] as const).find((width) =>
		apart.every((place) => place % width === 0 && place + width <= to - from)
	);
	return [{ name: 'values', at: from, size: to - from, as: as ? SORTS[as] : 'u8' }];
}

/** A guess, and how much speaks for it. */
type Weighed = [PackedGuess, number];

function guessAt(bytes: Uint8Array, length: number, end: number, begin: Beginning): Weighed | null {
	const { from, rows, count, weight } = begin;
	const texts = end < bytes.length ? startsIn(bytes, end) : new Set<number>();
	const rowsEnd = from + rows * length;
	const all: Rows = { bytes, from, rows, length, texts, textsFrom: end, left: [rowsEnd, end] };
	const order = count && count.as !== 'u8' ? count.order : 'little';
	const fields = fieldsOf(all, order);
	const pointing = fields.filter(({ to }) => to !== undefined).length;
	const size = count ? Number(count.as.slice(1)) / 8 : 0;
	const head: Field[] = count
		? [
				...gap(0, count.at),
				{ name: 'rows', as: count.as, order: count.order, counts: 'rows' },
				...gap(count.at + size, from)
			]
		: gap(0, from);
	const layout = packedLayout.safeParse({
		shape: 'packed',
		order,
		head,
		tables: [
			{ name: 'rows', ...(count ? {} : { at: from, ...(rowsEnd < bytes.length ? { rows } : {}) }), fields }
		],
		pools: [...valuesBehind(all, fields), ...(end < bytes.length ? [{ name: 'texts', at: end }] : [])]
	});
	if (!layout.success) return null;
	const alike = likeness(bytes, from, from + rows * length, length);
	const because = [`${Math.round(100 * alike)}% of the bytes are the same ${counted(length, 'byte')} later.`];
	if (count) because.push(`The number at byte ${count.at} is the number of rows.`);
	if (pointing > 0)
		because.push(`${counted(pointing, 'field points', 'fields point')} at values behind the rows.`);
	return [{ layout: layout.data, rows, because }, weight + (pointing > 0 ? POINTING : 0)];
}

/** What is before the first text may end with bytes that are letters, too. */
const MOST_BEFORE = 4;

/**
 * Layouts that a file may have, the likeliest first; none where nothing repeats. Row lengths are found by
 * autocorrelation of the bytes, then texts behind the rows, columns of addresses, and a count before them.
 */
export function guessPacked(file: Uint8Array): PackedGuess[] {
	const bytes = file.subarray(0, MOST_BYTES);
	const texts = textsFrom(bytes);
	const ends = texts < bytes.length ? Array.from({ length: MOST_BEFORE }, (_, nth) => texts + nth) : [];
	const found = lengthsOf(bytes, 0, texts).flatMap((length) =>
		[...ends, bytes.length].flatMap((end) =>
			beginningsOf(bytes, length, end).flatMap((begin) => {
				const guess = guessAt(bytes, length, end, begin);
				return guess ? [guess] : [];
			})
		)
	);
	found.sort(([, a], [, b]) => b - a);
	const lengths = new Set<string>();
	return found
		.map(([guess]) => guess)
		.filter(({ layout, rows }) => {
			const name = `${rows} ${layout.tables[0]!.fields.reduce((sum, { as, length }) => sum + (length ?? Number(as.slice(1))), 0)}`;
			return !lengths.has(name) && lengths.add(name);
		})
		.slice(0, 3);
}
