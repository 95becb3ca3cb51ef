// Where everything is in a packed table: its head, its tables and pools, its check sums. Lying files end in problems.
import { counted } from '../../wording';
import { isEncoding, type Encoding } from '../../text';
import { hexOf, numberAt, sumOf, sumWidth, textIn, widthOf, zeroAt, unitOf, type Order } from './numbers';
import {
	isNumber,
	type PackedField,
	type PackedLayout,
	type PackedPool,
	type PackedSum,
	type PackedTable
} from './schema';

/** A field at its place in a row or in the head. */
export interface Placed {
	field: PackedField;
	/** Its name, with its number where it is there several times; null for what is left as it is. */
	path: string | null;
	/** From the beginning of its row. */
	at: number;
	size: number;
	order: Order;
	encoding: Encoding;
}

/** A part of the file: `[from, to)`. */
export interface Section {
	name: string;
	from: number;
	to: number;
	/** Whether something in the file says where it begins, so that it can move. */
	startsBy: 'field' | 'place' | 'order';
	table?: PackedTable;
	pool?: PackedPool;
	/** Rows of a table, the bytes of each, and its fields. */
	rows: number;
	length: number;
	fields: readonly Placed[];
}

/** A check sum at its place. */
export interface PlacedSum {
	sum: PackedSum;
	at: number;
	width: number;
	order: Order;
}

/** What does not fit the layout, by the offset. */
export interface Misfit {
	at: number;
	message: string;
}

export interface Places {
	layout: PackedLayout;
	head: readonly Placed[];
	headSize: number;
	sections: readonly Section[];
	sums: readonly PlacedSum[];
	/** Where the sections end: what is behind are check sums. */
	end: number;
	misfits: readonly Misfit[];
}

const sizeOf = ({ as, length = 1 }: PackedField): number =>
	as === 'text' || as === 'bytes' ? length : widthOf(as);

/** Fields at their places, in their order; what is there several times is a list. */
function placed(fields: readonly PackedField[], layout: PackedLayout): Placed[] {
	const found: Placed[] = [];
	let at = 0;
	for (const field of fields) {
		at = field.at ?? at;
		const size = sizeOf(field);
		const times = field.times ?? 1;
		for (let nth = 0; nth < times; nth++) {
			const name = field.name ?? null;
			found.push({
				field,
				path: name === null || field.times === undefined ? name : `${name}[${nth}]`,
				at,
				size,
				order: field.order ?? layout.order,
				encoding: field.encoding ?? layout.encoding
			});
			at += size;
		}
	}
	return found;
}

const endOf = (fields: readonly Placed[]): number =>
	fields.reduce((most, { at, size }) => Math.max(most, at + size), 0);

/** The value of a field whose bytes are all there: a number, a text without what fills its room, or bytes. */
export function plainValue(
	bytes: Uint8Array,
	start: number,
	{ field, at, size, order, encoding }: Placed
): number | string {
	const from = start + at;
	if (isNumber(field))
		return numberAt(bytes, from, field.as as Exclude<PackedField['as'], 'text' | 'bytes'>, order);
	if (field.as === 'bytes') return hexOf(bytes.subarray(from, from + size));
	if (field.pad === 'space') return textIn(bytes.subarray(from, from + size), encoding).replace(/ +$/, '');
	return textIn(bytes.subarray(from, zeroAt(bytes, from, from + size, unitOf(encoding))), encoding);
}

/** What the head says of the parts, as far as it is there. */
function saidIn(bytes: Uint8Array, head: readonly Placed[]) {
	const said = {
		counts: new Map<string, number>(),
		starts: new Map<string, number>(),
		measures: new Map<string, number>()
	};
	for (const one of head) {
		if (one.at + one.size > bytes.length) continue;
		for (const what of ['counts', 'starts', 'measures'] as const) {
			const name = one.field[what];
			if (name !== undefined) said[what].set(name, Number(plainValue(bytes, 0, one)));
		}
	}
	return said;
}

/** The parts of the file by what its head says, each within the file. */
function sectionsOf(
	bytes: Uint8Array,
	layout: PackedLayout,
	head: readonly Placed[],
	[headSize, end]: [number, number],
	misfit: (at: number, message: string) => void
): Section[] {
	const said = saidIn(bytes, head);
	const all = [
		...layout.tables.map((table) => ({ name: table.name, table, pool: undefined })),
		...layout.pools.map((pool) => ({ name: pool.name, table: undefined, pool }))
	];
	const startOf = ({ name, table, pool }: (typeof all)[number]) =>
		(table ?? pool)!.at ?? said.starts.get(name);
	const starts = all.map(startOf).filter((start) => start !== undefined);
	let next = headSize;
	return all.map((one): Section => {
		const { name, table, pool } = one;
		const what = table ? `The table “${name}”` : `The pool “${name}”`;
		const start = startOf(one);
		let from = start ?? next;
		if (from > end || from < 0) {
			misfit(from, `${what} begins at byte ${from}; the file has ${counted(bytes.length, 'byte')}.`);
			from = end;
		}
		const limit = starts.reduce((least, other) => (other > from && other < least ? other : least), end);
		const fields = table ? placed(table.fields, layout) : [];
		const length = table ? (table.length ?? endOf(fields)) : 1;
		const measured = said.measures.get(name);
		const wanted = table
			? (table.rows ?? said.counts.get(name) ?? Math.floor((measured ?? limit - from) / length))
			: (pool!.size ?? measured ?? limit - from);
		const rows = Math.max(0, Math.min(wanted, Math.floor((end - from) / length)));
		if (wanted > rows)
			misfit(
				from,
				table
					? `${what} should have ${counted(wanted, 'row')}; there are bytes for ${rows}.`
					: `${what} should have ${counted(wanted, 'byte')}; ${rows} are left in the file.`
			);
		if (table && endOf(fields) > length)
			misfit(from, `A row of ${name} has ${counted(length, 'byte')}; its fields take ${endOf(fields)}.`);
		next = from + rows * length;
		return {
			name,
			from,
			to: next,
			startsBy: (table ?? pool)!.at !== undefined ? 'place' : said.starts.has(name) ? 'field' : 'order',
			...(table ? { table } : { pool: pool! }),
			rows: table ? rows : 0,
			length,
			fields: fields.filter(({ at, size }) => at + size <= length)
		};
	});
}

/** The bytes that a check sum is of. */
export function summedBytes(bytes: Uint8Array, { sum, at, width }: PlacedSum): Uint8Array {
	if (sum.of === 'behind') return bytes.subarray(at + width);
	if (sum.of === 'before') return bytes.subarray(0, at);
	const copy = bytes.slice();
	if (sum.of === 'zeroed') {
		copy.fill(0, at, at + width);
		return copy;
	}
	copy.copyWithin(at, at + width);
	return copy.subarray(0, bytes.length - width);
}

function sumsOf(layout: PackedLayout, head: readonly Placed[], size: number): [PlacedSum[], number] {
	let end = size;
	const found = [...layout.sums].reverse().flatMap((sum): PlacedSum[] => {
		const field = head.find(({ path }) => sum.in !== undefined && path === sum.in);
		if (field) return [{ sum, at: field.at, width: field.size, order: field.order }];
		const width = sumWidth(sum);
		end -= width;
		return end < 0 ? [] : [{ sum, at: end, width, order: layout.order }];
	});
	return [found.reverse(), Math.max(0, end)];
}

/** What does not fit among parts, constants and check sums. */
function* misfitsOf(bytes: Uint8Array, places: Omit<Places, 'misfits'>): Generator<Misfit> {
	const { head, sections, sums, headSize } = places;
	for (const one of head) {
		if (one.at + one.size > bytes.length) continue;
		const { is, measures, name } = one.field;
		const value = plainValue(bytes, 0, one);
		const title = name === undefined ? `What is at byte ${one.at}` : `“${name}”`;
		if (is !== undefined && String(value) !== String(is))
			yield {
				at: one.at,
				message: `${title} should be ${is}; it is ${value}. The file may be of another sort.`
			};
		if (measures === 'file' && Number(value) !== bytes.length)
			yield {
				at: one.at,
				message: `${title} says that the file has ${value} bytes; it has ${bytes.length}.`
			};
	}
	const sorted = sections.filter(({ from, to }) => to > from).sort((a, b) => a.from - b.from);
	let before = { name: 'head', to: headSize };
	for (const section of sorted) {
		if (section.from < before.to)
			yield {
				at: section.from,
				message: `“${section.name}” begins at byte ${section.from}, where “${before.name}” has not ended (${before.to}).`
			};
		if (section.to > before.to) before = section;
	}
	for (const one of sums) {
		if (one.at + one.width > bytes.length) continue;
		const said = Number(numberAt(bytes, one.at, `u${(one.width * 8) as 8 | 16 | 32}`, one.order));
		const real = sumOf(summedBytes(bytes, one), one.sum.as);
		if (said !== real)
			yield {
				at: one.at,
				message: `The check sum at byte ${one.at} is ${said}; over its bytes it is ${real}.`
			};
	}
}

/** An encoding that a layout names and that is not known; null where all are. */
export function unknownEncoding({ encoding, head, tables, pools }: PackedLayout): string | null {
	const named = [
		encoding,
		...[...head, ...tables.flatMap(({ fields }) => fields), ...pools].flatMap((one) => one.encoding ?? [])
	];
	return named.find((one) => !isEncoding(one)) ?? null;
}

/** Where everything is. Never more work than there are bytes, whatever the file says. */
export function placesOf(bytes: Uint8Array, layout: PackedLayout): Places {
	const misfits: Misfit[] = [];
	const misfit = (at: number, message: string) => misfits.push({ at, message });
	const unknown = unknownEncoding(layout);
	if (unknown !== null) misfit(0, `The layout names the encoding “${unknown}”, which is not known here.`);
	const head = placed(layout.head, layout);
	const headSize = endOf(head);
	const [sums, end] = sumsOf(layout, head, bytes.length);
	if (headSize > end)
		misfit(bytes.length, `The head has ${counted(headSize, 'byte')}; the file ends at byte ${bytes.length}.`);
	const begin = Math.min(headSize, end);
	const sections = sectionsOf(bytes, layout, head, [begin, end], misfit);
	const places = { layout, head, headSize: begin, sections, sums, end };
	return { ...places, misfits: [...misfits, ...misfitsOf(bytes, places)] };
}
