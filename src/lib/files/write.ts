import { mkdir, open, rename, rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';

/** Writes a file so that it is either the old one or the new one, also after a crash. */
export async function writeAtomic(path: string, bytes: Uint8Array): Promise<void> {
	const temporary = join(dirname(path), `.${basename(path)}.${process.pid}.tmp`);
	const file = await open(temporary, 'w');
	try {
		await file.writeFile(bytes);
		await file.sync();
	} finally {
		await file.close();
	}
	await rename(temporary, path).catch(async (error) => {
		await rm(temporary, { force: true });
		throw error;
	});
}

/** Writes a tree beside `folder` and puts it in its place: what was there before is gone, or still whole. */
export async function writeTree(folder: string, contents: ReadonlyMap<string, Uint8Array>): Promise<void> {
	const fresh = `${folder}.new-${process.pid}`;
	const old = `${folder}.old-${process.pid}`;
	await rm(fresh, { recursive: true, force: true });
	await mkdir(fresh, { recursive: true });
	for (const [path, bytes] of contents) {
		await mkdir(dirname(join(fresh, path)), { recursive: true });
		await writeAtomic(join(fresh, path), bytes);
	}
	await rename(folder, old).catch((error: NodeJS.ErrnoException) => {
		if (error.code !== 'ENOENT') throw error;
	});
	await rename(fresh, folder);
	await rm(old, { recursive: true, force: true });
}
