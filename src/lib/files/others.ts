// The other mods of a game, as its load order lists them: left out for a while, and put back letter by letter.
import { readFile } from 'node:fs/promises';
import { pathInside } from './inside';
import type { Place } from './installed';
import { readOrder } from './order';
import { writeAtomic } from './write';

const fileOf = (place: Place) => pathInside(place.folder, place.order!);

/**
 * The load order as it is, and the mods that it lists besides mine; null where the game has none.
 * @throws SourceFault where it cannot be read
 */
export async function othersListed(place: Place): Promise<{ bytes: Uint8Array; names: string[] } | null> {
	if (place.order === null) return null;
	const bytes = await readFile(await fileOf(place)).catch(() => null);
	if (bytes === null) return null;
	const { names } = readOrder(place.order, bytes, place.listed);
	return { bytes, names: names.filter((name) => name !== place.name) };
}

/** Writes a load order back, without some of the mods that it lists. @throws SourceFault */
export async function writeListed(
	place: Place,
	bytes: Uint8Array,
	left: Iterable<string> = []
): Promise<void> {
	let now = bytes;
	for (const name of left) now = readOrder(place.order!, now, place.listed).without(name);
	await writeAtomic(await fileOf(place), Buffer.from(now));
}
