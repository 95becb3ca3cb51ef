// Parts of packed files that grow or shrink, and all that follows: where others begin, addresses, counts, sizes.
import { listed } from '../../wording';
import { composeSplices } from '../../change';
import { EditRefused } from '../document';
import { numberBytes } from './numbers';
import type { Placed, Section } from './places';
import { joinedBytes, rowAt } from './pools';
import { idOf, type PackedFile } from './read';
import { type Bytes, type NumberField, over, sameBytes } from './splices';

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
export function resized(file: PackedFile, section: Section, change: Bytes): Bytes[] {
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

/** Bytes put behind the last value of a pool. */
export function appended(
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
