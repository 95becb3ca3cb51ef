// Edits of whole rows of packed tables: put in, taken out, moved.
import { applySplices, composeSplices } from '../../change';
import { EditRefused, type RecordNode } from '../document';
import { numberBytes } from './numbers';
import type { PackedLayout } from './schema';
import type { Section } from './places';
import { joinedBytes, poolBytes, rowAt, saidFor } from './pools';
import { packedFile, valueAt, type PackedDocument, type PackedFile } from './read';
import { type Bytes, type NumberField, over, summedUp } from './splices';
import { appended, resized } from './sizes';
import { addressOf, noRoom, rowNamed } from './values';

const NOTHING = new Uint8Array(0);

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
