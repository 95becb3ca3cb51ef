// A mod in a game's folder: put there after a backup, and taken out so that what was there before is there again.
// What is about to be done is written down first; whoever comes after a kill finishes it or goes back.
import { cp, lstat, mkdir, readdir, readFile, realpath, rename, rm, rmdir } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { failpoint } from './failpoint';
import { pathInside } from './inside';
import { readOrder, type Listed } from './order';
import { SourceFault } from './fault';
import { removeTree, settleTree, writeAtomic, writeTree } from './write';

/** Where a mod goes. Paths are relative to the game's folder. */
export interface Place {
	/** The game's folder. */
	folder: string;
	/** The mod's own folder. */
	mod: string;
	/** The file with the load order; null where a mod counts because it is there. */
	order: string | null;
	/** How that lists mods; JSON where nothing is said. */
	listed?: Listed | undefined;
	/** How the load order calls the mod. */
	name: string;
}

/** What was done to a game's folder, kept until it is undone. */
export interface Installed extends Place {
	version: 1;
	state: 'installing' | 'installed' | 'removing';
	/** Folder with what was there before. */
	backup: string;
	/** Whether the mod's folder and the load order were there, and whether that listed the name. */
	hadMod: boolean;
	hadOrder: boolean;
	wasListed: boolean;
	/** Folders that were made for the mod, the outermost first. */
	made: string[];
}

const FILE = 'installed.json';

const there = (path: string) =>
	lstat(path).then(
		() => true,
		() => false
	);

/**
 * What is installed, or was being installed or removed, by what was written down on a shelf; null for nothing.
 * @param shelf folder of backups of one project
 * @throws SourceFault where what was written down cannot be read
 */
export async function installedOn(shelf: string): Promise<Installed | null> {
	const file = join(shelf, FILE);
	const text = await readFile(file, 'utf8').catch((fault: NodeJS.ErrnoException) => {
		if (fault.code === 'ENOENT') return null;
		throw fault;
	});
	if (text === null) return null;
	try {
		const found = JSON.parse(text) as Installed & { listed?: unknown };
		// Until it could be a text, too, `listed` said whether the load order had named the mod.
		if (typeof found.listed === 'boolean')
			Object.assign(found, { wasListed: found.listed, listed: undefined });
		if (found.version === 1 && typeof found.backup === 'string') return found;
	} catch {
		// Told below.
	}
	throw new SourceFault(
		`${file} says what is installed in the game’s folder and cannot be read. Nothing has changed. The backups are beside it.`
	);
}

const writeDown = async (shelf: string, state: Installed): Promise<void> => {
	await mkdir(shelf, { recursive: true });
	await writeAtomic(join(shelf, FILE), Buffer.from(`${JSON.stringify(state, null, '\t')}\n`));
};

/**
 * The real places of an installation.
 * @param shipped paths of the game's own files
 * @throws SourceFault where one leaves the game's folder, or is the game's own
 */
async function placesOf(
	place: Place,
	shipped: ReadonlySet<string>
): Promise<{ mod: string; order: string | null }> {
	const folder = await realpath(place.folder).catch(() => null);
	if (folder === null)
		throw new SourceFault(`The game’s folder ${place.folder} is not there. Nothing has changed.`);
	const mod = await pathInside(folder, place.mod);
	const order = place.order === null ? null : await pathInside(folder, place.order);
	const own = [...shipped].find(
		(path) => path === place.mod || path.startsWith(`${place.mod}/`) || place.mod.startsWith(`${path}/`)
	);
	if (own !== undefined)
		throw new SourceFault(
			`Your mod would go into ${place.mod}, where the game has its own ${own}. Nothing was installed. Give your mod another name.`
		);
	if ((await lstat(mod).catch(() => null))?.isSymbolicLink())
		throw new SourceFault(
			`${place.mod} in the game’s folder is a link. Nothing has changed. Take the link away, or give your mod another name.`
		);
	if (order === mod || order?.startsWith(`${mod}/`))
		throw new SourceFault(
			`The load order ${place.order} lies in the mod’s own folder. Correct the field guide; nothing has changed.`
		);
	return { mod, order };
}

/** The load order of a place, as it is now; null where there is none. */
const orderIn = async ({ order, listed }: Place, path: string | null) =>
	order === null || path === null ? null : readOrder(order, await bytesAt(path), listed);

const bytesAt = (path: string) =>
	readFile(path).catch((fault: NodeJS.ErrnoException) => {
		if (fault.code === 'ENOENT') return null;
		throw fault;
	});

/** Folders above a path that are not there yet, the outermost first. */
async function missingAbove(root: string, path: string): Promise<string[]> {
	const missing: string[] = [];
	for (let at = dirname(path); at.length > root.length && !(await there(at)); at = dirname(at))
		missing.unshift(at);
	return missing;
}

async function begin(shelf: string, place: Place, mod: string, order: string | null): Promise<Installed> {
	const before = order === null ? null : await bytesAt(order);
	const wasListed = (await orderIn(place, order))?.names.includes(place.name) ?? false;
	const backup = join(shelf, new Date().toISOString().replace(/[:.]/g, '-'));
	await mkdir(backup, { recursive: true });
	const hadMod = await there(mod);
	if (hadMod) await cp(mod, join(backup, 'mod'), { recursive: true });
	if (before) await writeAtomic(join(backup, 'order.json'), before);
	const made = await missingAbove(await realpath(place.folder), mod);
	const state = { version: 1 as const, state: 'installing' as const, ...place, backup, hadMod, made };
	const whole: Installed = { ...state, hadOrder: before !== null, wasListed };
	await writeDown(shelf, whole);
	return whole;
}

/**
 * Puts a mod into the game's folder. What was there before the first time is backed up, and stays the backup until
 * the mod is taken out. Returns what was written down.
 * @param shelf folder of backups of one project
 * @param shipped paths of the game's own files, none of which is ever replaced
 * @throws SourceFault; then nothing is changed
 */
export async function install(
	shelf: string,
	place: Place,
	shipped: ReadonlySet<string>,
	contents: ReadonlyMap<string, Uint8Array>
): Promise<Installed> {
	await recover(shelf);
	let present = await installedOn(shelf);
	const same = (one: Installed) =>
		one.folder === place.folder &&
		one.mod === place.mod &&
		one.order === place.order &&
		(one.listed ?? 'json') === (place.listed ?? 'json') &&
		one.name === place.name;
	const { mod, order } = await placesOf(place, shipped);
	await orderIn(place, order);
	if (present && !same(present)) {
		await remove(shelf);
		present = null;
	}
	const state = present ?? (await begin(shelf, place, mod, order));
	failpoint('after-backup');
	await mkdir(dirname(mod), { recursive: true });
	await writeTree(mod, contents);
	failpoint('after-tree');
	const list = await orderIn(place, order);
	if (order !== null && list) await writeAtomic(order, list.with(place.name));
	failpoint('after-order');
	const done: Installed = { ...state, state: 'installed' };
	await writeDown(shelf, done);
	return done;
}

/**
 * Takes the mod out of the game's folder; what was there before is there again. What others changed in the load
 * order meanwhile stays. Returns what was taken out, or null where nothing is installed.
 * @throws SourceFault where the load order cannot be read or the game's folder is not there; then nothing is changed
 */
export async function remove(shelf: string): Promise<Installed | null> {
	const state = await installedOn(shelf);
	if (!state) return null;
	const { mod, order } = await placesOf(state, new Set());
	const present = order === null ? null : await bytesAt(order);
	const read = present && (await orderIn(state, order));
	await writeDown(shelf, { ...state, state: 'removing' });
	failpoint('removal-written');
	await settleTree(mod);
	await removeTree(mod);
	failpoint('tree-removed');
	if (state.hadMod) {
		await mkdir(dirname(mod), { recursive: true });
		const coming = `${mod}.kettle-new`;
		await cp(join(state.backup, 'mod'), coming, { recursive: true });
		await rename(coming, mod);
	}
	failpoint('old-tree-back');
	if (read && order !== null && state.order !== null && !state.wasListed) {
		const bytes = read.without(state.name);
		const bare = !state.hadOrder && readOrder(state.order, bytes, state.listed).names.length === 0;
		// A load order that was made for this mod goes with it, unless somebody put something else into it.
		if (bare && Buffer.compare(bytes, readOrder(state.order, null, state.listed).without('')) === 0)
			await rm(order, { force: true });
		else await writeAtomic(order, bytes);
	}
	failpoint('order-back');
	for (const folder of [...state.made].reverse()) {
		if ((await readdir(folder).catch(() => ['?'])).length === 0) await rmdir(folder);
	}
	await rm(join(shelf, FILE), { force: true });
	return state;
}

/** Finishes a removal, or goes back on an installation, that was cut off. Returns what it had to do with; null for nothing. */
export async function recover(shelf: string): Promise<Installed | null> {
	const state = await installedOn(shelf);
	if (!state) return null;
	if (state.state !== 'installed') return remove(shelf);
	// A newer state of the mod may have been on its way.
	if (await there(state.folder)) await settleTree(join(state.folder, state.mod));
	return null;
}
