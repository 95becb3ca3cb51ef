import { lstat, mkdir, open, readdir, readlink, realpath, rename, rm, stat } from 'node:fs/promises';
import { basename, dirname, join, resolve } from 'node:path';
import { failpoint } from './failpoint';
import { SourceFault } from './fault';

/** How files that are being written are called beside their place: `.NAME.PID-N.kettle-tmp`. */
const COMING = /^\..*\.(\d+)-\d+\.kettle-tmp$/;
let nth = 0;

const runs = (pid: number) => {
	try {
		process.kill(pid, 0);
		return true;
	} catch (fault) {
		return (fault as NodeJS.ErrnoException).code === 'EPERM';
	}
};

/** Takes away what a killed process left half written beside a file. */
async function clearLeftovers(folder: string, name: string): Promise<void> {
	for (const entry of await readdir(folder).catch(() => [])) {
		if (!entry.startsWith(`.${name}.`)) continue;
		const pid = COMING.exec(entry)?.[1];
		if (pid !== undefined && Number(pid) !== process.pid && !runs(Number(pid)))
			await rm(join(folder, entry), { force: true });
	}
}

/** Has a folder's list of names written to disk: without it a rename may be lost in a power cut. */
export async function syncFolder(folder: string): Promise<void> {
	const handle = await open(folder).catch(() => null);
	await handle?.sync().catch(() => undefined);
	await handle?.close();
}

/** Where a file really stands: a link leads to what it names. @throws SourceFault for a device, pipe or socket */
async function targetOf(path: string): Promise<{ path: string; mode: number | null }> {
	const info = await stat(path).catch(() => null);
	if (info && !info.isFile()) throw new SourceFault(`${path} is not a plain file. Nothing was written.`);
	if (info) return { path: await realpath(path), mode: info.mode & 0o7777 };
	const dangling = (await lstat(path).catch(() => null))?.isSymbolicLink();
	return { path: dangling ? resolve(dirname(path), await readlink(path)) : path, mode: null };
}

/** Writes bytes beside their place; the returned function moves them there. */
async function prepare(
	path: string,
	bytes: Uint8Array
): Promise<{ done: () => Promise<void>; drop: () => Promise<void> }> {
	const target = await targetOf(path);
	const [folder, name] = [dirname(target.path), basename(target.path)];
	await clearLeftovers(folder, name);
	const temporary = join(folder, `.${name.slice(0, 200)}.${process.pid}-${++nth}.kettle-tmp`);
	const drop = () => rm(temporary, { force: true });
	try {
		const file = await open(temporary, 'w', target.mode ?? 0o666);
		try {
			await file.writeFile(bytes);
			if (target.mode !== null) await file.chmod(target.mode);
			await file.sync();
		} finally {
			await file.close();
		}
	} catch (error) {
		await drop();
		throw error;
	}
	const done = async () => {
		failpoint('before-rename');
		await rename(temporary, target.path);
		await syncFolder(folder);
	};
	return { done, drop };
}

/**
 * Writes files so that each is either the old one or the new one, also after a crash; nothing is moved to its place
 * before all are written. Modes stay; where a path is a link, what it leads to is written.
 */
export async function writeAllAtomic(files: Iterable<readonly [string, Uint8Array]>): Promise<void> {
	const ready: Awaited<ReturnType<typeof prepare>>[] = [];
	try {
		for (const [path, bytes] of files) ready.push(await prepare(path, bytes));
		for (const { done } of ready) await done();
	} finally {
		for (const { drop } of ready) await drop();
	}
}

/** The same for one file. */
export const writeAtomic = (path: string, bytes: Uint8Array): Promise<void> =>
	writeAllAtomic([[path, bytes]]);

const besides = (folder: string) => ({ fresh: `${folder}.kettle-new`, old: `${folder}.kettle-old` });

const there = (path: string) =>
	lstat(path).then(
		() => true,
		() => false
	);

/** Brings a tree that was being put in its place when the process ended into one state: the old one or the new one. */
export async function settleTree(folder: string): Promise<void> {
	const { fresh, old } = besides(folder);
	await rm(fresh, { recursive: true, force: true });
	if (!(await there(old))) return;
	if (await there(folder)) await rm(old, { recursive: true, force: true });
	else await rename(old, folder);
}

/** Puts a tree that is beside in the place of another. */
async function swap(folder: string, fresh: string): Promise<void> {
	const { old } = besides(folder);
	await rename(folder, old).catch((error: NodeJS.ErrnoException) => {
		if (error.code !== 'ENOENT') throw error;
	});
	failpoint('between-trees');
	await rename(fresh, folder);
	await syncFolder(dirname(folder));
	failpoint('before-old-tree-goes');
	await rm(old, { recursive: true, force: true });
}

/** Writes a tree beside `folder` and puts it in its place: what was there before is gone, or still whole. */
export async function writeTree(folder: string, contents: ReadonlyMap<string, Uint8Array>): Promise<void> {
	await settleTree(folder);
	const { fresh } = besides(folder);
	await mkdir(fresh, { recursive: true });
	for (const [path, bytes] of contents) {
		await mkdir(dirname(join(fresh, path)), { recursive: true });
		await writeAtomic(join(fresh, path), bytes);
	}
	await swap(folder, fresh);
}
