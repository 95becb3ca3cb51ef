// Edits of values in packed tables: in their own place, or by the address of another one.
import { counted, listed } from '../../wording';
import { applySplices, composeSplices } from '../../change';
import { EditRefused, type RecordNode, type Sharing } from '../document';
import { homeOf } from '../parts';
import { bytesIn, hexBytes, numberBytes, tooLong, unitOf, withBits, type Order } from './numbers';
import { isNumber } from './schema';
import { plainValue, type Placed, type Section } from './places';
import {
	encodingOf,
	joinedBytes,
	knownValues,
	poolBytes,
	poolValue,
	saidFor,
	type Pointer,
	type PoolValue
} from './pools';
import { fieldsOf, HEAD, idOf, packedFile, placeIn, type PackedDocument, type PackedFile } from './read';
import { type Bytes, type NumberField, over, sameBytes, summedUp } from './splices';
import { appended } from './sizes';

/** The bytes of a value in its own place. @throws EditRefused */
export function plainBytes(
	bytes: Uint8Array,
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
		const whole = withBits(plainValue(bytes, start, place), bit, value);
		return numberBytes(String(asSort(whole, field.as as NumberField)), field.as as NumberField, order);
	}
	if (field.as === 'bytes') {
		const said = hexBytes(value);
		if (said.length !== size)
			throw new EditRefused(`“${place.path}” has ${counted(size, 'byte')}; these are ${said.length}.`);
		return said;
	}
	const text = bytesIn(value, encoding);
	if (text.length > size) throw new EditRefused(tooLong(value, encoding, size, text.length));
	if (field.pad === 'zero') return joinedBytes(text, new Uint8Array(size - text.length));
	return joinedBytes(text, bytesIn(' '.repeat((size - text.length) / unitOf(encoding)), encoding));
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

/** The fields of a document's records that point into pools. */
export const pointingAt = (doc: PackedDocument): string[] =>
	fieldsOf(doc).flatMap(({ path, field }) =>
		path !== null && field.to !== undefined && doc.packed.section(field.to)?.pool ? [path] : []
	);

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
export function fitsIn(section: Section, value: PoolValue, bytes: Uint8Array): boolean {
	const room = value.to - value.from;
	const mayBeShorter = section.pool!.as === 'text' && typeof section.pool!.length !== 'number';
	return bytes.length === room || (mayBeShorter && bytes.length < room);
}

/** New bytes in the place of a value, with zeros behind a shorter one. */
const inPlace = (value: PoolValue, bytes: Uint8Array): Bytes =>
	over(value.from, joinedBytes(bytes, new Uint8Array(value.to - value.from - bytes.length)));

/** The address of a value that is in a pool already. */
export function addressOf(file: PackedFile, section: Section, wanted: Uint8Array): number | null {
	for (const [address, { from, to }] of knownValues(file.bytes, section, file.places, file.pointers))
		if (sameBytes(file.bytes.subarray(from, to), wanted)) return address;
	return null;
}

/** Why a value cannot be put into a pool, and what would do instead. */
export function noRoom(
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
	const { layout } = file.places;
	if (fitsIn(found.section, old, bytes)) return summedUp(file.bytes, layout, [inPlace(old, bytes)]);
	if (!found.section.pool!.grows) throw noRoom(file, found.section, old, value, 0);
	// Whoever points at the old value points at a new one, behind the last.
	const { splices, address } = appended(file, found.section, bytes);
	const moved = packedFile(applySplices(file.bytes, splices), layout);
	const target = moved.section(found.section.name)!;
	const again = moved.pointers
		.filter((one) => one.target === target && one.address === pointer.address)
		.map(({ at, place }) =>
			over(at, numberBytes(saidFor(place, target, address), place.field.as as NumberField, place.order))
		)
		.sort((a, b) => a.from - b.from);
	return summedUp(file.bytes, layout, composeSplices(splices, again));
}

/** The place of a field whose value may be set by itself. @throws EditRefused */
export function placeToSet(
	{ places: { layout } }: PackedFile,
	fields: readonly Placed[],
	path: string
): { place: Placed; bit?: [number, number] } {
	const found = placeIn(fields, path);
	if (!found)
		throw new EditRefused(
			`The layout has no field “${path}” here. All rows of a packed table have the same fields.`
		);
	const { counts, starts, measures } = found.place.field;
	const led = counts ?? starts ?? measures;
	if (led !== undefined)
		throw new EditRefused(`“${path}” follows from what is in the file: it tells of “${led}”.`);
	if (layout.sums.some((sum) => sum.in !== undefined && sum.in === path))
		throw new EditRefused(`“${path}” is a check sum: it follows from the bytes.`);
	return found;
}

/** Sets a value: in its place where it is its own, else by the address of one that is there, or of a new one. */
export function set(doc: PackedDocument, record: RecordNode, path: string, value: string): Bytes[] {
	const { packed: file } = doc;
	const { place, bit } = placeToSet(file, fieldsOf(doc), path);
	const splices = addressed(doc, record, place, value) ?? [
		over(record.from + place.at, plainBytes(file.bytes, record.from, place, value, bit))
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

/** The row of an id; null where there is none. */
export function rowNamed(file: PackedFile, section: Section, id: string): number | null {
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
