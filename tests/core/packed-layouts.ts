// Packed files of many makes, each with a description for a reader by other hands and what it must find in them.
import iconv from 'iconv-lite';
import Stream from 'kaitai-struct/KaitaiStream';
import compiler from 'kaitai-struct-compiler';
import { packedLayout, type PackedField, type PackedLayout } from '$core/formats';

/** A value as it is looked up in what the other reader gives. */
export type Value = number | string | boolean | null;

/** What a file must hold: rows by table, each with its values by path. */
export type Held = Record<string, Record<string, Value>[]>;

export interface Make {
	name: string;
	layout: PackedLayout;
	bytes: Uint8Array;
	held: Held;
	read(bytes: Uint8Array): Promise<Held>;
}

type Said = Parameters<typeof packedLayout.parse>[0];

const SORTS: Record<string, string> = {
	u8: 'u1',
	i8: 's1',
	u16: 'u2',
	i16: 's2',
	u32: 'u4',
	i32: 's4',
	u64: 'u8',
	i64: 's8',
	f32: 'f4',
	f64: 'f8'
};

interface Described {
	seq: object[];
	instances: Record<string, object>;
}

/** A list of fields in the words of the other reader's language. */
function described(fields: readonly PackedField[], layout: PackedLayout): Described {
	const found: Described = { seq: [], instances: {} };
	fields.forEach((field, nth) => {
		const id = field.name ?? `gap${nth}`;
		const end = { little: 'le', big: 'be' }[field.order ?? layout.order];
		const repeat = field.times === undefined ? {} : { repeat: 'expr', 'repeat-expr': field.times };
		if (field.as === 'text')
			found.seq.push({
				id,
				...repeat,
				type: 'str',
				size: field.length,
				encoding: field.encoding ?? layout.encoding,
				...(field.pad === 'space' ? { 'pad-right': 32 } : { terminator: 0 })
			});
		else if (field.as === 'bytes') found.seq.push({ id, ...repeat, size: field.length });
		else
			found.seq.push({
				id,
				...repeat,
				type: SORTS[field.as]! + (field.as.endsWith('8') && field.as.length === 2 ? '' : end)
			});
		const pool = layout.pools.find(({ name }) => name === field.to);
		if (!pool) return;
		const pos = field.from === 'target' ? `${id} + _root.${pool.name}_at` : id;
		const place = {
			pos,
			io: '_root._io',
			...(field.none === undefined ? {} : { if: `${id} != ${field.none}` })
		};
		const text = { encoding: pool.encoding ?? layout.encoding };
		found.instances[`${id}_value`] =
			pool.as !== 'text'
				? {
						...place,
						type:
							SORTS[pool.as]! +
							(pool.as.length === 2 ? '' : { little: 'le', big: 'be' }[pool.order ?? layout.order])
					}
				: pool.length === 'zero'
					? { ...place, type: 'strz', ...text }
					: typeof pool.length === 'number'
						? { ...place, type: 'str', size: pool.length, terminator: 0, ...text }
						: { ...place, type: `${pool.name}_text` };
	});
	return found;
}

/** The whole file in the other reader's language. */
export function description(layout: PackedLayout): object {
	const head = described(layout.head, layout);
	const types: Record<string, object> = {};
	const seq = [...head.seq];
	const instances: Record<string, object> = { ...head.instances };
	const end = { little: 'le', big: 'be' }[layout.order];
	for (const table of layout.tables) {
		types[`${table.name}_row`] = described(table.fields, layout);
		const count = layout.head.find(({ counts }) => counts === table.name)?.name ?? table.rows;
		const start = layout.head.find(({ starts }) => starts === table.name)?.name;
		const rows = {
			type: `${table.name}_row`,
			...(table.length === undefined ? {} : { size: table.length }),
			...(count === undefined ? { repeat: 'eos' } : { repeat: 'expr', 'repeat-expr': count })
		};
		if (start === undefined) seq.push({ id: table.name, ...rows });
		else instances[table.name] = { pos: start, ...rows };
	}
	for (const pool of layout.pools)
		if (pool.as === 'text' && typeof pool.length === 'string' && pool.length !== 'zero')
			types[`${pool.name}_text`] = {
				seq: [
					{ id: 'len', type: SORTS[pool.length]! + (pool.length === 'u8' ? '' : end) },
					{ id: 'text', type: 'str', size: 'len', encoding: pool.encoding ?? layout.encoding }
				]
			};
	return { meta: { id: 'packed_table', endian: end, encoding: layout.encoding }, seq, instances, types };
}

/** A reader by other hands: its compiler makes a program of the description, which is run here. */
async function otherReader(layout: PackedLayout): Promise<(bytes: Uint8Array) => Record<string, unknown>> {
	const [program] = Object.values(await compiler.compile('javascript', description(layout)));
	const module = { exports: {} as { PackedTable?: new (stream: object) => Record<string, unknown> } };
	new Function('module', 'exports', 'require', program!)(module, module.exports, () => Stream);
	return (bytes) => new module.exports.PackedTable!(new Stream(new Uint8Array(bytes).buffer));
}

const camel = (name: string) => name.replace(/_(.)/g, (_, letter: string) => letter.toUpperCase());

type Given = Record<string, unknown>;

/** One row of the other reader, as values by path. */
function rowOf(
	row: Given,
	fields: readonly PackedField[],
	layout: PackedLayout,
	root: Given
): Record<string, Value> {
	const values: Record<string, Value> = {};
	for (const field of fields) {
		if (field.name === undefined) continue;
		const given = row[camel(field.name)];
		const list = field.times === undefined ? [given] : (given as unknown[]);
		list.forEach((one, nth) => {
			const path = field.times === undefined ? field.name! : `${field.name!}[${nth}]`;
			if (field.bits) {
				for (const [bit, range] of Object.entries(field.bits)) {
					const [low, high] = typeof range === 'number' ? [range, range] : range;
					const value = Math.floor((one as number) / 2 ** low) % 2 ** (high - low + 1);
					values[`${path}.${bit}`] = low === high ? value === 1 : value;
				}
			} else if (one instanceof Uint8Array)
				values[path] = Buffer.from(one)
					.toString('hex')
					.replace(/(..)(?=.)/g, '$1 ');
			else values[path] = one as Value;
		});
		if (field.to === undefined) continue;
		const table = layout.tables.find(({ name }) => name === field.to);
		if (field.none !== undefined && given === field.none) values[field.name] = null;
		else if (table) {
			const start = layout.head.find(({ starts }) => starts === table.name)!.name!;
			const base = field.from === 'target' ? 0 : Number(root[camel(start)]);
			const length = table.length!;
			const pointed = (root[camel(table.name)] as Given[])[(Number(given) - base) / length]!;
			values[field.name] = pointed[camel(table.key!)] as Value;
		} else {
			const value = row[camel(`${field.name}_value`)];
			values[field.name] =
				typeof value === 'object' && value !== null ? ((value as Given).text as string) : (value as Value);
		}
	}
	return values;
}

/** Bytes of a number, written by Node. */
function written(as: string, value: number, big: boolean): Buffer {
	const size = Number(as.slice(1)) / 8;
	const bytes = Buffer.alloc(size);
	const end = big ? 'BE' : 'LE';
	if (as === 'f32') bytes[`writeFloat${end}`](value);
	else if (as === 'f64') bytes[`writeDouble${end}`](value);
	else if (size === 8) bytes[`write${as.startsWith('u') ? 'BigUInt' : 'BigInt'}64${end}`](BigInt(value));
	else if (as.startsWith('u')) bytes[`writeUInt${end}`](value, 0, size);
	else bytes[`writeInt${end}`](value, 0, size);
	return bytes;
}

export type Row = Record<string, Buffer | number>;

/** Puts rows, pools and a head together by a layout; heads say `[start, count]` by their own fields. */
export async function makeOf(
	name: string,
	said: Said,
	rows: Record<string, Row[]>,
	pools: Record<string, Buffer> = {},
	head: Row = {}
): Promise<Make> {
	const layout = packedLayout.parse(said);
	const big = (field: PackedField) => (field.order ?? layout.order) === 'big';
	const bytesOf = (fields: readonly PackedField[], row: Row) =>
		Buffer.concat(
			fields.flatMap((field, nth) => {
				const size = field.length ?? Number(field.as.slice(1)) / 8;
				return Array.from({ length: field.times ?? 1 }, (_, time) => {
					const path =
						field.name === undefined ? '' : field.times === undefined ? field.name : `${field.name}[${time}]`;
					const value =
						row[path] ??
						(field.is !== undefined
							? typeof field.is === 'number'
								? field.is
								: Buffer.from(field.is)
							: nth + 7);
					if (typeof value === 'number' && field.as !== 'text' && field.as !== 'bytes')
						return written(field.as, value, big(field));
					const room = Buffer.alloc(size, field.pad === 'space' ? 32 : 0);
					if (typeof value !== 'number') value.copy(room);
					return room;
				});
			})
		);
	const blocks = new Map<string, Buffer>();
	const putTables = () => {
		for (const { name: table, fields, length } of layout.tables) {
			const lines = (rows[table] ?? []).map((row) => bytesOf(fields, row));
			const room = (bytes: Buffer) => Buffer.alloc(length === undefined ? 0 : length - bytes.length, 0xee);
			blocks.set(table, Buffer.concat(lines.flatMap((bytes) => [bytes, room(bytes)])));
		}
	};
	putTables();
	for (const { name: pool } of layout.pools) blocks.set(pool, pools[pool]!);
	const headSize = bytesOf(layout.head, head).length;
	const starts = new Map<string, number>();
	let at = headSize;
	for (const [block, bytes] of blocks) {
		starts.set(block, at);
		at += bytes.length;
	}
	const tail = layout.sums
		.filter((sum) => sum.in === undefined)
		.reduce((sum, one) => sum + Number(/\d+$/.exec(one.as)![0]) / 8, 0);
	// Addresses that were given within their pool become those of the file.
	for (const { name: table, fields } of layout.tables)
		for (const row of rows[table] ?? [])
			for (const field of fields)
				if (field.to !== undefined && field.from === 'file' && row[field.name!] !== field.none)
					row[field.name!] = (row[field.name!] as number) + starts.get(field.to)!;
	putTables();
	const full: Row = { ...head };
	for (const { name: field, counts, starts: begins, measures } of layout.head) {
		if (counts !== undefined) full[field!] = (rows[counts] ?? []).length;
		if (begins !== undefined) full[field!] = starts.get(begins)!;
		if (measures !== undefined) full[field!] = measures === 'file' ? at + tail : blocks.get(measures)!.length;
	}
	const bytes = Buffer.concat([bytesOf(layout.head, full), ...blocks.values(), Buffer.alloc(tail)]);
	for (const sum of layout.sums) {
		const place = sum.in === undefined ? null : layout.head.findIndex((field) => field.name === sum.in);
		const offset = place === null ? at : bytesOf(layout.head.slice(0, place), {}).length;
		const width = Number(/\d+$/.exec(sum.as)![0]) / 8;
		written(`u${width * 8}`, plainSum(bytes, sum.as, sum.of, offset, width), layout.order === 'big').copy(
			bytes,
			offset
		);
	}
	const reader = await otherReader(layout);
	const read = (content: Uint8Array) => {
		const root = reader(content);
		return Promise.resolve(
			Object.fromEntries(
				layout.tables.map(({ name: table, fields }) => [
					table,
					(root[camel(table)] as Given[]).map((row) => rowOf(row, fields, layout, root))
				])
			)
		);
	};
	return { name, layout, bytes: new Uint8Array(bytes), held: await read(bytes), read };
}

/** A check sum as its definition says: bit by bit, or byte by byte. */
export function plainSum(all: Uint8Array, as: string, of: string, at: number, width: number): number {
	const bytes = [...all].flatMap((byte, nth) => {
		const isOwn = nth >= at && nth < at + width;
		if (of === 'behind') return nth >= at + width ? [byte] : [];
		if (of === 'before') return nth < at ? [byte] : [];
		return isOwn ? (of === 'zeroed' ? [0] : []) : [byte];
	});
	if (as === 'xor8') return bytes.reduce((sum, byte) => sum ^ byte, 0);
	if (as.startsWith('sum')) return bytes.reduce((sum, byte) => sum + byte, 0) % 2 ** (width * 8);
	const [polynomial, start, end] = as === 'crc32' ? [0xedb88320, 0xffffffff, 0xffffffff] : [0xa001, 0, 0];
	let sum = start >>> 0;
	for (const byte of bytes) {
		sum ^= byte;
		for (let bit = 0; bit < 8; bit++) sum = ((sum & 1) === 1 ? (sum >>> 1) ^ polynomial : sum >>> 1) >>> 0;
	}
	return (sum ^ end) >>> 0;
}

export const letters = (text: string, encoding = 'utf-8'): Buffer =>
	iconv.encode(text, encoding, { addBOM: false });
