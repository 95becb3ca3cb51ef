// Packed tables: what is written is what a reader by other hands finds, and nothing else changes.
import { describe, expect, test } from 'vitest';
import { carryMod } from '$core/carry';
import { applySplices, bytesOf, invertSplices } from '$core/change';
import { planFor, stackAfter } from '$core/edits';
import {
	EditRefused,
	findRecord,
	formatOf,
	fromKaitai,
	guessPacked,
	NotPacked,
	ownersIn,
	packedLayout,
	readDocument,
	type Format,
	type PackedDocument,
	type PackedField,
	type ValueWrite
} from '$core/formats';
import { parseGuide } from '$core/guide';
import { assembleStack } from '$core/model';
import { description, plainSum, type Held, type Make, type Value } from './packed-layouts';
import { MAKES } from './packed-makes';
import { randomBy } from '../random';

const packed = formatOf('packed') as Format<Uint8Array>;
const docOf = ({ layout }: Make, bytes: Uint8Array, table: string) =>
	readDocument('a.bin', bytes, { layout, at: table }) as PackedDocument;

const alike = (field: PackedField | undefined, value: Value): Value =>
	typeof value === 'number' && field?.as === 'f32' ? Math.fround(value) : value;

/** All values as the product reads them. */
function heldBy(make: Make, bytes: Uint8Array): Held {
	return Object.fromEntries(
		make.layout.tables.map(({ name, fields }) => [
			name,
			docOf(make, bytes, name).records.map((record) =>
				Object.fromEntries(
					record.fields.map(({ path, value }) => [
						path,
						alike(
							fields.find((one) => one.name === path),
							value
						)
					])
				)
			)
		])
	);
}
/** 32 bits of a number are as near as it gets. */
const rounded = (held: Held): unknown =>
	JSON.parse(
		JSON.stringify(held, (_, value: unknown) => (typeof value === 'number' ? Math.fround(value) : value))
	);

const LONG = 'a text that is much too long for its room';
const TEXTS = ['gull', 'x', '', 'terns of the sound', LONG, 'é', 'カ'];

function valueFor(field: PackedField | undefined, random: () => number, present: Value): string {
	if (typeof present === 'boolean') return random() < 0.5 ? 'true' : 'false';
	if (typeof present === 'string' && field?.as === 'bytes')
		return Array.from({ length: 4 }, () => '0a').join(' ');
	if (typeof present === 'string') return TEXTS[Math.floor(random() * TEXTS.length)]!;
	if (random() < 0.1) return '99999999999999999999999';
	return String(Math.floor(random() * 200));
}

describe.each(MAKES)('%s', (_, make) => {
	test('read as by the other reader', async () => {
		const made = await make(randomBy(7));
		expect(docOf(made, made.bytes, made.layout.tables[0]!.name).problems).toEqual([]);
		expect(rounded(heldBy(made, made.bytes))).toEqual(rounded(made.held));
	});

	test('a hundred random edits, each found by the other reader, and taken back byte for byte', async () => {
		let done = 0;
		let refused = 0;
		for (let nth = 0; nth < 100; nth++) {
			const random = randomBy(1000 + nth);
			const made = await make(randomBy(nth % 5));
			const { layout } = made;
			const table = layout.tables[Math.floor(random() * layout.tables.length)]!;
			const doc = docOf(made, made.bytes, table.name);
			const row = Math.floor(random() * doc.records.length);
			const record = doc.records[row]!;
			const wanted: Held = structuredClone(made.held);
			const own = wanted[table.name]!;
			const what = random();
			let splices;
			try {
				if (what < 0.6) {
					const fields = record.fields;
					const { path, value } = fields[Math.floor(random() * fields.length)]!;
					const field = table.fields.find(({ name }) => name !== undefined && path.startsWith(name));
					const text =
						field?.to !== undefined && layout.tables.some(({ name }) => name === field.to)
							? String(made.held[field.to]![0]!.id)
							: valueFor(field, random, value);
					const shared = packed.shared!.of(doc, record, path);
					const isEverywhere = shared !== null && shared.others.length > 0 && random() < 0.5;
					splices = isEverywhere
						? packed.shared!.set(doc, record, path, text)
						: packed.set(doc, record, path, text);
					const now =
						typeof value === 'boolean' ? text === 'true' : typeof value === 'number' ? Number(text) : text;
					const before = own[row]!.id as string | undefined;
					own[row]![path] = now;
					if (isEverywhere)
						for (const other of shared.others) own[Number(other.id.replace('#', '')) - 1]![other.path] = now;
					if (path === 'id' && before !== undefined)
						for (const other of Object.values(wanted).flat()) if (other.engine === before) other.engine = now;
				} else if (what < 0.75) {
					splices = packed.insert(doc, doc, record);
					own.push(structuredClone(own[row]!));
				} else if (what < 0.88) {
					splices = packed.remove(doc, record);
					own.splice(row, 1);
				} else {
					const to = Math.floor(random() * doc.records.length);
					splices = packed.move(doc, record, to);
					own.splice(to, 0, ...own.splice(row, 1));
				}
			} catch (error) {
				if (!(error instanceof EditRefused)) throw error;
				refused++;
				continue;
			}
			const next = applySplices(made.bytes, splices);
			expect(rounded(await made.read(next))).toEqual(rounded(wanted));
			expect(rounded(heldBy(made, next))).toEqual(rounded(wanted));
			expect(docOf(made, next, table.name).problems).toEqual([]);
			if (!table.grows && layout.pools.every(({ grows }) => !grows))
				expect(next.length).toBe(made.bytes.length);
			expect(Buffer.compare(applySplices(next, invertSplices(made.bytes, splices)), made.bytes)).toBe(0);
			for (const sum of layout.sums) {
				const width = Number(/\d+$/.exec(sum.as)![0]) / 8;
				const at = sum.in === undefined ? next.length - width : 0;
				const said =
					layout.order === 'big'
						? Buffer.from(next).readUIntBE(at, width)
						: Buffer.from(next).readUIntLE(at, width);
				expect(said).toBe(plainSum(next, sum.as, sum.of, at, width));
			}
			done++;
		}
		expect(done).toBeGreaterThan(25);
		expect(refused).toBeGreaterThan(0);
	});

	test('many values at once, each found by the other reader, and taken back byte for byte', async () => {
		let done = 0;
		for (let nth = 0; nth < 40; nth++) {
			const random = randomBy(5000 + nth);
			const made = await make(randomBy(nth % 5));
			const { layout } = made;
			const table = layout.tables[Math.floor(random() * layout.tables.length)]!;
			const doc = docOf(made, made.bytes, table.name);
			const wanted: Held = structuredClone(made.held);
			const own = wanted[table.name]!;
			const writes = new Map<string, ValueWrite>();
			// All of one column get the same in every other round: whoever points at one value then points at another.
			const column = doc.columns[Math.floor(random() * doc.columns.length)]!;
			const isColumn = nth % 2 === 0 && column !== 'id';
			let same: string | null = null;
			for (let count = isColumn ? doc.records.length : 2 + Math.floor(random() * 8); count > 0; count--) {
				const row = isColumn ? count - 1 : Math.floor(random() * doc.records.length);
				const record = doc.records[row]!;
				const path = isColumn ? column : record.fields[Math.floor(random() * record.fields.length)]!.path;
				if (path === 'id') continue;
				const present = record.valueAt!(path) as Value;
				const field = table.fields.find(({ name }) => name !== undefined && path.startsWith(name));
				const text =
					field?.to !== undefined && layout.tables.some(({ name }) => name === field.to)
						? String(made.held[field.to]![0]!.id)
						: valueFor(field, random, present);
				const value = isColumn ? (same ??= text) : text;
				writes.set(`${row} ${path}`, { record, path, value });
				own[row]![path] =
					typeof present === 'boolean'
						? value === 'true'
						: typeof present === 'number'
							? Number(value)
							: value;
			}
			let splices;
			try {
				splices = packed.setMany!(doc, [...writes.values()]);
			} catch (error) {
				if (!(error instanceof EditRefused)) throw error;
				continue;
			}
			const next = applySplices(made.bytes, splices);
			expect(rounded(await made.read(next))).toEqual(rounded(wanted));
			expect(rounded(heldBy(made, next))).toEqual(rounded(wanted));
			expect(docOf(made, next, table.name).problems).toEqual([]);
			if (layout.pools.every(({ grows }) => !grows)) expect(next.length).toBe(made.bytes.length);
			expect(Buffer.compare(applySplices(next, invertSplices(made.bytes, splices)), made.bytes)).toBe(0);
			done++;
		}
		expect(done).toBeGreaterThan(8);
	});

	test('its description for the other reader, taken over, reads the same', async () => {
		const made = await make(randomBy(3));
		const layout = fromKaitai(JSON.stringify(description(made.layout)));
		const taken = { ...made, layout };
		const named = (held: Held) =>
			Object.fromEntries(
				Object.entries(rounded(held) as Held).map(([table, all]) => [
					table,
					// Bits, and rows that are pointed at, are numbers in the description; where the second pool of the
					// last make begins is not in it.
					all.map((row) =>
						Object.entries(row).filter(
							([path]) => !path.includes('.') && path !== 'engine' && (path !== 'text' || made.name !== 'far')
						)
					)
				])
			);
		const read = named(heldBy(taken, made.bytes));
		for (const [table, all] of Object.entries(named(made.held)))
			expect(read[table]!.map((row) => Object.fromEntries(row))).toMatchObject(
				all.map((row) => Object.fromEntries(row))
			);
	});
});

test('a description that is more than a table is refused, with the part', () => {
	const base = { meta: { id: 'a', endian: 'le' } };
	const row = { seq: [{ id: 'a', type: 'u1' }] };
	for (const [said, why] of [
		[{ ...base, seq: [{ id: 'a', type: 'strz' }] }, /seq\.a: “strz” has no fixed length/],
		[
			{ ...base, seq: [{ id: 'rows', type: 'row', repeat: 'until' }], types: { row } },
			/seq\.rows: .*how many rows/
		],
		[
			{ ...base, seq: [{ id: 'rows', type: 'row', repeat: 'expr', 'repeat-expr': 'n' }], types: { row } },
			/“n” is not a field/
		],
		[{ ...base, seq: [], instances: { x: { value: 'a' } } }, /instances\.x/],
		[{ ...base, seq: [{ id: 'a', type: { 'switch-on': 'b' } }] }, /seq\.0\.type/]
	] as const)
		expect(() => fromKaitai(JSON.stringify(said))).toThrow(why);
	expect(() => fromKaitai('{')).toThrow(NotPacked);
});

describe('files that lie', () => {
	test('cut off anywhere, or with any byte changed, they end in words or are read; nothing is beyond their end', async () => {
		for (const [, make] of MAKES) {
			const made = await make(randomBy(11));
			const random = randomBy(12);
			for (let nth = 0; nth < 150; nth++) {
				const bytes = made.bytes.slice(0, nth < 50 ? Math.floor(random() * made.bytes.length) : undefined);
				if (nth >= 50) {
					// Mostly in the head, where counts and addresses are.
					const at = Math.floor(random() * Math.min(bytes.length, nth < 100 ? 20 : bytes.length));
					bytes[at] = random() < 0.3 ? 255 : Math.floor(random() * 256);
				}
				for (const { name } of made.layout.tables) {
					const doc = docOf(made, bytes, name);
					expect(doc.records.length).toBeLessThanOrEqual(bytes.length);
					for (const record of doc.records) {
						expect(record.to).toBeLessThanOrEqual(bytes.length);
						for (const field of record.fields) expect(field.to).toBeLessThanOrEqual(bytes.length);
					}
					for (const { message, line } of doc.problems) {
						expect(message).toMatch(/^[“A-Z].*\.$/);
						expect(line).toBeGreaterThan(0);
					}
					const whole = ownersIn(doc.packed, 0, bytes.length);
					expect(whole.map(({ from }) => from)).toEqual(
						[0, ...whole.map(({ to }) => to)].slice(0, whole.length)
					);
				}
			}
		}
	});

	const counted = packedLayout.parse({
		shape: 'packed',
		head: [
			{ name: 'n', as: 'u32', counts: 'rows' },
			{ name: 'at', as: 'u32', starts: 'rows' }
		],
		tables: [{ name: 'rows', grows: true, fields: [{ name: 'next', as: 'u32', to: 'rows' }] }]
	});
	const read = (bytes: Uint8Array) =>
		readDocument('a.bin', bytes.slice(), { layout: counted }) as PackedDocument;

	test('a count of four billion and an address beyond the end are told, with what is there', () => {
		const bytes = Uint8Array.from([255, 255, 255, 255, 8, 0, 0, 0, 8, 0, 0, 0, 12, 0, 0, 0]);
		expect(read(bytes).records).toHaveLength(2);
		expect(read(bytes).problems.map(({ message }) => message)).toEqual([
			'The table “rows” should have 4,294,967,295 rows; there are bytes for 2.'
		]);
		bytes.set([1, 0, 0, 0, 255, 255, 255, 127]);
		expect(read(bytes).records).toEqual([]);
		expect(read(bytes).problems[0]!.message).toBe(
			'The table “rows” begins at byte 2147483647; the file has 16 bytes.'
		);
		// Its size is not touched as long as it does not fit.
		bytes.set([255, 255, 255, 255, 8, 0, 0, 0]);
		const doc = read(bytes);
		expect(() => packed.insert(doc, doc, doc.records[0]!)).toThrow(/does not fit its layout/);
	});

	test('addresses in a circle are rows by their names', () => {
		const bytes = Uint8Array.from([2, 0, 0, 0, 8, 0, 0, 0, 12, 0, 0, 0, 8, 0, 0, 0]);
		expect(read(bytes).records.map(({ fields }) => fields[0]!.value)).toEqual(['#2', '#1']);
		const doc = read(bytes);
		expect(() => packed.remove(doc, doc.records[0]!)).toThrow(
			'“#1” is still pointed at by rows #2. Change that first.'
		);
	});
});

test('in a full pool, what all that point at a value get is written in its place, for many in one step', () => {
	const guide = parseGuide(`guide: 1
kinds:
  boat:
    title: Boat
    files: [boats.bin]
    at: boats
    key: id
    written:
      layout:
        shape: packed
        head: [{ name: sum, as: u32 }, { name: n, as: u32, counts: boats }, { name: at, as: u32, starts: speeds }]
        tables: [{ name: boats, key: id, fields: [{ name: id, as: u32 }, { name: speed, as: u32, to: speeds, from: target }] }]
        pools: [{ name: speeds, as: u32 }]
        sums: [{ as: crc32, in: sum }]
`);
	// 600 boats have three speeds: the first two as many each, one boat alone the third.
	const count = 600;
	const bytes = Buffer.alloc(12 + count * 8 + 12);
	bytes.writeUInt32LE(count, 4);
	bytes.writeUInt32LE(12 + count * 8, 8);
	for (let row = 0; row < count; row++) {
		bytes.writeUInt32LE(row + 1, 12 + row * 8);
		bytes.writeUInt32LE(row === 0 ? 8 : (row % 2) * 4, 16 + row * 8);
	}
	[10, 20, 30].forEach((speed, nth) => bytes.writeUInt32LE(speed, 12 + count * 8 + nth * 4));
	const stack = assembleStack(
		[
			{ id: 'base', title: 'Base', owner: 'game', files: new Map([['boats.bin', Uint8Array.from(bytes)]]) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: new Map() }
		],
		guide
	);
	const speeds = (of: typeof stack) =>
		of.tables.get('boat')!.records.map((boat) => Number(boat.value('speed')));
	const before = speeds(stack);
	const cells = before.map((speed, nth) => ({
		id: String(nth + 1),
		field: 'speed',
		value: String(speed * 2)
	}));
	const plan = planFor(stack, { do: 'cells', kind: 'boat', cells }, 'one');
	expect(speeds(stackAfter(stack, plan))).toEqual(before.map((speed) => speed * 2));
	// No boat gets a speed of which there is none in the pool, as long as others keep what it has.
	const some = cells.slice(1, 40).map((cell) => ({ ...cell, value: '77' }));
	expect(() => planFor(stack, { do: 'cells', kind: 'boat', cells: some }, 'two')).toThrow(
		/the pool “speeds” is full/
	);
});

test('a file of two tables is one document of two parts, each edited as its own', async () => {
	const made = await MAKES.find(([name]) => name.startsWith('two tables'))![1](randomBy(5));
	const whole = readDocument('a.bin', made.bytes, { layout: made.layout }) as PackedDocument;
	expect(whole.parts!.map(({ doc }) => [doc.at, doc.records.length])).toEqual(
		Object.entries(made.held).map(([table, rows]) => [table, rows.length])
	);
	const engine = findRecord(whole, 'e1')!;
	const longer = applySplices(made.bytes, packed.insert(whole, whole, engine));
	const doc = readDocument('a.bin', longer, { layout: made.layout }) as PackedDocument;
	const bytes = applySplices(longer, packed.set(doc, findRecord(doc, 'b0')!, 'engine', 'e2'));
	const held = await made.read(bytes);
	expect(held.engines!.map(({ id }) => id)).toEqual([...made.held.engines!.map(({ id }) => id), 'e1']);
	expect(held.boats![0]).toEqual({ id: 'b0', engine: 'e2' });
});

test('carried over to a version with more rows: only the value of mine is, and what counts and sums up is right', () => {
	const guide = parseGuide(`guide: 1
kinds:
  boat:
    title: Boat
    files: [boats.bin]
    at: boats
    key: id
    written:
      layout:
        shape: packed
        head: [{ name: sum, as: u8 }, { name: n, as: u8, counts: boats }]
        tables: [{ name: boats, key: id, grows: true, fields: [{ name: id, as: text, length: 4 }, { name: speed }, { name: tow }] }]
        sums: [{ as: xor8, in: sum }]
`);
	const file = (rows: [string, number, number][]) => {
		const bytes = [rows.length];
		for (const [id, speed, tow] of rows) bytes.push(...Buffer.from(id.padEnd(4, '\0')), speed, tow);
		return Uint8Array.from([bytes.reduce((sum, byte) => sum ^ byte, 0), ...bytes]);
	};
	const on = (base: Uint8Array, mine?: Uint8Array) =>
		assembleStack(
			[
				{ id: 'base', title: 'Base', owner: 'game', files: new Map([['boats.bin', base]]) },
				{ id: 'mine', title: 'Mine', owner: 'me', files: new Map(mine ? [['boats.bin', mine]] : []) }
			],
			guide
		);
	const before = on(
		file([
			['tug', 9, 80],
			['yawl', 7, 0],
			['smac', 8, 2]
		])
	);
	const edited = stackAfter(
		before,
		planFor(before, { do: 'set', kind: 'boat', id: 'yawl', field: 'speed', value: '21' }, 'one')
	);
	const after = on(
		file([
			['cog', 5, 1],
			['tug', 9, 81],
			['yawl', 7, 3],
			['smac', 8, 2]
		])
	);
	const { files, items } = carryMod(edited, after);
	expect(items.filter(({ what }) => what === 'carried').map(({ record }) => record)).toEqual(['yawl']);
	expect([...bytesOf(files.get('boats.bin')!)]).toEqual([
		...file([
			['cog', 5, 1],
			['tug', 9, 81],
			['yawl', 21, 3],
			['smac', 8, 2]
		])
	]);
});

test('numbers of 64 bits as Node reads them, to the last digit', () => {
	const layout = packedLayout.parse({
		shape: 'packed',
		tables: [
			{
				name: 'rows',
				fields: [
					{ name: 'a', as: 'i64' },
					{ name: 'b', as: 'u64', order: 'big' }
				]
			}
		]
	});
	const bytes = Buffer.alloc(16);
	for (const [a, b] of [
		[-1n, 2n ** 64n - 1n],
		[-(2n ** 63n), 0n],
		[-509537419264n, 9007199254740993n]
	] as const) {
		bytes.writeBigInt64LE(a);
		bytes.writeBigUInt64BE(b, 8);
		const doc = readDocument('a.bin', Uint8Array.from(bytes), { layout }) as PackedDocument;
		expect(doc.records[0]!.fields.map(({ value }) => String(value))).toEqual([String(a), String(b)]);
		const next = applySplices(doc.content, packed.set(doc, doc.records[0]!, 'b', '18446744073709551614'));
		expect(Buffer.from(next).readBigUInt64BE(8)).toBe(18446744073709551614n);
	}
});

test('a layout that nobody said is guessed: the length of a row, the number of rows, and the texts', () => {
	let [right, texts] = [0, 0];
	for (let seed = 0; seed < 60; seed++) {
		const random = randomBy(seed);
		const upTo = (most: number) => Math.floor(random() * most);
		const isBig = random() < 0.5;
		const rows = 12 + upTo(80);
		const names = ['gull', 'tern', 'guillemot', 'skua', 'petrel'].map((name) => Buffer.from(`${name}\0`));
		const withTexts = random() < 0.6;
		const numbers = 1 + upTo(4);
		const length = 10 + numbers * 2 + 2 + 4;
		const bytes = Buffer.alloc(8 + rows * length);
		bytes.write('TBLE');
		if (isBig) bytes.writeUInt32BE(rows, 4);
		else bytes.writeUInt32LE(rows, 4);
		let starts = 0;
		const places = names.map((name) => (starts += name.length) - name.length + bytes.length);
		for (let row = 0; row < rows; row++) {
			const at = 8 + row * length;
			bytes.write(`boat${row}`, at);
			for (let nth = 0; nth < numbers; nth++) {
				const value = 20 + upTo(nth * 90 + 40);
				if (isBig) bytes.writeUInt16BE(value, at + 10 + nth * 2);
				else bytes.writeUInt16LE(value, at + 10 + nth * 2);
			}
			bytes[at + length - 6] = upTo(6);
			const address = places[upTo(places.length)]!;
			if (withTexts && isBig) bytes.writeUInt32BE(address, at + length - 4);
			else if (withTexts) bytes.writeUInt32LE(address, at + length - 4);
		}
		const file = new Uint8Array(withTexts ? Buffer.concat([bytes, ...names]) : bytes);
		const [best] = guessPacked(file);
		if (!best) continue;
		const doc = readDocument('a.bin', file, { layout: best.layout }) as PackedDocument;
		expect(doc.problems).toEqual([]);
		expect(doc.records).toHaveLength(best.rows);
		if (best.rows === rows && doc.records[0]!.to - doc.records[0]!.from === length) right++;
		if (
			withTexts &&
			doc.records[0]!.fields.some(({ value }) =>
				['gull', 'tern', 'guillemot', 'skua', 'petrel'].includes(String(value))
			)
		)
			texts++;
		if (!withTexts) texts++;
	}
	// Of what is guessed nothing is written: it is looked at before it counts.
	expect(right).toBeGreaterThanOrEqual(54);
	expect(texts).toBeGreaterThanOrEqual(54);
});
