// A mod in a game's folder: put there after a backup of every file that it touches, and taken out so that each of them
// is again what it was, proven by digests.
import { createReadStream, createWriteStream } from 'node:fs';
import { access, constants, lstat, mkdir, readdir, readFile, realpath } from 'node:fs/promises';
import { dirname, join, normalize } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { digestOf } from '$core/text';
import { SourceFault } from './fault';
import { pathInside } from './inside';
import {
	bytesAt,
	INSTALLED,
	installedOn,
	REMOVED,
	samePlace,
	there,
	type Installed,
	type Older,
	type Place,
	type Removed,
	type Touched
} from './installed';
import { digestAt, filesBelow, isUnderWay, moveTogether, settle, writeThrough, type Move } from './moves';
import { readOrder } from './order';
import { repacked } from './repack';
import { settleTree, syncFolder, writeAtomic } from './write';

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
	const whole = place.over === true && normalize(`${place.mod}/`) === './';
	const mod = whole ? folder : await pathInside(folder, place.mod);
	const order = place.order === null ? null : await pathInside(folder, place.order);
	const own =
		place.over === true
			? undefined
			: [...shipped].find(
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
	if (place.over !== true && (order === mod || order?.startsWith(`${mod}/`)))
		throw new SourceFault(
			`The load order ${place.order} lies in the mod’s own folder. Correct the field guide; nothing has changed.`
		);
	return { mod, order };
}

/** Copies a file and has it reach the disk. @throws SourceFault where it is not what it was */
async function backUp(from: string, to: string, digest: string): Promise<void> {
	await mkdir(dirname(to), { recursive: true });
	await pipeline(createReadStream(from), createWriteStream(to, { flush: true }));
	if ((await digestAt(to)) !== digest)
		throw new SourceFault(
			`${from} was changed by another program while it was backed up. Nothing was installed; try again.`
		);
	await syncFolder(dirname(to));
}

/** What is to stand in the game's folder: bytes by path. */
async function targetsOf(
	place: Place,
	contents: ReadonlyMap<string, Uint8Array>,
	original: (path: string) => Promise<string>
): Promise<Map<string, Uint8Array>> {
	const targets = new Map<string, Uint8Array>();
	/** What changes in each archive of the game, by its entries. */
	const archives = new Map<string, Map<string, Uint8Array>>();
	for (const [path, bytes] of contents) {
		const whole = normalize(join(place.mod, path));
		const archive = place.over === true ? await archiveOn(place.folder, whole) : null;
		if (archive === null) {
			targets.set(whole, bytes);
			continue;
		}
		for (const each of [archive, ...twinsOf(place, archive)]) {
			const entries = archives.get(each) ?? new Map<string, Uint8Array>();
			// What my mod says of the twin itself counts more.
			if (each === archive || !entries.has(whole.slice(archive.length + 1)))
				entries.set(whole.slice(archive.length + 1), bytes);
			archives.set(each, entries);
		}
	}
	for (const [path, entries] of archives)
		targets.set(path, await repacked(path, await readFile(await original(path)), entries));
	return targets;
}

const twinsOf = ({ twins }: Place, archive: string): string[] =>
	(twins ?? []).filter((all) => all.includes(archive)).flatMap((all) => all.filter((one) => one !== archive));

/** The files of the caches of a game that are there now. */
async function cachesOf({ folder, caches = [] }: Place): Promise<string[]> {
	const found: string[] = [];
	for (const path of caches) {
		const full = await pathInside(folder, path);
		const info = await lstat(full).catch(() => null);
		if (info?.isFile()) found.push(normalize(path));
		else if (info?.isDirectory())
			found.push(...(await filesBelow(full)).map((below) => normalize(`${path}/${below}`)));
	}
	return [...new Set(found)];
}

/** The file above a path that is there and no folder: an archive of the game; null where there is none. */
async function archiveOn(folder: string, path: string): Promise<string | null> {
	const parts = path.split('/');
	for (let count = 1; count < parts.length; count++) {
		const at = parts.slice(0, count).join('/');
		const info = await lstat(join(folder, at)).catch(() => null);
		if (info === null) return null;
		if (info.isFile()) return at;
	}
	return null;
}

/** Folders above some paths that are not there yet, the outermost first. */
async function missingAbove(folder: string, paths: Iterable<string>): Promise<string[]> {
	const missing = new Set<string>();
	const present = new Set<string>();
	for (const path of paths)
		for (let at = dirname(path); at !== '.' && !present.has(at) && !missing.has(at); at = dirname(at))
			if (await there(join(folder, at))) present.add(at);
			else missing.add(at);
	return [...missing].sort();
}

/** @throws SourceFault where a folder that is to be changed cannot be written */
async function mustBeWritable(folder: string, moves: readonly Move[]): Promise<void> {
	const asked = new Set<string>();
	for (const { path } of moves) {
		let at = dirname(path);
		while (at !== '.' && !(await there(join(folder, at)))) at = dirname(at);
		asked.add(join(folder, at));
	}
	for (const at of asked)
		await access(at, constants.W_OK).catch(() => {
			throw new SourceFault(
				`${at} cannot be written. Nothing has changed. Allow writing there, and try again.`
			);
		});
}

const modeOf = async (path: string) => (await lstat(path).catch(() => null))?.mode ?? null;

/** Moves with the bytes of what is to be there. */
class Steps {
	readonly moves: Move[] = [];
	readonly written: { path: string; bytes: () => Promise<Uint8Array> }[] = [];

	add(
		path: string,
		from: string | null,
		to: string | null,
		bytes?: () => Promise<Uint8Array>,
		list?: Move['list']
	): void {
		const staged = to === null ? null : String(this.written.length);
		if (to !== null) this.written.push({ path, bytes: bytes! });
		this.moves.push({ path, from, to, staged, ...(list ? { list } : {}) });
	}

	/** Writes what is to come into a folder beside the game's files, with the modes of what is there. */
	async write(folder: string, staging: string): Promise<void> {
		for (const [nth, { path, bytes }] of this.written.entries()) {
			const mode = await modeOf(join(folder, path));
			await writeThrough(join(staging, String(nth)), await bytes(), mode === null ? null : mode & 0o7777);
		}
	}
}

/**
 * Puts a mod into the game's folder. What was there before the first time is backed up, and stays the backup until
 * the mod is taken out. Only what differs is written. Returns what was written down, and how many files changed.
 * @param shelf folder of backups of one project
 * @param shipped paths of the game's own files, which a mod with a folder of its own never replaces
 * @throws SourceFault; then nothing is changed
 */
export async function install(
	shelf: string,
	place: Place,
	shipped: ReadonlySet<string>,
	contents: ReadonlyMap<string, Uint8Array>
): Promise<Installed & { written: number }> {
	await recover(shelf);
	let present = await installedOn(shelf);
	const { order } = await placesOf(place, shipped);
	const list = order === null ? null : readOrder(place.order!, await bytesAt(order), place.listed);
	if (present && !samePlace(present, place)) {
		await remove(shelf);
		present = null;
	}
	const { folder } = place;
	const backup = present?.backup ?? join(shelf, new Date().toISOString().replace(/[:.]/g, '-'));
	const known = new Map(present?.files.map((file) => [file.path, file]));
	const kept = (path: string) => join(backup, 'files', path);
	const targets = await targetsOf(place, contents, async (path) =>
		known.get(path)?.before ? kept(path) : pathInside(folder, path)
	);
	const steps = new Steps();
	const files: Touched[] = [];
	const backups: { path: string; digest: string }[] = [];
	const touch = async (path: string, bytes: Uint8Array | null): Promise<void> => {
		const full = await pathInside(folder, path);
		const now = await digestAt(full);
		const after = bytes && digestOf(bytes);
		const was = known.get(path);
		if (!was && now !== null) backups.push({ path, digest: now });
		files.push({ path, before: was ? was.before : now, after });
		if (now !== after) steps.add(path, was ? was.after : now, after, bytes ? async () => bytes : undefined);
	};
	for (const [path, bytes] of targets) await touch(path, bytes);
	// What stood in the mod's own folder before goes meanwhile: the game would read it as a part of the mod.
	if (!present && place.over !== true)
		for (const path of await filesBelow(join(folder, place.mod)))
			if (!targets.has(`${place.mod}/${path}`)) await touch(`${place.mod}/${path}`, null);
	const caches = (await cachesOf(place)).filter((path) => !targets.has(path));
	for (const path of caches) {
		const now = await digestAt(await pathInside(folder, path));
		const before = known.get(path)?.before ?? null;
		if (!present && now !== null) backups.push({ path, digest: now });
		files.push({ path, before: present ? before : now, after: null, cache: true });
		// What the game made meanwhile is kept aside all the same: it may be no cache at all.
		steps.add(path, present ? null : now, null);
	}
	for (const was of known.values()) {
		if (targets.has(was.path) || caches.includes(was.path)) continue;
		if (was.after === null) files.push(was);
		else if (was.before === null || was.before !== was.after)
			steps.add(was.path, was.after, was.before, () => readFile(kept(was.path)));
	}
	let listTouched = present?.list ?? null;
	if (list && place.order !== null) {
		const bytes = await bytesAt(order!);
		const now = bytes && digestOf(bytes);
		const with_ = list.with(place.name);
		const after = digestOf(with_);
		if (!present && now !== null) backups.push({ path: place.order, digest: now });
		listTouched ??= { path: place.order, before: now, after };
		if (now !== after)
			steps.add(place.order, now, after, async () => with_, {
				listed: place.listed,
				name: place.name,
				on: true
			});
		if (present && now !== after) listTouched = { ...listTouched, after: null };
	}
	const made = await missingAbove(folder, [
		...targets.keys(),
		...(place.order === null ? [] : [place.order])
	]);
	const done: Installed = {
		version: 2,
		at: present?.at ?? new Date().toISOString(),
		...place,
		backup,
		files: files.sort((a, b) => (a.path < b.path ? -1 : 1)),
		list: listTouched,
		wasListed: present?.wasListed ?? list?.names.includes(place.name) ?? false,
		made: [...new Set([...(present?.made ?? []), ...made])].sort()
	};
	await mustBeWritable(folder, steps.moves);
	const unmade = (present?.made ?? []).filter(
		(path) => ![...targets.keys()].some((file) => file.startsWith(`${path}/`))
	);
	await moveTogether(
		shelf,
		INSTALLED,
		{
			folder,
			moves: steps.moves,
			made,
			unmade,
			aside: join(backup, 'changed'),
			spare: present ? null : backup
		},
		done,
		async (staging) => {
			await mkdir(backup, { recursive: true });
			for (const { path, digest } of backups) await backUp(join(folder, path), kept(path), digest);
			await steps.write(folder, staging);
		}
	);
	return { ...done, written: steps.moves.length };
}

/** Whether a list holds no more than one that was never there. */
const isBare = (state: Installed, bytes: Uint8Array): boolean =>
	typeof state.listed !== 'object' &&
	Buffer.compare(bytes, readOrder(state.order!, null, state.listed).without('')) === 0;

/**
 * Takes the mod out of the game's folder; every file that it touched is again what it was. What others wrote there
 * meanwhile is kept in the backup; what they changed in the load order stays. Returns what was taken out, with the
 * proof, or null where nothing is installed.
 * @throws SourceFault where the load order cannot be read or the game's folder is not there; then nothing is changed
 */
export async function remove(shelf: string): Promise<Removed | null> {
	await recover(shelf);
	const state = await installedOn(shelf);
	if (!state) return null;
	const { order } = await placesOf(state, new Set());
	const { folder, backup } = state;
	const steps = new Steps();
	const aside: string[] = [];
	const restore = async (file: Touched): Promise<void> => {
		const now = await digestAt(await pathInside(folder, file.path));
		const isTheirs = file.cache !== true && now !== file.after && now !== file.before && now !== null;
		if (isTheirs) aside.push(file.path);
		if (now !== file.before)
			steps.add(file.path, file.after, file.before, () => readFile(join(backup, 'files', file.path)));
	};
	for (const file of state.files) await restore(file);
	// What came into the mod's own folder since, of the game or of others, goes aside with it.
	const touched = new Set(state.files.map(({ path }) => path));
	// What the game made into a cache since was made with the mod.
	for (const path of await cachesOf(state)) {
		if (touched.has(path)) continue;
		touched.add(path);
		steps.add(path, '', null);
	}
	const own = state.over === true ? [] : await filesBelow(join(folder, state.mod));
	for (const path of own.map((one) => `${state.mod}/${one}`)) {
		if (touched.has(path)) continue;
		aside.push(path);
		steps.add(path, '', null);
	}
	const proofList = await unlist(state, order, steps);
	await mustBeWritable(folder, steps.moves);
	const folders = state.over === true ? [] : await foldersBelow(folder, state.mod);
	const made = await missingAbove(
		folder,
		steps.moves.filter(({ to }) => to !== null).map(({ path }) => path)
	);
	await moveTogether(
		shelf,
		INSTALLED,
		{
			folder,
			moves: steps.moves,
			made,
			unmade: [...state.made, ...(state.made.includes(state.mod) ? folders : [])],
			aside: join(backup, 'changed'),
			spare: null
		},
		null,
		(staging) => steps.write(folder, staging)
	);
	const proof: Removed['proof'] = [];
	for (const { path, before } of [...state.files, ...proofList])
		proof.push({ path, before, now: await digestAt(join(folder, path)) });
	const removed: Removed = { ...state, proof, aside };
	// The proof is told in any case; where the disk has no room for it, it is not kept.
	await writeAtomic(join(backup, REMOVED), Buffer.from(`${JSON.stringify(removed, null, '\t')}\n`)).catch(
		() => undefined
	);
	return removed;
}

/** Takes the name out of the load order. @returns the list, where it is to be as it was, letter by letter */
async function unlist(state: Installed, order: string | null, steps: Steps): Promise<Touched[]> {
	const { list } = state;
	if (!list || order === null) return [];
	const present = await bytesAt(order);
	if (present === null) return [];
	const now = digestOf(present);
	const read = readOrder(list.path, present, state.listed);
	if (state.wasListed) return [];
	const entry = { listed: state.listed, name: state.name, on: false };
	if (now === list.after) {
		if (list.before !== now)
			steps.add(list.path, now, list.before, () => readFile(join(state.backup, 'files', list.path)), entry);
		return [list];
	}
	const bytes = read.without(state.name);
	// A load order that was made for this mod goes with it, unless somebody put something else into it.
	const to = list.before === null && isBare(state, bytes) ? null : digestOf(bytes);
	if (to !== now) steps.add(list.path, now, to, async () => bytes, entry);
	return to === list.before ? [list] : [];
}

/** All folders below a mod's own, the outermost first. */
async function foldersBelow(folder: string, mod: string): Promise<string[]> {
	const found: string[] = [];
	const walk = async (at: string): Promise<void> => {
		found.push(at);
		for (const entry of await readdir(join(folder, at), { withFileTypes: true }).catch(() => []))
			if (entry.isDirectory()) await walk(`${at}/${entry.name}`);
	};
	if (await there(join(folder, mod))) await walk(mod);
	return found;
}

/**
 * Finishes an installation or a removal that was cut off, or takes back what had only begun. Returns what it had to do
 * with; null for nothing.
 */
export async function recover(shelf: string): Promise<{ folder: string; finished: boolean } | null> {
	await finishOlder(shelf);
	if (!(await isUnderWay(shelf))) return null;
	const { what, folder } = await settle(shelf, INSTALLED);
	return folder === null ? null : { folder, finished: what === 'finished' };
}

/** Takes back what was cut off when it was still written down in the older way. */
async function finishOlder(shelf: string): Promise<void> {
	const text = (await bytesAt(join(shelf, INSTALLED)))?.toString('utf8') ?? '';
	if (!/"version":\s*1\b/.test(text) || !/"state":\s*"(?:installing|removing)"/.test(text)) return;
	const older = JSON.parse(text) as Older;
	if (await there(older.folder)) await settleTree(join(older.folder, older.mod));
	await writeAtomic(
		join(shelf, INSTALLED),
		Buffer.from(text.replace(/("state":\s*")(?:installing|removing)"/, '$1installed"'))
	);
	await remove(shelf);
}
