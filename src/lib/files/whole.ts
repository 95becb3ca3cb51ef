// Files that another program may be in the middle of writing.
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import type { Source, SourceEntry, SourceFile } from './source';

/** Milliseconds for which nobody must have written to a file for it to be taken as whole, and how often that is waited for. */
const [QUIET, MOST] = [200, 25];

/** Whether a file was written to just now; a time that is still to come says nothing. */
async function isFresh(path: string, now: () => number): Promise<boolean> {
	const about = await stat(path).catch(() => null);
	const age = about ? now() - about.mtimeMs : QUIET;
	return age >= 0 && age < QUIET;
}

/**
 * Reads a file of a folder once nobody writes to it any more: until then half of it may be there, or nothing. After five
 * seconds it is taken as it is.
 * @param folder the folder that the source is of
 * @param now milliseconds since 1970, as the clock of the folder's machine has them
 */
export async function readWhole(
	source: Source,
	folder: string,
	entry: SourceEntry,
	now: () => number = Date.now
): Promise<SourceFile> {
	for (let waits = 0; ; waits++) {
		const file = await source.read(entry);
		if (waits === MOST || !(await isFresh(join(folder, entry.path), now))) return file;
		await wait(QUIET);
	}
}
