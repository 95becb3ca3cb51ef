// Edits of packed tables: each changes the bytes of its value, and what counts, points or sums up follows.
import { counted, listed } from '../../wording';
import { applySplices, composeSplices, type Splice } from '../../change';
import { EditRefused, type RecordNode, type Sharing } from '../document';
import { homeOf } from '../parts';
import {
	bytesIn,
	hexBytes,
	numberAt,
	numberBytes,
	sumOf,
	tooLong,
	unitOf,
	withBits,
	type Order
} from './numbers';
import { isNumber, type PackedField, type PackedLayout } from './schema';
import { placesOf, plainValue, summedBytes, type Placed, type Section } from './places';
import {
	encodingOf,
	joinedBytes,
	knownValues,
	poolBytes,
	poolValue,
	rowAt,
	saidFor,
	type Pointer,
	type PoolValue
} from './pools';
import {
	fieldsOf,
	HEAD,
	idOf,
	packedFile,
	placeIn,
	valueAt,
	type PackedDocument,
	type PackedFile
} from './read';

type Bytes = Splice<Uint8Array>;

const NOTHING = new Uint8Array(0);

type NumberField = Exclude<PackedField['as'], 'text' | 'bytes'>;

/** Splices, and the check sums that follow from them. */
function summedUp(bytes: Uint8Array, layout: PackedLayout, splices: readonly Bytes[]): Bytes[] {
	if (layout.sums.length === 0) return [...splices];
	let next = applySplices(bytes, splices);
	let all = [...splices];
	for (const one of placesOf(next, layout).sums) {
		const sort = `u${(one.width * 8) as 8 | 16 | 32}` as const;
		const sum = sumOf(summedBytes(next, one), one.sum.as);
		if (Number(numberAt(next, one.at, sort, one.order)) === sum) continue;
		const own = [{ from: one.at, to: one.at + one.width, insert: numberBytes(String(sum), sort, one.order) }];
		all = composeSplices(all, own);
		next = applySplices(next, own);
	}
	return all;
}

const over = (from: number, insert: Uint8Array): Bytes => ({ from, to: from + insert.length, insert });

/** The bytes of a value in its own place. @throws EditRefused */
function plainBytes(
	file: PackedFile,
	start: number,
	place: Placed,
	value: string,
	bit?: [number, number]
): Uint8Array {
	const { field, size, order, encoding } = place;
	if (field.is !== undefined)
		throw new EditRefused(`“${place.path}” is always ${field.is} in files of this layout.`);
	if (isNumber(field)) {
		if (!bit) return numberBytes(value, field.as as NumberField, order);
		const whole = withBits(plainValue(file.bytes, start, place), bit, value);
		return numberBytes(String(asSort(whole, field.as as NumberField)), field.as as NumberField, order);
	}
	if (field.as === 'bytes') {
		const bytes = hexBytes(value);
		if (bytes.length !== size)
			throw new EditRefused(`“${place.path}” has ${counted(size, 'byte')}; these are ${bytes.length}.`);
		return bytes;
	}
	const bytes = bytesIn(value, encoding);
	if (bytes.length > size) throw new EditRefused(tooLong(value, encoding, size, bytes.length));
	if (field.pad === 'zero') return joinedBytes(bytes, new Uint8Array(size - bytes.length));
	return joinedBytes(bytes, bytesIn(' '.repeat((size - bytes.length) / unitOf(encoding)), encoding));
}

/** A whole number as its sort has it: the highest bit of a signed one is its sign. */
const asSort = (value: bigint, sort: NumberField): bigint =>
	sort.startsWith('i')
		? BigInt.asIntN(Number(sort.slice(1)), value)
		: BigInt.asUintN(Number(sort.slice(1)), value);

const isShared = (a: PoolValue, b: PoolValue) => a.from < b.to && b.from < a.to;

function sharersOf(file: PackedFile, own: number, section: Section, value: PoolValue): Pointer[] {
	return file.pointers.filter(({ target, at, address }) => {
		if (target !== section || at === own) return false;
		const other = poolValue(file.bytes, section, file.places, address);
		return other !== null && isShared(value, other);
	});
}

/** What a field of a record points at in a pool. */
function pointed(doc: PackedDocument, record: RecordNode, path: string) {
	const place = placeIn(fieldsOf(doc), path)?.place;
	const section = place?.field.to === undefined ? undefined : doc.packed.section(place.field.to);
	return place && section?.pool ? { place, section, at: record.from + place.at } : null;
}

/** Values that are offered in the place of one that is pointed at. */
const MOST_OFFERED = 200;

/** Who else points at the value of a field, and what else is in its pool; null where it points at none. */
export function sharing(whole: PackedDocument, record: RecordNode, path: string): Sharing | null {
	const doc = homeOf(whole, record);
	const { packed: file } = doc;
	const found = pointed(doc, record, path);
	const pointer = found && file.pointers.find(({ at }) => at === found.at);
	const value = pointer && poolValue(file.bytes, pointer.target, file.places, pointer.address);
	if (!value) return null;
	const others = sharersOf(file, pointer.at, pointer.target, value).map(({ section, row, place }) => ({
		part: section?.name ?? HEAD,
		id: section
			? idOf(file, section, row, section === doc.section ? (doc.key ?? undefined) : undefined)
			: HEAD,
		path: place.path ?? ''
	}));
	const known = knownValues(file.bytes, found.section, file.places, file.pointers);
	const values = [...new Set([...known.values()].map((one) => String(one.value)))].slice(0, MOST_OFFERED);
	return { others, at: value.from, values };
}

/** Whether new bytes can stand in the place of a value: a text that has an end may be shorter. */
function fitsIn(section: Section, value: PoolValue, bytes: Uint8Array): boolean {
	const room = value.to - value.from;
	const mayBeShorter = section.pool!.as === 'text' && typeof section.pool!.length !== 'number';
	return bytes.length === room || (mayBeShorter && bytes.length < room);
}

/** New bytes in the place of a value, with zeros behind a shorter one. */
const inPlace = (value: PoolValue, bytes: Uint8Array): Bytes =>
	over(value.from, joinedBytes(bytes, new Uint8Array(value.to - value.from - bytes.length)));

const sameBytes = (a: Uint8Array, b: Uint8Array) =>
	a.length === b.length && a.every((byte, nth) => byte === b[nth]);

/** The address of a value that is in a pool already. */
function addressOf(file: PackedFile, section: Section, wanted: Uint8Array): number | null {
	for (const [address, { from, to }] of knownValues(file.bytes, section, file.places, file.pointers))
		if (sameBytes(file.bytes.subarray(from, to), wanted)) return address;
	return null;
}

/** Why a value cannot be put into a pool, and what would do instead. */
function noRoom(
	file: PackedFile,
	section: Section,
	value: PoolValue | null,
	text: string,
	others: number
): EditRefused {
	const known = knownValues(file.bytes, section, file.places, file.pointers);
	const some = [...new Set([...known.values()].map((one) => `“${one.value}”`))].slice(0, 5);
	const would = some.length === 0 ? '' : ` One of these would do: ${listed(some, 'or')}.`;
	const room = value ? value.to - value.from : 0;
	if (others > 0)
		return new EditRefused(
			`${counted(others, 'other value')} ${others === 1 ? 'stands' : 'stand'} at the same address, and the pool “${section.name}” is full. Change it everywhere, or use a value that is in it.${would}`
		);
	if (section.pool!.as !== 'text' || !value)
		return new EditRefused(`The pool “${section.name}” is full.${would}`);
	const encoding = encodingOf(section, file.places);
	const { length } = section.pool!;
	const around =
		length === 'zero' ? unitOf(encoding) : typeof length === 'number' ? 0 : Number(length.slice(1)) / 8;
	return new EditRefused(tooLong(text, encoding, room - around, bytesIn(text, encoding).length) + would);
}

/** A value that is pointed at, written for one field only. */
function setPointed(
	doc: PackedDocument,
	start: number,
	place: Placed,
	section: Section,
	value: string
): Bytes[] {
	const { packed: file } = doc;
	const at = start + place.at;
	const pointer = file.pointers.find((one) => one.at === at);
	const old = pointer ? poolValue(file.bytes, section, file.places, pointer.address) : null;
	const bytes = poolBytes(section, file.places, value);
	const others = old && pointer ? sharersOf(file, at, section, old).length : 0;
	if (old && others === 0 && fitsIn(section, old, bytes)) return [inPlace(old, bytes)];
	const known = addressOf(file, section, bytes);
	const order = place.order;
	const sort = place.field.as as NumberField;
	if (known !== null) return [over(at, numberBytes(saidFor(place, section, known), sort, order))];
	if (!section.pool!.grows) throw noRoom(file, section, old, value, others);
	const { splices, address } = appended(file, section, bytes);
	const next = applySplices(file.bytes, splices);
	// The pool may have been moved, and the field with it, by what stands before it: look at the file as it is then.
	const moved = packedFile(next, file.places.layout);
	const there = at < section.to ? at : at + next.length - file.bytes.length;
	const target = moved.section(section.name)!;
	return composeSplices(splices, [over(there, numberBytes(saidFor(place, target, address), sort, order))]);
}

/** Bytes put behind the last value of a pool. */
function appended(
	file: PackedFile,
	section: Section,
	bytes: Uint8Array
): { splices: Bytes[]; address: number } {
	const { align } = section.pool!;
	const gap = (align - ((section.to - section.from) % align)) % align;
	return {
		splices: resized(file, section, {
			from: section.to,
			to: section.to,
			insert: joinedBytes(new Uint8Array(gap), bytes)
		}),
		address: section.to + gap
	};
}

/** Writes a value wherever its address is used. @throws EditRefused where there is no room for it */
export function setEverywhere(
	whole: PackedDocument,
	record: RecordNode,
	path: string,
	value: string
): Bytes[] {
	const doc = homeOf(whole, record);
	const found = pointed(doc, record, path);
	const { packed: file } = doc;
	const pointer = found && file.pointers.find(({ at }) => at === found.at);
	const old = pointer && poolValue(file.bytes, pointer.target, file.places, pointer.address);
	if (!found || !pointer || !old) return set(doc, record, path, value);
	const bytes = poolBytes(found.section, file.places, value);
	if (!fitsIn(found.section, old, bytes)) throw noRoom(file, found.section, old, value, 0);
	return summedUp(file.bytes, file.places.layout, [inPlace(old, bytes)]);
}

/** Sets a value: in its place where it is its own, else by the address of one that is there, or of a new one. */
export function set(doc: PackedDocument, record: RecordNode, path: string, value: string): Bytes[] {
	const { packed: file } = doc;
	const found = placeIn(fieldsOf(doc), path);
	if (!found)
		throw new EditRefused(
			`The layout has no field “${path}” here. All rows of a packed table have the same fields.`
		);
	const { place, bit } = found;
	const { field } = place;
	const led = field.counts ?? field.starts ?? field.measures;
	if (led !== undefined)
		throw new EditRefused(`“${path}” follows from what is in the file: it tells of “${led}”.`);
	if (file.places.layout.sums.some((sum) => sum.in !== undefined && sum.in === path))
		throw new EditRefused(`“${path}” is a check sum: it follows from the bytes.`);
	const splices = addressed(doc, record, place, value) ?? [
		over(record.from + place.at, plainBytes(file, record.from, place, value, bit))
	];
	return summedUp(file.bytes, file.places.layout, splices);
}

/** A value behind an address; null for a field that has none. */
function addressed(doc: PackedDocument, record: RecordNode, place: Placed, value: string): Bytes[] | null {
	const { packed: file } = doc;
	const { field } = place;
	const section = field.to === undefined ? undefined : file.section(field.to);
	if (!section) return null;
	const at = record.from + place.at;
	const write = (said: string) => [over(at, numberBytes(said, field.as as NumberField, place.order))];
	if (value === '' && field.none !== undefined && !(section.pool?.as === 'text'))
		return write(String(field.none));
	if (section.pool) return setPointed(doc, record.from, place, section, value);
	const row = rowNamed(file, section, value);
	if (row === null) throw new EditRefused(`“${section.name}” has no row “${value}”.`);
	return write(saidFor(place, section, section.from + row * section.length));
}

function rowNamed(file: PackedFile, section: Section, id: string): number | null {
	for (let row = 0; row < section.rows; row++) if (idOf(file, section, row) === id) return row;
	return null;
}

/** Takes a value away, where the layout has something that means none. */
export function unset(doc: PackedDocument, record: RecordNode, path: string): Bytes[] {
	const found = placeIn(fieldsOf(doc), path);
	const { field, order, at } = found?.place ?? {};
	if (field?.to !== undefined && field.none !== undefined)
		return summedUp(doc.packed.bytes, doc.packed.places.layout, [
			over(record.from + at!, numberBytes(String(field.none), field.as as NumberField, order as Order))
		]);
	if (field?.as === 'text') return set(doc, record, path, '');
	throw new EditRefused(`All rows of a packed table have “${path}”. Set it to another value instead.`);
}

/** Where a byte is after a part has grown or shrunk; null where it is gone. `isOwn`: it belongs to that part. */
function movedTo(address: number, { from, to, insert }: Bytes, isOwn: boolean): number | null {
	const change = insert.length - (to - from);
	if (address < from || (address === from && from === to && isOwn)) return address;
	if (address >= to) return address + change;
	return null;
}

/**
 * A part that grows or shrinks at one place, and all that follows: where other parts begin, addresses, counts, sizes,
 * check sums. @throws EditRefused where the layout says that it cannot
 */
function resized(file: PackedFile, section: Section, change: Bytes): Bytes[] {
	const { bytes, places } = file;
	mustBeWhole(file, section, change);
	const own: Bytes[] = [];
	const put = (at: number, place: Placed, said: string) => {
		// What is taken out needs no new address.
		if (at >= change.from && at < change.to) return;
		const insert = numberBytes(said, place.field.as as NumberField, place.order);
		if (!sameBytes(bytes.subarray(at, at + insert.length), insert)) own.push(over(at, insert));
	};
	const grown = change.insert.length - (change.to - change.from);
	const shift = (other: Section) => (other === section ? other.from : movedTo(other.from, change, false)!);
	for (const { at, place, address, target } of file.pointers) {
		if (at >= change.from && at < change.to) continue;
		const to = movedTo(address, change, target === section);
		if (to === null) throw new EditRefused(stillUsed(file, section, address));
		put(at, place, String(to - (place.field.from === 'target' ? shift(target) : 0)));
	}
	for (const place of places.head) {
		const { counts, starts, measures } = place.field;
		if (counts === section.name) put(place.at, place, String(section.rows + grown / section.length));
		if (measures === section.name) put(place.at, place, String(section.to - section.from + grown));
		if (measures === 'file') put(place.at, place, String(bytes.length + grown));
		const started = starts === undefined ? undefined : file.section(starts);
		if (started) put(place.at, place, String(shift(started)));
	}
	// Numbers keep their size: they are written first, each over its own bytes, and the part is changed then.
	own.sort((a, b) => a.from - b.from);
	return composeSplices(own, [change]);
}

function stillUsed(file: PackedFile, section: Section, address: number): string {
	const row = section.table ? rowAt(section, address) : null;
	const users = file.pointers.filter((one) => one.target === section && one.address === address);
	const named = users
		.slice(0, 3)
		.map((one) => (one.section ? `${one.section.name} ${idOf(file, one.section, one.row)}` : 'the head'));
	return `${row === null ? 'A value' : `“${idOf(file, section, row)}”`} is still pointed at by ${listed(named)}${users.length > 3 ? ` and ${users.length - 3} more` : ''}. Change that first.`;
}

/** @throws EditRefused where the layout leaves no way for a part to change its size */
function mustBeWhole({ places }: PackedFile, section: Section, { from }: Bytes): void {
	const may = (section.table ?? section.pool)!.grows;
	if (!may)
		throw new EditRefused(
			`The layout does not let “${section.name}” grow or shrink: the file must keep its size. If the game takes more, write “grows: true” there.`
		);
	if (places.misfits.length > 0)
		throw new EditRefused(
			`The file does not fit its layout (${places.misfits[0]!.message}) Its size is left alone.`
		);
	const fixed = section.table ? section.table.rows : section.pool!.size;
	if (fixed !== undefined)
		throw new EditRefused(
			`The layout says that “${section.name}” always has ${fixed} ${section.table ? 'rows' : 'bytes'}.`
		);
	const behind = places.sections.find(
		(other) => other !== section && other.from >= from && other.startsBy === 'place'
	);
	if (behind)
		throw new EditRefused(
			`“${behind.name}” always begins at byte ${behind.from}: what is before it cannot grow or shrink.`
		);
}

/** Splices done one after the other, each worked out on the file as it is by then. */
function inTurn(
	bytes: Uint8Array,
	layout: PackedLayout,
	steps: Iterable<(file: PackedFile) => Bytes[]>
): Bytes[] {
	let all: Bytes[] = [];
	let now = bytes;
	for (const step of steps) {
		const own = step(packedFile(now, layout));
		all = composeSplices(all, own);
		now = applySplices(now, own);
	}
	return composeSplices(all, summedUp(now, layout, []));
}

const sectionOf = (doc: PackedDocument): Section => {
	if (!doc.section) throw new EditRefused('A file has one head.');
	return doc.section;
};

/** Puts a copy of a row of the same layout behind the last one, with values of its own pool where it is of another file. */
export function insert(doc: PackedDocument, source: PackedDocument, record: RecordNode): Bytes[] {
	const { packed: file } = doc;
	const section = sectionOf(doc);
	const row = section.rows;
	const from = source.packed.bytes.subarray(record.from, record.to);
	if (from.length !== section.length) throw new EditRefused('The two files have rows of other lengths.');
	const start = (now: PackedFile) => now.section(section.name)!.from + row * section.length;
	const steps: ((now: PackedFile) => Bytes[])[] = [
		(now) => {
			const own = now.section(section.name)!;
			return resized(now, own, { from: own.to, to: own.to, insert: from });
		}
	];
	for (const place of section.fields) {
		const target = place.field.to === undefined ? undefined : file.section(place.field.to);
		if (!target) continue;
		const value = valueAt(source.packed, record.from, place);
		steps.push((now) => {
			const there = now.section(target.name)!;
			const at = start(now) + place.at;
			const write = (said: string) => [
				over(at, numberBytes(said, place.field.as as NumberField, place.order))
			];
			if (value === null) return place.field.none === undefined ? [] : write(String(place.field.none));
			if (there.table) {
				const found = rowNamed(now, there, String(value));
				if (found === null) throw new EditRefused(`“${there.name}” has no row “${value}”.`);
				return write(saidFor(place, there, there.from + found * there.length));
			}
			const bytes = poolBytes(there, now.places, String(value));
			const known = addressOf(now, there, bytes);
			if (known !== null) return write(saidFor(place, there, known));
			if (!there.pool!.grows) throw noRoom(now, there, null, String(value), 0);
			const { splices, address } = appended(now, there, bytes);
			const moved = packedFile(applySplices(now.bytes, splices), now.places.layout);
			const said = saidFor(place, moved.section(there.name)!, address);
			return composeSplices(splices, [
				over(start(moved) + place.at, numberBytes(said, place.field.as as NumberField, place.order))
			]);
		});
	}
	return inTurn(file.bytes, file.places.layout, steps);
}

/** Takes a row out. @throws EditRefused where something points at it */
export function remove(doc: PackedDocument, { from, to }: RecordNode): Bytes[] {
	const { packed: file } = doc;
	const splices = resized(file, sectionOf(doc), { from, to, insert: NOTHING });
	return summedUp(file.bytes, file.places.layout, splices);
}

/** Moves a row; what points at rows goes on pointing at the same ones. */
export function move(doc: PackedDocument, { node }: RecordNode, to: number): Bytes[] {
	const { packed: file } = doc;
	const section = sectionOf(doc);
	const { from, length, rows } = section;
	if (to === node) return [];
	const order = Array.from({ length: rows }, (_, row) => row);
	order.splice(to, 0, ...order.splice(node, 1));
	const [first, last] = [Math.min(node, to), Math.max(node, to)];
	const pointing = file.pointers.flatMap(({ at, place, target, address }): Bytes[] => {
		const row = target === section ? rowAt(section, address) : null;
		const next = row === null ? -1 : order.indexOf(row);
		if (row === null || next === row) return [];
		return [
			over(
				at,
				numberBytes(saidFor(place, section, from + next * length), place.field.as as NumberField, place.order)
			)
		];
	});
	const now = applySplices(file.bytes, pointing);
	const moved = order
		.slice(first, last + 1)
		.map((row) => now.subarray(from + row * length, from + (row + 1) * length));
	const splices = composeSplices(pointing, [over(from + first * length, joinedBytes(...moved))]);
	return summedUp(file.bytes, file.places.layout, splices);
}

/** The same file without any rows, where the layout lets its tables shrink. */
export function blank(doc: PackedDocument): Uint8Array {
	const { packed: file } = doc;
	const { layout } = file.places;
	const steps = layout.tables.map(({ name }) => (now: PackedFile) => {
		const section = now.section(name)!;
		return section.rows === 0
			? []
			: resized(now, section, { from: section.from, to: section.to, insert: NOTHING });
	});
	return applySplices(file.bytes, inTurn(file.bytes, layout, steps));
}
