// Layouts from descriptions in the language of Kaitai Struct (https://doc.kaitai.io/user_guide.html), as far as a packed
// table goes: a head, rows of one length, values behind addresses. Its compiler cannot write, and gives no places of
// values behind instances; so what it describes is taken over, and read and written here.
import { parseDocument } from 'yaml';
import * as z from 'zod';
import { packedLayout, type NumberSort, type PackedLayout } from './schema';

/** A description that is no packed table; says which part of it, and why. */
export class NotPacked extends Error {}

const attribute = z
	.object({
		id: z.string().optional(),
		type: z.string().optional(),
		size: z.union([z.number(), z.string()]).optional(),
		contents: z.union([z.string(), z.array(z.union([z.number(), z.string()]))]).optional(),
		encoding: z.string().optional(),
		repeat: z.string().optional(),
		'repeat-expr': z.union([z.number(), z.string()]).optional(),
		terminator: z.number().optional(),
		'pad-right': z.number().optional(),
		pos: z.union([z.number(), z.string()]).optional(),
		io: z.string().optional(),
		if: z.string().optional(),
		doc: z.unknown().optional(),
		'doc-ref': z.unknown().optional(),
		'-orig-id': z.unknown().optional(),
		enum: z.unknown().optional(),
		valid: z.unknown().optional()
	})
	.strict();
type Attribute = z.output<typeof attribute>;

const type = z.looseObject({
	seq: z.array(attribute).default([]),
	instances: z.record(z.string(), attribute).default({})
});

const whole = type.extend({
	meta: z.looseObject({
		endian: z.enum(['le', 'be']).optional(),
		'bit-endian': z.enum(['le', 'be']).optional(),
		encoding: z.string().optional()
	}),
	types: z.record(z.string(), type).default({})
});

type Said = z.input<typeof packedLayout>;
type Field = NonNullable<Said['head']>[number];
type Table = Said['tables'][number];
type Pool = NonNullable<Said['pools']>[number];

const NUMBER = /^([usf])([1248])(le|be)?$/;
const BITS = /^b([1-9]\d?)(le|be)?$/;

/** A number of the language as one of ours, with its byte order where it says one. */
function numberOf(name: string | undefined): (Pick<Field, 'order'> & { as: NumberSort }) | null {
	const found = NUMBER.exec(name ?? '');
	if (!found) return null;
	const [, sort, bytes, end] = found;
	const as = `${sort === 's' ? 'i' : sort}${Number(bytes) * 8}` as NumberSort;
	return { as, ...(end === undefined ? {} : { order: end === 'le' ? 'little' : 'big' }) };
}

const codePage = (name: string | undefined) => (name === undefined ? {} : { encoding: name.toLowerCase() });

/** The contents of a field that is always the same. */
function constant(contents: NonNullable<Attribute['contents']>): Pick<Field, 'as' | 'length' | 'is'> {
	if (typeof contents === 'string') return { as: 'text', length: contents.length, is: contents };
	const bytes = contents.flatMap((part) =>
		typeof part === 'number' ? [part] : [...new TextEncoder().encode(part)]
	);
	const is = bytes.map((byte) => byte.toString(16).padStart(2, '0')).join(' ');
	return { as: 'bytes', length: bytes.length, is };
}

class Reading {
	readonly layout: Said;
	readonly pools = new Map<string, Pool>();

	constructor(readonly said: z.output<typeof whole>) {
		this.layout = {
			shape: 'packed',
			order: said.meta.endian === 'be' ? 'big' : 'little',
			...codePage(said.meta.encoding),
			head: [],
			tables: []
		};
	}

	/** One field of fixed size. */
	field(one: Attribute, where: string): Field {
		const { id, type: sort, size, contents, repeat } = one;
		const name = id === undefined ? {} : { name: id };
		if (one.if !== undefined)
			throw new NotPacked(`${where}: what is only there under a condition has no fixed place.`);
		const times = repeat === undefined ? {} : { times: this.fixed(one['repeat-expr'], where) };
		if (repeat !== undefined && repeat !== 'expr')
			throw new NotPacked(`${where}: it needs a fixed number of times.`);
		if (contents !== undefined) return { ...name, ...constant(contents) };
		const number = numberOf(sort);
		if (number) return { ...name, ...times, ...number };
		if (sort !== undefined && sort !== 'str')
			throw new NotPacked(`${where}: “${sort}” has no fixed length here.`);
		const length = this.fixed(size, where);
		if (sort === undefined) return { ...name, ...times, as: 'bytes', length };
		const pad = one['pad-right'] === 32 ? { pad: 'space' as const } : {};
		return { ...name, ...times, as: 'text', length, ...codePage(one.encoding), ...pad };
	}

	fixed(size: number | string | undefined, where: string): number {
		const number = Number(size);
		if (!Number.isSafeInteger(number))
			throw new NotPacked(`${where}: its size “${size ?? ''}” must be a fixed number.`);
		return number;
	}

	/** Fields behind each other; bits that follow each other become one number. */
	fields(seq: readonly Attribute[], where: string): Field[] {
		const found: Field[] = [];
		let bits: [string, number][] = [];
		const close = () => {
			if (bits.length === 0) return;
			const taken = bits.reduce((sum, [, size]) => sum + size, 0);
			const width = [8, 16, 32, 64].find((one) => one >= taken);
			if (width === undefined) throw new NotPacked(`${where}: more than 64 bits behind each other.`);
			let at = 0;
			const named = bits.map(([id, size]): [string, [number, number]] => {
				at += size;
				const low = this.said.meta['bit-endian'] === 'le' ? at - size : width - at;
				return [id, [low, low + size - 1]];
			});
			found.push({ name: `bits${found.length}`, as: `u${width as 8}`, bits: Object.fromEntries(named) });
			bits = [];
		};
		for (const [nth, one] of seq.entries()) {
			const bit = BITS.exec(one.type ?? '');
			if (bit) {
				bits.push([one.id ?? `bit${nth}`, Number(bit[1])]);
				continue;
			}
			close();
			found.push(this.field(one, `${where}.${one.id ?? nth}`));
		}
		close();
		return found;
	}

	/** The rows of a type of its own. */
	table(name: string, one: Attribute, where: string): Table {
		const row = this.said.types[one.type!]!;
		const fields = this.fields(row.seq, one.type!);
		for (const [id, instance] of Object.entries(row.instances)) this.pointed(id, instance, fields, one.type!);
		const table: Table = { name, fields };
		if (one.size !== undefined) table.length = this.fixed(one.size, where);
		if (one.repeat === 'eos') return table;
		if (one.repeat !== 'expr') throw new NotPacked(`${where}: it needs to say how many rows there are.`);
		const count = one['repeat-expr'];
		if (typeof count === 'string' && Number.isNaN(Number(count))) this.head(count, where).counts = name;
		else table.rows = this.fixed(count, where);
		return table;
	}

	head(name: string, where: string): Field {
		const found = this.layout.head!.find((field) => field.name === name.replace(/^_root\./, ''));
		if (!found) throw new NotPacked(`${where}: “${name}” is not a field of the head.`);
		return found;
	}

	/** A value behind an address: a pool of such values. */
	pointed(id: string, one: Attribute, fields: Field[], type: string): void {
		const where = `${type}.${id}`;
		if (one.pos === undefined) throw new NotPacked(`${where}: calculated values are not read.`);
		if (one.io !== '_root._io')
			throw new NotPacked(`${where}: it must be read from the whole file (io: _root._io).`);
		const parts = String(one.pos)
			.split('+')
			.map((part) => part.trim());
		const field = fields.find(({ name }) => name !== undefined && parts.includes(name));
		const root = parts.find((part) => part.startsWith('_root.'));
		if (!field || parts.length > (root === undefined ? 1 : 2))
			throw new NotPacked(`${where}: “${one.pos}” is not an address in a field of the row.`);
		const pool = this.pool(one, where);
		const start = root === undefined ? undefined : this.head(root, where);
		const name = `${root === undefined ? 'values' : root.slice('_root.'.length)} ${JSON.stringify(pool)}`;
		const known = this.pools.get(name) ?? { ...pool, name: `pool${this.pools.size + 1}` };
		this.pools.set(name, known);
		field.to = known.name;
		if (start) {
			start.starts = known.name;
			field.from = 'target';
		}
		const none = new RegExp(`^${field.name!} != (-?\\d+)$`).exec(one.if ?? '');
		if (none) field.none = Number(none[1]);
		else if (one.if !== undefined)
			throw new NotPacked(`${where}: the condition “${one.if}” is not understood.`);
	}

	pool(one: Attribute, where: string): Omit<Pool, 'name'> {
		const number = numberOf(one.type);
		if (number) return number;
		const text = { as: 'text' as const, ...codePage(one.encoding) };
		if (one.type === 'strz') return text;
		if (one.type === 'str') return { ...text, length: this.fixed(one.size, where) };
		const [length, body] = this.said.types[one.type ?? '']?.seq ?? [];
		const width = numberOf(length?.type)?.as;
		if (
			!body ||
			body.type !== 'str' ||
			body.size !== length!.id ||
			!['u8', 'u16', 'u32'].includes(width ?? '')
		)
			throw new NotPacked(`${where}: “${one.type ?? ''}” must be a number or a text.`);
		return { as: 'text', ...codePage(body.encoding), length: width as 'u8' };
	}

	read(): Said {
		const { seq, instances, types } = this.said;
		const isTable = ({ type: sort, repeat }: Attribute) =>
			repeat !== undefined && sort !== undefined && types[sort] !== undefined;
		const first = seq.findIndex(isTable);
		const heads = first < 0 ? seq : seq.slice(0, first);
		this.layout.head = this.fields(heads, 'seq');
		for (const one of first < 0 ? [] : seq.slice(first)) {
			if (!isTable(one)) throw new NotPacked(`seq.${one.id ?? ''}: what is behind a table must be a table.`);
			this.layout.tables.push(this.table(one.id ?? 'rows', one, `seq.${one.id ?? ''}`));
		}
		for (const [id, one] of Object.entries(instances)) {
			const where = `instances.${id}`;
			if (!isTable(one) || one.pos === undefined)
				throw new NotPacked(`${where}: it must be a table at a place.`);
			const table = this.table(id, one, where);
			if (Number.isNaN(Number(one.pos))) this.head(String(one.pos), where).starts = id;
			else table.at = this.fixed(one.pos, where);
			this.layout.tables.push(table);
		}
		this.layout.pools = [...this.pools.values()];
		return this.layout;
	}
}

/**
 * A layout from a description. Check sums, and what may grow, are not in it and have to be added.
 * @throws NotPacked where it describes more than tables of rows, naming the part
 */
export function fromKaitai(text: string): PackedLayout {
	const yaml = parseDocument(text);
	if (yaml.errors[0]) throw new NotPacked(`This is not YAML: ${yaml.errors[0].message.split('\n')[0]}`);
	const read = whole.safeParse(yaml.toJS());
	if (!read.success) {
		const [issue] = read.error.issues;
		throw new NotPacked(`${issue!.path.join('.') || 'The description'}: ${issue!.message}`);
	}
	const layout = packedLayout.safeParse(new Reading(read.data).read());
	if (layout.success) return layout.data;
	const [issue] = layout.error.issues;
	throw new NotPacked(`${issue!.path.join('.')}: ${issue!.message}`);
}
