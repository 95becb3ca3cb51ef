// My mod as a folder on disk: written out on demand or at once; what other programs change there is noticed, shown by
// value, taken in as one plan, or left. Three states are compared: the folder's, my mod's, and the one last agreed on.
import { mkdir, realpath, rm } from 'node:fs/promises';
import { dirname } from 'node:path';
import { watch, type FSWatcher } from 'chokidar';
import type { KeptPlan } from '$core/change';
import type { Intention } from '$core/edits';
import {
	failpoint,
	inWords,
	MOD_LIMITS,
	openFolder,
	pathInside,
	readWhole,
	SourceFault,
	tooLarge,
	writeAtomic
} from '../files';
import { keepBlob, readBlobs } from './db/blobs';
import {
	agreeOn,
	announce,
	linkedProjects,
	putLinked,
	readAgreed,
	readLinked,
	type Linked
} from './db/linked';
import { db } from './db/pool';
import { tellOutside } from './events';
import { NotThere } from './faults';
import { mineOf, modelOf } from './model';
import { preview } from './plans';
import { allowedPath } from './settings';
import { inTurn } from './turns';

/** A file of which folder and my mod are not alike. */
export interface Apart {
	path: string;
	/** Digest in the folder and in my mod; null where it is not there. */
	outside: string | null;
	mine: string | null;
}

/** How a linked folder stands to my mod. */
export interface LinkState {
	linked: Linked;
	/** Changed in the folder since both were alike; `both` where my mod changed as well. */
	outside: (Apart & { both: boolean })[];
	/** Changed in my mod only: to be written out. */
	pending: Apart[];
	/** Why the folder cannot be read or written; null where it can. */
	fault: string | null;
}

const states = new Map<string, { version: number; state: Promise<LinkState> }>();
/** How each folder was seen last, which may have changed since. */
const seen = new Map<string, LinkState>();

/** Why the last writing into a folder did not work, by project. */
const faults = new Map<string, string>();

/** A folder that was linked, by its real name. @throws SourceFault where it is not there, or no longer allowed */
async function rootOf({ folder }: Linked): Promise<string> {
	const real = await realpath(folder).catch(() => null);
	if (real === null)
		throw new SourceFault(
			`The folder ${folder} is not there. If it is on a disk that is not connected, connect it; your mod is unchanged. To keep it elsewhere, unlink it and link another folder.`
		);
	await allowedPath(real);
	return real;
}

/** What the folder holds: the digest of each file. The bytes that neither side knows yet are kept. */
async function inFolder(
	root: string,
	known: (path: string, sha256: string) => boolean
): Promise<Map<string, string>> {
	const source = await openFolder(root, { ...MOD_LIMITS, files: 20_000, total: 2 ** 31 });
	const found = new Map<string, string>();
	for (const entry of source.entries) {
		// What is being written just now, or was when it was cut off.
		if (entry.path.endsWith('.kettle-tmp')) continue;
		const now = await source.read(entry);
		if (known(entry.path, now.sha256)) {
			found.set(entry.path, now.sha256);
			continue;
		}
		const { sha256, bytes } = await readWhole(source, root, entry);
		if (!bytes) throw tooLarge(entry);
		await keepBlob(db(), sha256, bytes);
		found.set(entry.path, sha256);
	}
	source.close();
	return found;
}

async function compare(slug: string, linked: Linked): Promise<LinkState> {
	const model = await modelOf(slug);
	const mine = new Map(mineOf(model).files.map((file) => [file.path, file.sha256]));
	const agreed = await readAgreed(db(), slug);
	let disk: Map<string, string>;
	try {
		disk = await inFolder(await rootOf(linked), (path, sha256) => mine.get(path) === sha256);
	} catch (error) {
		return { linked, outside: [], pending: [], fault: inWords(error, linked.folder) };
	}
	const before = [...agreed.values()].filter(({ sha256 }) => sha256 !== null).length;
	if (disk.size === 0 && before > 1) {
		const fault = `The folder ${linked.folder} is empty, and ${before} files were in it. If it is on a disk that is not connected, connect it; your mod is unchanged. If you emptied it, unlink it and link it again.`;
		return { linked, outside: [], pending: [], fault };
	}
	const outside: LinkState['outside'] = [];
	const pending: Apart[] = [];
	const alike = new Map<string, string | null>();
	for (const path of [...new Set([...mine.keys(), ...disk.keys(), ...agreed.keys()])].sort()) {
		const [here, there] = [mine.get(path) ?? null, disk.get(path) ?? null];
		const { sha256 = null, coming = null } = agreed.get(path) ?? {};
		// A writing that was cut off may have been done or not: either is ours.
		const last = coming !== null && (there ?? '') === coming ? there : sha256;
		if (here === there) {
			if (sha256 !== here || coming !== null) alike.set(path, here);
			continue;
		}
		const apart = { path, outside: there, mine: here };
		if (there !== last) outside.push({ ...apart, both: here !== last });
		else pending.push(apart);
	}
	if (alike.size > 0) await agreeOn(db(), slug, alike);
	return { linked, outside, pending, fault: faults.get(slug) ?? null };
}

/** How the linked folder stands to my mod; null where none is linked. Looked at again only after something changed. */
export async function linkState(slug: string): Promise<LinkState | null> {
	const linked = await readLinked(db(), slug);
	if (!linked) return null;
	const { version } = (await modelOf(slug)).project;
	let known = states.get(slug);
	if (known?.version !== version) states.set(slug, (known = { version, state: compare(slug, linked) }));
	const failed = () => states.delete(slug);
	known.state.then((state) => seen.set(slug, state), failed);
	return known.state;
}

/**
 * How the linked folder was seen last; null where none is linked. Looks into it only where nobody has yet: what changes
 * is noticed, and told, by itself.
 */
export async function linkSeen(slug: string): Promise<LinkState | null> {
	if (!(await readLinked(db(), slug))) {
		seen.delete(slug);
		return null;
	}
	const last = seen.get(slug);
	if (!last) return linkState(slug);
	// Whoever looks on is told where it stands otherwise by now, whoever began to look.
	void linkState(slug).then(
		(now) => {
			if (now?.outside.length !== last.outside.length || now.fault !== last.fault) tellOutside(slug);
		},
		() => undefined
	);
	return { ...last, fault: faults.get(slug) ?? last.fault };
}

/** What a linked folder changed, as the intention that takes it in, and the plan of it; null where it changed nothing. */
export async function outsidePlan(slug: string): Promise<{ intention: Intention; plan: KeptPlan } | null> {
	const state = await linkState(slug);
	if (!state || state.outside.length === 0) return null;
	const intention: Intention = {
		do: 'bring',
		files: state.outside.map(({ path, outside }) => ({ path, sha256: outside }))
	};
	return { intention, plan: (await preview(slug, intention)).plan };
}

/** Writes one file into the folder, or takes it away, and agrees on it: cut off in between, it is known whose it is. */
async function writeOne(slug: string, root: string, { path, mine }: Apart): Promise<void> {
	const full = await pathInside(root, path);
	await announce(db(), slug, path, mine);
	failpoint('after-announce');
	if (mine === null) await rm(full, { force: true });
	else {
		await mkdir(dirname(full), { recursive: true });
		await pathInside(root, path);
		await writeAtomic(full, (await readBlobs(db(), [mine])).get(mine)!);
	}
	failpoint('after-linked-write');
	await agreeOn(db(), slug, new Map([[path, mine]]));
}

/**
 * Writes what my mod changed into the linked folder; files that were changed there are left alone.
 * Returns how many files were written or taken away.
 * @throws NotThere, SourceFault; what was written by then is agreed on
 */
export const writeOut = (slug: string): Promise<number> => inTurn(`linked ${slug}`, () => writeAll(slug));

async function writeAll(slug: string): Promise<number> {
	faults.delete(slug);
	states.delete(slug);
	const state = await linkState(slug);
	if (!state) throw new NotThere('Your mod is not linked to a folder.');
	if (state.fault) throw new SourceFault(state.fault);
	try {
		const root = await rootOf(state.linked);
		for (const apart of state.pending) await writeOne(slug, root, apart);
	} catch (error) {
		const fault = inWords(error, state.linked.folder);
		faults.set(slug, fault);
		throw new SourceFault(fault);
	} finally {
		states.delete(slug);
	}
	return state.pending.length;
}

/** Leaves what was changed in the folder: it counts as seen, and my mod's own version is written over it next time. */
export const leaveOutside = (slug: string): Promise<number> =>
	inTurn(`linked ${slug}`, async () => {
		states.delete(slug);
		const state = await linkState(slug);
		if (!state) return 0;
		await agreeOn(db(), slug, new Map(state.outside.map(({ path, outside }) => [path, outside])));
		states.delete(slug);
		seen.delete(slug);
		tellOutside(slug);
		return state.outside.length;
	});

const watchers = new Map<string, FSWatcher>();

function startWatching(slug: string, { folder }: Linked): void {
	const watcher = watch(folder, { ignoreInitial: true, followSymlinks: false, ignored: /\.kettle-tmp$/ });
	let timer: ReturnType<typeof setTimeout> | undefined;
	watcher.on('all', () => {
		clearTimeout(timer);
		timer = setTimeout(() => {
			states.delete(slug);
			tellOutside(slug);
		}, 250);
	});
	watcher.on('error', (error) => console.error(`${folder}: ${String(error)}`));
	watchers.set(slug, watcher);
}

/** Links my mod with a folder, or with null takes the link away; the folder itself stays as it is. */
export async function linkWith(slug: string, linked: Linked | null): Promise<void> {
	if (linked)
		await mkdir(linked.folder, { recursive: true }).catch((error) => {
			throw new SourceFault(inWords(error, linked.folder));
		});
	await putLinked(db(), slug, linked);
	states.delete(slug);
	seen.delete(slug);
	faults.delete(slug);
	await watchers.get(slug)?.close();
	watchers.delete(slug);
	if (!linked) return;
	startWatching(slug, linked);
	if (linked.atOnce) await writeOut(slug);
}

/** Forgets how linked folders were seen: each is looked at again when that is asked for. */
export const lookAnew = (): void => states.clear();

/** After a step: what is linked at once is written out; pages are told where that does not work. */
export async function afterStep(slug: string): Promise<void> {
	try {
		if ((await readLinked(db(), slug))?.atOnce) await writeOut(slug);
	} catch (error) {
		console.error(`${slug}: ${(error as Error).message}`);
		tellOutside(slug);
	}
}

export async function startLinks(): Promise<void> {
	for (const { slug, linked } of await linkedProjects(db())) startWatching(slug, linked);
}

export async function stopLinks(): Promise<void> {
	await Promise.allSettled([...watchers.values()].map((watcher) => watcher.close()));
	watchers.clear();
}
