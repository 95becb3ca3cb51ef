// Many values of packed tables at once: the file is looked at as a whole, and spliced once for all of them.
import { applySplices, composeSplices } from '../../change';
import { EditRefused, type RecordNode, type ValueWrite } from '../document';
import { homeOf } from '../parts';
import { hexOf, numberBytes } from './numbers';
import type { Placed, Section } from './places';
import {
	joinedBytes,
	knownValues,
	poolBytes,
	poolValue,
	saidFor,
	type Pointer,
	type PoolValue
} from './pools';
import { fieldsOf, idOf, packedFile, type PackedDocument, type PackedFile } from './read';
import { appended } from './sizes';
import { over, sameBytes, summedUp, type Bytes, type NumberField } from './splices';
import { fitsIn, noRoom, placeToSet, plainBytes } from './values';

/** The bytes of a file while values of their own length are written into it. */
class Writing {
	readonly bytes: Uint8Array;
	/** Lengths of what was written, by where it begins. */
	readonly #written = new Map<number, number>();

	constructor(readonly before: Uint8Array) {
		// Copied: a slice of some sorts of bytes is the same bytes.
		this.bytes = new Uint8Array(before);
	}

	write(at: number, bytes: Uint8Array): void {
		this.bytes.set(bytes, at);
		this.#written.set(at, Math.max(bytes.length, this.#written.get(at) ?? 0));
	}

	splices(): Bytes[] {
		return [...this.#written]
			.sort(([a], [b]) => a - b)
			.map(([at, length]) => over(at, this.bytes.slice(at, at + length)))
			.filter(({ from, to, insert }) => !sameBytes(this.before.subarray(from, to), insert));
	}
}

/** A value that is to be behind an address. */
interface Pointed {
	/** Where the address stands. */
	at: number;
	place: Placed;
	text: string;
	bytes: Uint8Array;
}

const addressBytes = (place: Placed, said: string) =>
	numberBytes(said, place.field.as as NumberField, place.order);

/** How many of the addresses that point into a pool have a value that holds each of its bytes. */
function coverOf(file: PackedFile, section: Section): (value: PoolValue) => number {
	const cover = new Int32Array(section.to - section.from);
	for (const { target, address } of file.pointers) {
		const value = target === section ? poolValue(file.bytes, section, file.places, address) : null;
		if (value) for (let at = value.from; at < value.to; at++) cover[at - section.from]!++;
	}
	return ({ from, to }) =>
		cover.subarray(from - section.from, to - section.from).reduce((most, one) => Math.max(most, one), 0);
}

/**
 * Values of one pool. Where all that point at a value get the same one instead, it is changed in its place; the others
 * point at a value that is there. Gives those for which there is none yet.
 */
function pointAll(file: PackedFile, section: Section, wanted: readonly Pointed[], to: Writing): Pointed[] {
	const { places } = file;
	const pointers = new Map<number, Pointer>(file.pointers.map((pointer) => [pointer.at, pointer]));
	const coverIn = coverOf(file, section);
	const groups = new Map<number, Pointed[]>();
	const rest: Pointed[] = [];
	for (const one of wanted) {
		const address = pointers.get(one.at)?.address;
		const group = address === undefined ? rest : groups.get(address);
		if (group) group.push(one);
		else groups.set(address!, [one]);
	}
	for (const [address, group] of groups) {
		const old = poolValue(file.bytes, section, places, address);
		const [{ bytes }] = group as [Pointed, ...Pointed[]];
		const isOwn =
			old !== null &&
			fitsIn(section, old, bytes) &&
			coverIn(old) === group.length &&
			group.every((one) => sameBytes(one.bytes, bytes));
		if (isOwn) to.write(old.from, joinedBytes(bytes, new Uint8Array(old.to - old.from - bytes.length)));
		else rest.push(...group);
	}
	if (rest.length === 0) return [];
	const there = new Map<string, number>();
	for (const [address, value] of knownValues(to.bytes, section, places, file.pointers)) {
		const said = hexOf(to.bytes.subarray(value.from, value.to));
		if (!there.has(said)) there.set(said, address);
	}
	return rest.filter((one) => {
		const address = there.get(hexOf(one.bytes));
		if (address !== undefined)
			to.write(one.at, addressBytes(one.place, saidFor(one.place, section, address)));
		return address === undefined;
	});
}

/** Puts values behind those of a pool, each once, and points at them. @throws EditRefused */
function grown(
	bytes: Uint8Array,
	{ places: { layout } }: PackedFile,
	name: string,
	missing: Pointed[]
): Bytes[] {
	const file = packedFile(bytes, layout);
	const section = file.section(name)!;
	if (!section.pool!.grows) {
		const [{ at, text }] = missing as [Pointed, ...Pointed[]];
		const address = file.pointers.find((one) => one.at === at)?.address;
		const old = address === undefined ? null : poolValue(bytes, section, file.places, address);
		throw noRoom(file, section, old, text, old ? Math.max(0, coverOf(file, section)(old) - 1) : 0);
	}
	const { align } = section.pool!;
	const offsets = new Map<string, number>();
	const parts: Uint8Array[] = [];
	let length = 0;
	for (const one of missing) {
		const said = hexOf(one.bytes);
		if (offsets.has(said)) continue;
		const gap = (align - (length % align)) % align;
		offsets.set(said, length + gap);
		parts.push(new Uint8Array(gap), one.bytes);
		length += gap + one.bytes.length;
	}
	const { splices, address } = appended(file, section, joinedBytes(...parts));
	const next = applySplices(bytes, splices);
	const target = packedFile(next, layout).section(name)!;
	const own = missing.map((one) => {
		const at = one.at < section.to ? one.at : one.at + next.length - bytes.length;
		const said = saidFor(one.place, target, address + offsets.get(hexOf(one.bytes))!);
		return over(at, addressBytes(one.place, said));
	});
	return composeSplices(
		splices,
		own.sort((a, b) => a.from - b.from)
	);
}

/** The rows of a table by their ids; the first of two. */
function rowsById(file: PackedFile, section: Section): Map<string, number> {
	const found = new Map<string, number>();
	for (let row = 0; row < section.rows; row++) {
		const id = idOf(file, section, row);
		if (!found.has(id)) found.set(id, row);
	}
	return found;
}

/** Writes numbers, texts and addresses of rows in their places; gives the values that stand in pools, by pool. */
function writePlain(
	file: PackedFile,
	values: readonly { doc: PackedDocument; record: RecordNode; path: string; value: string }[],
	to: Writing
): Map<Section, Pointed[]> {
	const pooled = new Map<Section, Map<number, Pointed>>();
	const rows = new Map<Section, Map<string, number>>();
	for (const { doc, record, path, value } of values) {
		const { place, bit } = placeToSet(file, fieldsOf(doc), path);
		const { field } = place;
		const at = record.from + place.at;
		const target = field.to === undefined ? undefined : file.section(field.to);
		if (!target) to.write(at, plainBytes(to.bytes, record.from, place, value, bit));
		else if (value === '' && field.none !== undefined && target.pool?.as !== 'text')
			to.write(at, addressBytes(place, String(field.none)));
		else if (target.pool) {
			let list = pooled.get(target);
			if (!list) pooled.set(target, (list = new Map()));
			// Of two values for one place the last one counts.
			list.set(at, { at, place, text: value, bytes: poolBytes(target, file.places, value) });
		} else {
			let known = rows.get(target);
			if (!known) rows.set(target, (known = rowsById(file, target)));
			const row = known.get(value);
			if (row === undefined) throw new EditRefused(`“${target.name}” has no row “${value}”.`);
			to.write(at, addressBytes(place, saidFor(place, target, target.from + row * target.length)));
		}
	}
	return new Map([...pooled].map(([section, list]) => [section, [...list.values()]]));
}

/** Sets many values at once, each for its own record. @throws EditRefused */
export function setMany(whole: PackedDocument, writes: readonly ValueWrite[]): Bytes[] {
	const values = writes.map((write) => ({ ...write, doc: homeOf(whole, write.record) }));
	const file = whole.packed;
	const { layout } = file.places;
	const writing = new Writing(file.bytes);
	const missing = new Map<string, Pointed[]>();
	for (const [section, wanted] of writePlain(file, values, writing)) {
		const rest = pointAll(file, section, wanted, writing);
		if (rest.length > 0) missing.set(section.name, rest);
	}
	let splices = writing.splices();
	let bytes = writing.bytes;
	for (const [name, rest] of missing) {
		const { to } = packedFile(bytes, layout).section(name)!;
		const more = grown(bytes, file, name, rest);
		const next = applySplices(bytes, more);
		for (const others of missing.values())
			for (const one of others) if (one.at >= to) one.at += next.length - bytes.length;
		splices = composeSplices(splices, more);
		bytes = next;
	}
	return summedUp(file.bytes, layout, splices);
}
