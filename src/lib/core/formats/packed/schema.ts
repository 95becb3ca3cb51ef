// How a packed table is described: a head, tables of rows of one length, pools of values, check sums.
import * as z from 'zod';

/** How numbers are kept: unsigned, signed or floating (IEEE 754), with their bits. */
export const NUMBERS = ['u8', 'i8', 'u16', 'i16', 'u32', 'i32', 'u64', 'i64', 'f32', 'f64'] as const;
export type NumberSort = (typeof NUMBERS)[number];

const order = z.enum(['little', 'big']);
/** Whether it is known is looked up where files are read: the tables of all encodings stay out of the browser. */
const encoding = z.string().max(40);
/** Places in a file, and sizes of parts of it, in bytes. */
const size = z
	.int()
	.min(0)
	.max(2 ** 31);
const bit = z.int().min(0).max(63);
const word = z.string().min(1).max(100);

const packedField = z.strictObject({
	/** Dots and numbers in brackets make blocks and lists of it; without a name, it is left as it is. */
	name: word.optional(),
	as: z.enum([...NUMBERS, 'text', 'bytes']).default('u8'),
	/** Where it begins in its row; behind the one before it, if nothing is said. */
	at: size.optional(),
	order: order.optional(),
	/** Room of a text or of bytes. */
	length: size.min(1).max(65_536).optional(),
	encoding: encoding.optional(),
	/** What fills the room behind a text. */
	pad: z.enum(['zero', 'space']).default('zero'),
	/** What it always is. */
	is: z.union([z.number(), z.string()]).optional(),
	/** Bits of the number by name, from 0 for the lowest: one, or the first and the last. */
	bits: z.record(word, z.union([bit, z.tuple([bit, bit])])).optional(),
	/** It is the address of a value in this pool, or of a row of this table. */
	to: word.optional(),
	/** From where addresses count. */
	from: z.enum(['file', 'target']).default('file'),
	/** The address that means none. */
	none: z.int().optional(),
	/** How often it is there, behind each other: a list. */
	times: z.int().min(1).max(1000).optional(),
	/** In the head: it is the number of rows of this table, where this table or pool begins, or its size (`file`: of all). */
	counts: word.optional(),
	starts: word.optional(),
	measures: word.optional()
});

const packedTable = z.strictObject({
	name: word,
	/** Where it begins, if no field of the head says that and it is not behind what is named before it. */
	at: size.optional(),
	/** How many rows it has, if no field of the head says that. */
	rows: size.optional(),
	/** Bytes of a row; as many as its fields take, if nothing is said. */
	length: size.min(1).optional(),
	/** The field that names a row. */
	key: word.optional(),
	/** Whether rows may be added and removed. */
	grows: z.boolean().default(false),
	fields: z.array(packedField).min(1).max(10_000)
});

const packedPool = z.strictObject({
	name: word,
	at: size.optional(),
	/** Its bytes; up to what is behind it, if nothing is said. */
	size: size.optional(),
	as: z.enum([...NUMBERS, 'text']).default('text'),
	order: order.optional(),
	encoding: encoding.optional(),
	/** How the end of a text is known: a zero behind it, its length in bytes before it, or always the same length. */
	length: z.union([z.enum(['zero', 'u8', 'u16', 'u32']), size.min(1).max(65_536)]).default('zero'),
	/** Values begin at multiples of this. */
	align: z.int().min(1).max(4096).default(1),
	/** Whether values may be added at its end. */
	grows: z.boolean().default(false)
});

const packedSum = z.strictObject({
	as: z.enum(['crc32', 'crc16', 'sum8', 'sum16', 'sum32', 'xor8']).default('crc32'),
	/** The field of the head in which it is; the last bytes of the file, if nothing is said. */
	in: word.optional(),
	/** Which bytes it is of: all that are behind it, before it, but its own, or with zeros in its place. */
	of: z.enum(['behind', 'before', 'others', 'zeroed']).default('behind')
});

export type PackedField = z.output<typeof packedField>;
export type PackedTable = z.output<typeof packedTable>;
export type PackedPool = z.output<typeof packedPool>;
export type PackedSum = z.output<typeof packedSum>;

type Path = (string | number)[];

/** Whether a field is a number, and a whole one. */
const isWhole = ({ as }: PackedField): boolean => /^[ui]/.test(as);
export const isNumber = ({ as }: Pick<PackedField, 'as'>): boolean => as !== 'text' && as !== 'bytes';

/** What is wrong with a field by itself. */
function* fieldFaults(field: PackedField, path: Path, isHead: boolean): Generator<[Path, string]> {
	const { length, bits, to, counts, starts, measures } = field;
	if (!isNumber(field) && length === undefined) yield [path, 'needs a length'];
	if (isNumber(field) && length !== undefined) yield [path, 'has the length of its sort'];
	if (!isWhole(field) && (bits ?? to ?? counts ?? starts ?? measures) !== undefined)
		yield [path, 'must be a whole number'];
	if (!isHead && (counts ?? starts ?? measures) !== undefined)
		yield [path, 'can be said of fields of the head only'];
	const most = isWhole(field) ? Number(field.as.slice(1)) : 0;
	for (const [name, range] of Object.entries(bits ?? {})) {
		const [low, high] = typeof range === 'number' ? [range, range] : range;
		if (low > high || high >= most) yield [[...path, 'bits', name], `are not bits of ${field.as}`];
	}
}

interface Parts {
	head: PackedField[];
	tables: PackedTable[];
	pools: PackedPool[];
	sums: PackedSum[];
}

/** What of a layout names something that is not there. */
function* nameFaults({ head, tables, pools, sums }: Parts): Generator<[Path, string]> {
	const sections = [...tables, ...pools].map(({ name }) => name);
	const isTable = (name: string) => tables.some((table) => table.name === name);
	const second = sections.find(
		(name, at) => sections.indexOf(name) < at || name === 'head' || name === 'file'
	);
	if (second !== undefined)
		yield [['tables'], `has two parts called “${second}”, or one called “head” or “file”`];
	const lists: [Path, PackedField[]][] = [
		[['head'], head],
		...tables.map(({ fields }, nth): [Path, PackedField[]] => [['tables', nth, 'fields'], fields])
	];
	for (const [place, fields] of lists) {
		const names = fields.map(({ name }) => name);
		for (const [nth, field] of fields.entries()) {
			const path = [...place, nth];
			const { name, to, counts, starts, measures } = field;
			if (name !== undefined && names.indexOf(name) < nth) yield [path, `is the second “${name}”`];
			for (const said of [to, counts, starts, measures])
				if (said !== undefined && !sections.includes(said) && !(said === 'file' && said === measures))
					yield [path, `names “${said}”, which is not a part of the file`];
			if (counts !== undefined && !isTable(counts)) yield [path, `counts “${counts}”, which is not a table`];
			yield* fieldFaults(field, path, place[0] === 'head');
		}
	}
	for (const [nth, { key, fields }] of tables.entries())
		if (key !== undefined && !fields.some(({ name, bits, times }) => name === key && !bits && !times))
			yield [['tables', nth, 'key'], `names “${key}”, which is not a field with one value`];
	for (const [nth, sum] of sums.entries())
		if (sum.in !== undefined && !head.some(({ name }) => name === sum.in))
			yield [['sums', nth, 'in'], `names “${sum.in}”, which is not a field of the head`];
}

/** A packed table: a file of bytes with a head, tables of rows of one length, and pools of values that rows point at. */
export const packedLayout = z
	.strictObject({
		shape: z.literal('packed'),
		/** Which byte of a number comes first: the lowest (little) or the highest. */
		order: order.default('little'),
		encoding: encoding.default('utf-8'),
		head: z.array(packedField).max(1000).default([]),
		tables: z.array(packedTable).min(1).max(100),
		pools: z.array(packedPool).max(100).default([]),
		sums: z.array(packedSum).max(10).default([])
	})
	.check(({ value, issues }) => {
		for (const [path, message] of nameFaults(value))
			issues.push({ code: 'custom', path, message, input: value });
	});

export type PackedLayout = z.output<typeof packedLayout>;
