// Values that rows point at by their address.
import { EditRefused } from '../document';
import {
	bytesIn,
	numberAt,
	numberBytes,
	textIn,
	tooLong,
	unitOf,
	widthOf,
	zeroAt,
	type Order
} from './numbers';
import { plainValue, type Placed, type Places, type Section } from './places';

/** A value of a pool: `[from, to)` with its length or the zero behind it. */
export interface PoolValue {
	from: number;
	to: number;
	value: number | string;
}

/** A field that holds an address. */
export interface Pointer {
	/** Null for the head. */
	section: Section | null;
	/** Row from 0. */
	row: number;
	place: Placed;
	/** Where the address stands. */
	at: number;
	/** What it points at, from the beginning of the file. */
	address: number;
	target: Section;
}

const orderOf = ({ pool }: Section, { layout }: Places): Order => pool!.order ?? layout.order;
export const encodingOf = ({ pool }: Section, { layout }: Places): string =>
	pool!.encoding ?? layout.encoding;

/** The value at an address; null where there is none. */
export function poolValue(
	bytes: Uint8Array,
	section: Section,
	places: Places,
	address: number
): PoolValue | null {
	const { from, to, pool } = section;
	if (address < from || address >= to || (address - from) % pool!.align !== 0) return null;
	if (pool!.as !== 'text') {
		const end = address + widthOf(pool!.as);
		return end > to
			? null
			: { from: address, to: end, value: numberAt(bytes, address, pool!.as, orderOf(section, places)) };
	}
	const encoding = encodingOf(section, places);
	const { length } = pool!;
	if (length === 'zero') {
		const unit = unitOf(encoding);
		const end = zeroAt(bytes, address, to, unit);
		return end + unit > to
			? null
			: { from: address, to: end + unit, value: textIn(bytes.subarray(address, end), encoding) };
	}
	if (typeof length === 'number') {
		const end = address + length;
		if (end > to) return null;
		const stop = zeroAt(bytes, address, end, unitOf(encoding));
		return { from: address, to: end, value: textIn(bytes.subarray(address, stop), encoding) };
	}
	const width = widthOf(length);
	if (address + width > to) return null;
	const end = address + width + Number(numberAt(bytes, address, length, orderOf(section, places)));
	return end > to
		? null
		: { from: address, to: end, value: textIn(bytes.subarray(address + width, end), encoding) };
}

/** The bytes of a value as a pool has it. @throws EditRefused where they cannot hold it */
export function poolBytes(section: Section, places: Places, value: string): Uint8Array {
	const { pool } = section;
	const order = orderOf(section, places);
	if (pool!.as !== 'text') return numberBytes(value, pool!.as, order);
	const encoding = encodingOf(section, places);
	const text = bytesIn(value, encoding);
	const { length } = pool!;
	if (length === 'zero') return joinedBytes(text, new Uint8Array(unitOf(encoding)));
	if (typeof length === 'number') {
		if (text.length > length) throw new EditRefused(tooLong(value, encoding, length, text.length));
		return joinedBytes(text, new Uint8Array(length - text.length));
	}
	return joinedBytes(numberBytes(String(text.length), length, order), text);
}

export function joinedBytes(...parts: readonly Uint8Array[]): Uint8Array {
	const bytes = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
	let at = 0;
	for (const part of parts) {
		bytes.set(part, at);
		at += part.length;
	}
	return bytes;
}

/** The address that a field holds, from the beginning of the file; null where it points at nothing. */
export function addressIn(bytes: Uint8Array, start: number, place: Placed, target: Section): number | null {
	const said = Number(plainValue(bytes, start, place));
	if (place.field.none !== undefined && said === place.field.none) return null;
	return said + (place.field.from === 'target' ? target.from : 0);
}

/** The number that a field holds to point at an address. */
export const saidFor = ({ field }: Placed, target: Section, address: number): string =>
	String(address - (field.from === 'target' ? target.from : 0));

/** All fields that point at something, in the order of the file. */
export function* pointersIn(bytes: Uint8Array, places: Places): Generator<Pointer> {
	const byName = new Map(places.sections.map((section) => [section.name, section]));
	const inRow = (section: Section | null, pointing: readonly Placed[], row: number, start: number) =>
		pointing.flatMap((place): Pointer[] => {
			const target = byName.get(place.field.to!)!;
			if (start + place.at + place.size > bytes.length) return [];
			const address = addressIn(bytes, start, place, target);
			return address === null ? [] : [{ section, row, place, at: start + place.at, address, target }];
		});
	const pointing = (fields: readonly Placed[]) => fields.filter(({ field }) => field.to !== undefined);
	yield* inRow(null, pointing(places.head), 0, 0);
	for (const section of places.sections) {
		const fields = pointing(section.fields);
		if (fields.length === 0) continue;
		for (let row = 0; row < section.rows; row++)
			yield* inRow(section, fields, row, section.from + row * section.length);
	}
}

/** The row of a table that an address points at, from 0; null for none. */
export function rowAt({ from, to, length }: Section, address: number): number | null {
	if (address < from || address >= to || (address - from) % length !== 0) return null;
	return (address - from) / length;
}

/** All values of a pool that can be told: those that are pointed at, and those behind each other from its beginning. */
export function knownValues(
	bytes: Uint8Array,
	section: Section,
	places: Places,
	pointers: readonly Pointer[]
): Map<number, PoolValue> {
	const found = new Map<number, PoolValue>();
	for (const { target, address } of pointers) {
		if (target !== section || found.has(address)) continue;
		const value = poolValue(bytes, section, places, address);
		if (value) found.set(address, value);
	}
	const { align } = section.pool!;
	for (let at = section.from; at < section.to;) {
		const value = poolValue(bytes, section, places, at);
		if (!value) break;
		found.set(at, value);
		at = section.from + Math.ceil((value.to - section.from) / align) * align;
	}
	return found;
}
