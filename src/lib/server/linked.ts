// My mod as a folder on disk: written out on demand or at once; what other programs change there is noticed, shown by
// value, taken in as one plan, or left. Three states are compared: the folder's, my mod's, and the one last agreed on.
import { mkdir, rm } from 'node:fs/promises';
import { dirname, join, sep } from 'node:path';
import { watch, type FSWatcher } from 'chokidar';
import type { Plan } from '$core/change';
import type { Intention } from '$core/edits';
import { openFolder, SourceFault, writeAtomic } from '../files';
import { keepBlob, readBlobs } from './db/blobs';
import { agreeOn, linkedProjects, putLinked, readAgreed, readLinked, type Linked } from './db/linked';
import { db } from './db/pool';
import { tellOutside } from './events';
import { mineOf, modelOf, NotThere } from './model';
import { preview } from './plans';

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
	/** Why the folder cannot be read; null where it can. */
	fault: string | null;
}

/** Larger files are not looked into; nobody edits them here. */
const LARGEST = 64 * 2 ** 20;

async function inFolder(folder: string): Promise<Map<string, { sha256: string; bytes: Uint8Array | null }>> {
	await mkdir(folder, { recursive: true });
	const source = await openFolder(folder, { ...limits });
	const found = new Map<string, { sha256: string; bytes: Uint8Array | null }>();
	for (const entry of source.entries) {
		const { sha256, bytes } = await source.read(entry);
		found.set(entry.path, { sha256, bytes });
	}
	source.close();
	return found;
}
// Archives in a mod's folder are files like any other: they are written and read whole.
const limits = { path: 255, files: 20_000, opened: LARGEST, total: 2 ** 31, levels: 0 };

const states = new Map<string, { version: number; state: Promise<LinkState> }>();

async function compare(slug: string, linked: Linked): Promise<LinkState> {
	const model = await modelOf(slug);
	const mine = new Map(mineOf(model).files.map((file) => [file.path, file.sha256]));
	const agreed = await readAgreed(db(), slug);
	let disk: Awaited<ReturnType<typeof inFolder>>;
	try {
		disk = await inFolder(linked.folder);
	} catch (error) {
		const fault =
			error instanceof SourceFault ? error.message : `The folder ${linked.folder} cannot be read.`;
		return { linked, outside: [], pending: [], fault };
	}
	const outside: LinkState['outside'] = [];
	const pending: Apart[] = [];
	const alike = new Map<string, string | null>();
	for (const path of [...new Set([...mine.keys(), ...disk.keys(), ...agreed.keys()])].sort()) {
		const [here, there, last] = [
			mine.get(path) ?? null,
			disk.get(path)?.sha256 ?? null,
			agreed.get(path) ?? null
		];
		if (here === there) {
			if (last !== here) alike.set(path, here);
			continue;
		}
		const apart = { path, outside: there, mine: here };
		if (there !== last) outside.push({ ...apart, both: here !== last });
		else pending.push(apart);
	}
	if (alike.size > 0) await agreeOn(db(), slug, alike);
	for (const { outside: sha256, path } of outside) {
		const bytes = disk.get(path)?.bytes;
		if (sha256 !== null && bytes) await keepBlob(db(), sha256, bytes);
	}
	return { linked, outside, pending, fault: null };
}

/** How the linked folder stands to my mod; null where none is linked. Looked at anew only after something changed. */
export async function linkState(slug: string): Promise<LinkState | null> {
	const linked = await readLinked(db(), slug);
	if (!linked) return null;
	const { version } = (await modelOf(slug)).project;
	let known = states.get(slug);
	if (known?.version !== version) states.set(slug, (known = { version, state: compare(slug, linked) }));
	const failed = () => states.delete(slug);
	known.state.catch(failed);
	return known.state;
}

/** What a linked folder changed, as the intention that takes it in, and the plan of it; null where it changed nothing. */
export async function outsidePlan(slug: string): Promise<{ intention: Intention; plan: Plan } | null> {
	const state = await linkState(slug);
	if (!state || state.outside.length === 0) return null;
	const intention: Intention = {
		do: 'bring',
		files: state.outside.map(({ path, outside }) => ({ path, sha256: outside }))
	};
	return { intention, plan: (await preview(slug, intention)).plan };
}

const inside = (folder: string, path: string): string => {
	const full = join(folder, path);
	if (!full.startsWith(folder + sep))
		throw new SourceFault(`${path} leaves the linked folder. Nothing was written.`);
	return full;
};

/**
 * Writes what my mod changed into the linked folder; files that were changed there are left alone.
 * Returns how many files were written or taken away.
 */
export async function writeOut(slug: string): Promise<number> {
	states.delete(slug);
	const state = await linkState(slug);
	if (!state) throw new NotThere('My mod is not linked with a folder.');
	if (state.fault) throw new SourceFault(state.fault);
	const wanted = state.pending.flatMap(({ mine }) => (mine === null ? [] : [mine]));
	const blobs = await readBlobs(db(), wanted);
	for (const { path, mine } of state.pending) {
		const full = inside(state.linked.folder, path);
		if (mine === null) await rm(full, { force: true });
		else {
			await mkdir(dirname(full), { recursive: true });
			await writeAtomic(full, blobs.get(mine)!);
		}
	}
	await agreeOn(db(), slug, new Map(state.pending.map(({ path, mine }) => [path, mine])));
	states.delete(slug);
	return state.pending.length;
}

/** Leaves what was changed in the folder: it counts as seen, and my mod's own version is written over it next time. */
export async function leaveOutside(slug: string): Promise<number> {
	states.delete(slug);
	const state = await linkState(slug);
	if (!state) return 0;
	await agreeOn(db(), slug, new Map(state.outside.map(({ path, outside }) => [path, outside])));
	states.delete(slug);
	tellOutside(slug);
	return state.outside.length;
}

const watchers = new Map<string, FSWatcher>();

function startWatching(slug: string, { folder }: Linked): void {
	const watcher = watch(folder, { ignoreInitial: true, followSymlinks: false, ignored: /\.tmp$/ });
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
	await putLinked(db(), slug, linked);
	states.delete(slug);
	await watchers.get(slug)?.close();
	watchers.delete(slug);
	if (!linked) return;
	await mkdir(linked.folder, { recursive: true });
	startWatching(slug, linked);
	if (linked.atOnce) await writeOut(slug);
}

/** Forgets how linked folders were seen: each is looked at anew when that is asked for. */
export const lookAnew = (): void => states.clear();

/** After a step: what is linked at once is written out. */
export async function afterStep(slug: string): Promise<void> {
	const linked = await readLinked(db(), slug);
	if (linked?.atOnce)
		await writeOut(slug).catch((error: Error) => console.error(`${slug}: ${error.message}`));
}

export async function startLinks(): Promise<void> {
	for (const { slug, linked } of await linkedProjects(db())) startWatching(slug, linked);
}

export async function stopLinks(): Promise<void> {
	await Promise.allSettled([...watchers.values()].map((watcher) => watcher.close()));
	watchers.clear();
}
