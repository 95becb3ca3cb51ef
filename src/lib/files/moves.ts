// Several files of a folder that change together. What is to stand there is written beside it first, and written down;
// from then on nothing but renames is left to do, so that a kill or a full disk cannot leave half of it: whoever comes
// next finishes it.
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import {
	access,
	constants,
	cp,
	link,
	lstat,
	mkdir,
	open,
	readdir,
	readFile,
	rename,
	rm,
	rmdir,
	unlink
} from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { failpoint } from './failpoint';
import { inWords, SourceFault } from './fault';
import { pathInside } from './inside';
import { readOrder, type Listed } from './order';
import { syncFolder, writeAtomic } from './write';

/** A file that is to become another. Digests are SHA-256 in hex; null stands for no file. */
export interface Move {
	/** Below the folder. */
	path: string;
	/** What is expected there, and what is to be there. */
	from: string | null;
	to: string | null;
	/** Its place among what is written beside; null where nothing is to be there. */
	staged: string | null;
	/** A list in which a name is to be or not: changed by others meanwhile, it is changed anew. */
	list?: { listed: Listed | undefined; name: string; on: boolean };
}

/** What is under way, as it is written down. `next` is what is noted once it is done; null takes the note away. */
interface UnderWay {
	phase: 'writing' | 'moving';
	folder: string;
	staging: string;
	moves: Move[];
	/** Folders that are made for it, the outermost first, and those that go when they are empty. */
	made: string[];
	unmade: string[];
	/** Where what other programs wrote meanwhile is kept. */
	aside: string;
	/** Folder that goes with it when it never came to moving. */
	spare: string | null;
	gone: boolean;
}

export type Step = Pick<UnderWay, 'folder' | 'moves' | 'made' | 'unmade' | 'aside' | 'spare'>;

const UNDER_WAY = 'under-way.json';
const NEXT = 'next.json';
/** The folder beside the game's files in which what is to come is written. */
const STAGING = '.kettle-coming';

const codeOf = (fault: unknown) => (fault as NodeJS.ErrnoException).code;
const gone = (fault: unknown) => codeOf(fault) === 'ENOENT' || codeOf(fault) === 'ENOTDIR';

/** The digest of a plain file; null where there is none. @throws SourceFault where something else stands there */
export async function digestAt(path: string): Promise<string | null> {
	const info = await lstat(path).catch((fault: unknown) => {
		if (gone(fault)) return null;
		throw fault;
	});
	if (info === null) return null;
	if (!info.isFile())
		throw new SourceFault(
			`${path} is ${info.isSymbolicLink() ? 'a link' : info.isDirectory() ? 'a folder' : 'not a plain file'} where a file should be. Put it somewhere else and try again.`
		);
	const hash = createHash('sha256');
	for await (const piece of createReadStream(path)) hash.update(piece as Buffer);
	return hash.digest('hex');
}

/** Writes bytes to a new file and has them reach the disk. */
export async function writeThrough(path: string, bytes: Uint8Array, mode: number | null): Promise<void> {
	const file = await open(path, 'wx');
	try {
		await file.writeFile(bytes);
		if (mode !== null) await file.chmod(mode);
		await file.sync();
	} finally {
		await file.close();
	}
}

async function readUnderWay(shelf: string): Promise<UnderWay | null> {
	const text = await readFile(join(shelf, UNDER_WAY), 'utf8').catch((fault: unknown) => {
		if (gone(fault)) return null;
		throw fault;
	});
	if (text === null) return null;
	try {
		return JSON.parse(text) as UnderWay;
	} catch {
		throw new SourceFault(
			`${join(shelf, UNDER_WAY)} says what was under way in the game’s folder and cannot be read. Nothing has changed. The backups are beside it.`
		);
	}
}

const writeDown = (shelf: string, file: string, what: unknown): Promise<void> =>
	writeAtomic(join(shelf, file), Buffer.from(`${JSON.stringify(what, null, '\t')}\n`));

/** Keeps what another program wrote at a path, beside the backup. */
async function keepAside(aside: string, path: string, full: string): Promise<void> {
	for (let nth = 0; ; nth++) {
		const to = join(aside, nth === 0 ? path : `${path}.${nth}`);
		if ((await lstat(to).catch(() => null)) !== null) continue;
		await mkdir(dirname(to), { recursive: true });
		await cp(full, to, { recursive: true, preserveTimestamps: true });
		return;
	}
}

/** Brings a list to hold a name, or not, whatever it is by now. */
async function relist(
	full: string,
	path: string,
	{ listed, name, on }: NonNullable<Move['list']>
): Promise<void> {
	const bytes = await readFile(full).catch(() => null);
	const order = readOrder(path, bytes, listed);
	await writeAtomic(full, on ? order.with(name) : order.without(name));
}

/** Where what stood at the place of a move is kept until all of it is done. */
const wasAt = (under: UnderWay, nth: number) => join(under.staging, `was-${nth}`);

/** Keeps what stands at a place without taking it away, or where the disk knows no second names, by taking it away. */
async function keepUntilDone(full: string, was: string): Promise<void> {
	await link(full, was).catch(async (fault: unknown) => {
		if (codeOf(fault) === 'EEXIST') return;
		if (codeOf(fault) === 'EXDEV') await cp(full, was, { preserveTimestamps: true });
		else await rename(full, was);
	});
}

/** Puts a file in its place; on a disk of its own below the game's folder it is written there in one go. */
async function put(staged: string, full: string): Promise<void> {
	await rename(staged, full).catch(async (fault: unknown) => {
		if (codeOf(fault) !== 'EXDEV') throw fault;
		await writeAtomic(full, await readFile(staged));
	});
}

const unlinked = (full: string): Promise<void> =>
	unlink(full).catch((fault: unknown) => {
		if (!gone(fault)) throw fault;
	});

/** Does one move, unless it is done. @returns whether something of another program was put aside */
async function move(under: UnderWay, nth: number): Promise<boolean> {
	const one = under.moves[nth]!;
	const full = await pathInside(under.folder, one.path);
	const info = await lstat(full).catch(() => null);
	const odd = info !== null && !info.isFile();
	const now = odd ? 'something else' : await digestAt(full);
	if (now === one.to) return false;
	const foreign = now !== one.from && now !== null;
	if (foreign && one.list) {
		await relist(full, one.path, one.list);
		return false;
	}
	if (foreign) await keepAside(under.aside, one.path, full);
	if (odd) await rm(full, { recursive: true });
	else if (info) await keepUntilDone(full, wasAt(under, nth));
	if (one.staged === null) await unlinked(full);
	else {
		await mkdir(dirname(full), { recursive: true });
		await put(join(under.staging, one.staged), full);
	}
	failpoint('moved');
	await syncFolder(dirname(full));
	return foreign;
}

/** Takes back what was moved of a step that cannot be finished. */
async function goBack(under: UnderWay): Promise<void> {
	for (const [nth, one] of [...under.moves.entries()].reverse()) {
		const full = await pathInside(under.folder, one.path);
		const now = await digestAt(full);
		const was = wasAt(under, nth);
		const kept = (await lstat(was).catch(() => null)) !== null;
		// Another program changed the list meanwhile: only the name goes back.
		if (one.list && now !== one.to && now !== one.from) {
			await relist(full, one.path, { ...one.list, on: !one.list.on });
			continue;
		}
		// Not there, and kept: it was cut off between taking the old one away and putting the new one there.
		if (now !== one.to && !(now === null && kept)) continue;
		if (kept) {
			await mkdir(dirname(full), { recursive: true });
			await put(was, full);
		} else if (one.from === null) await unlinked(full);
	}
}

/** Takes folders away that are empty, the innermost first. */
async function takeEmpty(folder: string, paths: readonly string[]): Promise<void> {
	for (const path of [...paths].reverse())
		await rmdir(join(folder, path)).catch((fault: unknown) => {
			if (!['ENOENT', 'ENOTEMPTY', 'EEXIST', 'ENOTDIR'].includes(codeOf(fault) ?? '')) throw fault;
		});
}

/** Finishes what is written down as moving. */
async function finish(shelf: string, under: UnderWay, note: string): Promise<number> {
	let foreign = 0;
	try {
		for (let nth = 0; nth < under.moves.length; nth++) if (await move(under, nth)) foreign++;
	} catch (fault) {
		await goBack(under);
		await drop(shelf, under);
		throw new SourceFault(
			`${inWords(fault, under.folder)} The game’s folder is as it was before; try again once that is fixed.`
		);
	}
	failpoint('all-moved');
	await takeEmpty(under.folder, under.unmade);
	await rm(under.staging, { recursive: true, force: true });
	failpoint('before-note');
	if (under.gone) await rm(join(shelf, note), { force: true });
	else
		await rename(join(shelf, NEXT), join(shelf, note)).catch((fault: unknown) => {
			if (!gone(fault)) throw fault;
		});
	await syncFolder(shelf);
	failpoint('after-note');
	await rm(join(shelf, UNDER_WAY), { force: true });
	return foreign;
}

/** Takes away what was written beside and never came to moving. */
async function drop(shelf: string, under: UnderWay): Promise<void> {
	await rm(under.staging, { recursive: true, force: true });
	await takeEmpty(under.folder, under.made);
	if (under.spare !== null) await rm(under.spare, { recursive: true, force: true });
	await rm(join(shelf, NEXT), { force: true });
	await rm(join(shelf, UNDER_WAY), { force: true });
}

/** Where what is to come is written: in the folder, or where that is not to be written, above the first file that is to change. */
async function stagingIn({ folder, moves }: Step): Promise<string> {
	const below = (moves[0]?.path ?? '').split('/').slice(0, -1);
	for (let count = 0; count <= below.length; count++) {
		const at = join(folder, ...below.slice(0, count));
		const open = await access(at, constants.W_OK).then(
			() => true,
			() => false
		);
		if (open) return at;
	}
	return folder;
}

/**
 * Has several files of a folder become others, together.
 * @param shelf folder in which what is under way is written down
 * @param note name of the file beside it that says what is, once it is done
 * @param next what that is to say; null takes it away
 * @param write writes what is to come to the folder given, and what is there to the backup
 * @returns how many files of other programs were put aside
 * @throws what `write` throws, and faults of the disk; then nothing has changed, or it is finished at the next start
 */
export async function moveTogether(
	shelf: string,
	note: string,
	step: Step,
	next: unknown,
	write: (staging: string) => Promise<void>
): Promise<number> {
	await mkdir(shelf, { recursive: true });
	const staging = join(await stagingIn(step), STAGING);
	if ((await lstat(staging).catch(() => null)) !== null)
		throw new SourceFault(
			`${staging} is there: another Kettle Dial is working in this folder, or was interrupted. Nothing has changed. If no other is running, delete it, but keep what is called “was-…” in it: it was in the game’s folder before.`
		);
	const under: UnderWay = { phase: 'writing', ...step, staging, gone: next === null };
	await writeDown(shelf, UNDER_WAY, under);
	try {
		failpoint('before-backup');
		await mkdir(staging);
		await write(staging);
		failpoint('after-backup');
		for (const path of step.made) await mkdir(join(step.folder, path), { recursive: true });
		await syncFolder(staging);
		if (next !== null) await writeDown(shelf, NEXT, next);
		await writeDown(shelf, UNDER_WAY, { ...under, phase: 'moving' });
	} catch (fault) {
		await drop(shelf, under);
		throw fault;
	}
	failpoint('written-down');
	return finish(shelf, { ...under, phase: 'moving' }, note);
}

/** What `settle` had to do with. */
export type Settled = 'nothing' | 'dropped' | 'finished';

/** Finishes what was cut off while moving, and takes away what was cut off before. */
export async function settle(shelf: string, note: string): Promise<{ what: Settled; folder: string | null }> {
	const under = await readUnderWay(shelf);
	if (under === null) return { what: 'nothing', folder: null };
	const there = await lstat(under.folder).catch(() => null);
	// A game that is gone took it with it.
	if (there === null) await rm(join(shelf, UNDER_WAY), { force: true });
	else if (under.phase === 'writing') await drop(shelf, under);
	else await finish(shelf, under, note);
	return { what: under.phase === 'writing' ? 'dropped' : 'finished', folder: under.folder };
}

/** Whether something is under way by what is written down. */
export const isUnderWay = async (shelf: string): Promise<boolean> =>
	(await lstat(join(shelf, UNDER_WAY)).catch(() => null)) !== null;

/** All plain files below a folder, by their paths from it; links and the like are told as they are. */
export async function filesBelow(folder: string): Promise<string[]> {
	const found: string[] = [];
	const walk = async (at: string): Promise<void> => {
		const entries = await readdir(join(folder, at), { withFileTypes: true }).catch((fault: unknown) => {
			if (gone(fault)) return [];
			throw fault;
		});
		for (const entry of entries) {
			const path = at === '' ? entry.name : `${at}/${entry.name}`;
			if (entry.isDirectory()) await walk(path);
			else found.push(path);
		}
	};
	await walk('');
	return found.sort();
}
