// What is written down of a mod in a game's folder, and whether all of it still stands there.
import { cp, lstat, mkdir, readFile, rm } from 'node:fs/promises';
import { dirname, join, normalize } from 'node:path';
import { digestOf } from '$core/text';
import { SourceFault } from './fault';
import { digestAt, filesBelow } from './moves';
import { readOrder, type Listed } from './order';
import { writeAtomic } from './write';

/** Where a mod goes. Paths are relative to the game's folder. */
export interface Place {
	/** The game's folder. */
	folder: string;
	/** The mod's own folder; where its files stand over the game's own, the folder that their paths begin from. */
	mod: string;
	/** Whether its files stand in the place of the game's own, also within its archives. */
	over?: boolean | undefined;
	/** Archives of the game that hold the same: what changes in one, changes in the others. */
	twins?: string[][] | undefined;
	/** The file with the load order; null where a mod counts because it is there. */
	order: string | null;
	/** How that lists mods; JSON where nothing is said. */
	listed?: Listed | undefined;
	/** Files and folders that the game makes anew by itself: they go while the mod is installed, and when it is removed. */
	caches?: string[] | undefined;
	/** How the load order calls the mod. */
	name: string;
}

/** A file of the game's folder that an installation touches. Digests are SHA-256 in hex; null stands for no file. */
export interface Touched {
	path: string;
	before: string | null;
	after: string | null;
	/** The game makes it anew by itself: whatever stands there now is no change. */
	cache?: true;
}

/** What was done to a game's folder, kept until it is undone. */
export interface Installed extends Place {
	version: 2;
	/** When it was first done; ISO 8601. */
	at: string;
	/** Folder with what was there before: files under `files`, by their paths. */
	backup: string;
	/** All files that were touched but the load order. */
	files: Touched[];
	/** The load order: its digests, and whether it listed the name before. */
	list: Touched | null;
	wasListed: boolean;
	/** Folders that were made for the mod, the outermost first. */
	made: string[];
}

/** What came of a removal. */
export interface Removed extends Installed {
	/** Each file that was touched, as it was before and as it is now. */
	proof: { path: string; before: string | null; now: string | null }[];
	/** Files that other programs had written in their places, kept in the backup under `changed`. */
	aside: string[];
}

/** What is installed, as it is written down on a shelf. */
export const INSTALLED = 'installed.json';
/** What came of a removal, in its backup. */
export const REMOVED = 'removed.json';

/** Whether something is at a path, a link to nothing too. */
export const there = (path: string) =>
	lstat(path).then(
		() => true,
		() => false
	);

/** The bytes of a file; null where there is none. */
export const bytesAt = (path: string) =>
	readFile(path).catch((fault: NodeJS.ErrnoException) => {
		if (fault.code === 'ENOENT') return null;
		throw fault;
	});

/** How it was written down until every file was told of by itself. */
export interface Older extends Place {
	version: 1;
	backup: string;
	hadMod: boolean;
	hadOrder: boolean;
	/** Whether the load order listed the name: until it could be a text, too, under `listed`. */
	wasListed?: boolean;
	made: string[];
}

/** The same as it is written down now. */
async function fromOlder(older: Older & { listed?: unknown }): Promise<Installed> {
	const { folder, mod, order, name, backup, made } = older;
	const told = typeof older.listed === 'boolean' ? older.listed : undefined;
	if (await there(join(backup, 'mod'))) {
		await rm(join(backup, 'files'), { recursive: true, force: true });
		await mkdir(dirname(join(backup, 'files', mod)), { recursive: true });
		await cp(join(backup, 'mod'), join(backup, 'files', mod), { recursive: true });
	}
	const kept = await filesBelow(join(backup, 'files'));
	const present = (await filesBelow(join(folder, mod))).map((path) => `${mod}/${path}`);
	const files: Touched[] = [];
	for (const path of new Set([...kept, ...present]))
		files.push({
			path,
			before: await digestAt(join(backup, 'files', path)),
			after: await digestAt(join(folder, path))
		});
	let list: Touched | null = null;
	if (order !== null) {
		const before = older.hadOrder ? await bytesAt(join(backup, 'order.json')) : null;
		list = {
			path: order,
			before: before && digestOf(before),
			after: digestOf(readOrder(order, before, told === undefined ? older.listed : undefined).with(name))
		};
		if (before) await writeAtomic(join(backup, 'files', order), before);
	}
	return {
		version: 2,
		at: new Date(0).toISOString(),
		folder,
		mod,
		order,
		...(told === undefined && older.listed !== undefined ? { listed: older.listed } : {}),
		name,
		backup,
		files,
		list,
		wasListed: told ?? older.wasListed ?? false,
		made
	};
}

/**
 * What another shelf has in the same place: the first path that both would touch; null where they do not meet.
 * @param paths paths that are to be touched, from the mod's root
 */
export function meets(other: Installed, place: Place, paths: Iterable<string>): string | null {
	if (other.folder !== place.folder) return null;
	if (place.over !== true && other.over !== true) return other.mod === place.mod ? place.mod : null;
	const taken = new Set(other.files.map(({ path }) => path));
	for (const path of paths) {
		const whole = normalize(join(place.mod, path));
		for (let at = whole; at !== '.'; at = dirname(at)) if (taken.has(at)) return at;
	}
	return null;
}

/**
 * What is installed by what was written down on a shelf; null for nothing.
 * @param shelf folder of backups of one project
 * @throws SourceFault where what was written down cannot be read
 */
export async function installedOn(shelf: string): Promise<Installed | null> {
	const file = join(shelf, INSTALLED);
	const text = (await bytesAt(file))?.toString('utf8') ?? null;
	if (text === null) return null;
	try {
		const found = JSON.parse(text) as Installed | Older;
		if (found.version === 2 && typeof found.backup === 'string') return found;
		if (found.version === 1 && typeof found.backup === 'string') return await fromOlder(found);
	} catch {
		// Told below.
	}
	throw new SourceFault(
		`${file} says what is installed in the game’s folder and cannot be read. Nothing has changed. The backups are beside it.`
	);
}

/** Whether two installations go to the same place in the same way. */
export const samePlace = (one: Place, other: Place) =>
	one.folder === other.folder &&
	one.mod === other.mod &&
	(one.over ?? false) === (other.over ?? false) &&
	one.order === other.order &&
	JSON.stringify(one.listed ?? 'json') === JSON.stringify(other.listed ?? 'json') &&
	one.name === other.name;

/** How a file that an installation touched stands now. */
export interface Verified {
	path: string;
	/** `whole`: as it was installed. */
	state: 'whole' | 'changed' | 'missing' | 'not wanted';
}

/** Holds what is in the game's folder against what was installed there. */
export async function verify(state: Installed): Promise<Verified[]> {
	const found: Verified[] = [];
	for (const { path, after, cache } of state.files) {
		const now = await digestAt(join(state.folder, path)).catch(() => '');
		found.push({
			path,
			state:
				now === after || cache
					? 'whole'
					: now === null
						? 'missing'
						: after === null
							? 'not wanted'
							: 'changed'
		});
	}
	if (state.order !== null) {
		const bytes = await bytesAt(join(state.folder, state.order)).catch(() => null);
		const listed = bytes !== null && readOrder(state.order, bytes, state.listed).names.includes(state.name);
		found.push({ path: state.order, state: listed ? 'whole' : bytes === null ? 'missing' : 'changed' });
	}
	return found;
}
