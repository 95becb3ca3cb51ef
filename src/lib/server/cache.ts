// Bytes of files by their digest, and what files say by its key, kept beside the database: what is opened is read from
// here when it is needed, so that a big game does not stand in memory. A cache: bytes that are missing are fetched from
// the database again, facts are read again from the bytes.
import { existsSync, mkdirSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { homeFolder } from './settings';

const folders = new Set<string>();

function placeOf(sha256: string): string {
	const folder = join(homeFolder(), 'cache', sha256.slice(0, 2));
	if (!folders.has(folder)) mkdirSync(folder, { recursive: true });
	folders.add(folder);
	return join(folder, sha256);
}

let nth = 0;

/** Keeps bytes under their digest, or facts under their key. */
export function cacheBlob(sha256: string, bytes: Uint8Array): void {
	const place = placeOf(sha256);
	const coming = `${place}.${process.pid}.${++nth}`;
	try {
		writeFileSync(coming, bytes);
	} catch (fault) {
		// Somebody emptied the cache while it is in use; that is allowed.
		if ((fault as NodeJS.ErrnoException).code !== 'ENOENT') throw fault;
		folders.clear();
		placeOf(sha256);
		writeFileSync(coming, bytes);
	}
	renameSync(coming, place);
}

/** Whether something is there. */
export const isCached = (sha256: string): boolean => existsSync(placeOf(sha256));

/** What is kept under a digest or key. @throws when somebody took it out of the cache since it was asked for */
export const cachedBlob = (sha256: string): Uint8Array => readFileSync(placeOf(sha256));

/** Whether nothing is kept under a key: a file of which nothing is said. */
export const isEmpty = (key: string): boolean => statSync(placeOf(key)).size === 0;
