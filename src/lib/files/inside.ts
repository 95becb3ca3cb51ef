// Paths that must stay within a folder, whatever links are there.
import { closeSync, constants, fstatSync, openSync, readlinkSync, realpathSync } from 'node:fs';
import { lstat, realpath } from 'node:fs/promises';
import { dirname, join, resolve, sep } from 'node:path';
import { SourceFault } from './fault';

const isBelow = (root: string, path: string) => path === root || path.startsWith(root + sep);

/** The deepest part of a path that is there, by its real name. */
async function realPart(path: string): Promise<string> {
	for (let at = path; ; at = dirname(at)) {
		const real = await realpath(at).catch(() => null);
		if (real !== null) return real;
		// A link that leads nowhere: what is written there would come into being somewhere else.
		if (await lstat(at).catch(() => null)) return '';
		if (dirname(at) === at) return at;
	}
}

/**
 * The full path of something within a folder, to be written or read now.
 * @param root real path of the folder
 * @throws SourceFault where the path is outside the folder, by its words or by a link
 */
export async function pathInside(root: string, path: string): Promise<string> {
	const full = resolve(root, path);
	if (full === root || !isBelow(root, full))
		throw new SourceFault(`${path} is outside the folder ${root}. Nothing was written.`);
	if (!isBelow(root, await realPart(full)))
		throw new SourceFault(
			`${path} leads out of the folder ${root} by a link. Nothing was written. Put a folder in place of the link.`
		);
	return full;
}

/**
 * Opens a file of a folder for reading, following no link at its end, and makes sure that it is a plain file there.
 * Opening waits for nobody, so it is done at once.
 * @param root real path of the folder
 * @returns the number of the open file, to be closed
 * @throws SourceFault where it is something else, or was swapped meanwhile
 */
export function openInside(root: string, path: string): number {
	let file: number;
	try {
		// Without waiting: a pipe that is there would be waited for.
		file = openSync(
			join(root, path),
			constants.O_RDONLY | constants.O_NOFOLLOW | constants.O_NONBLOCK | constants.O_NOCTTY
		);
	} catch (fault) {
		const { code } = fault as NodeJS.ErrnoException;
		throw new SourceFault(
			code === 'ELOOP'
				? `${path} is a link. It was not opened.`
				: `${path} cannot be opened (${code}). Check that it is there and may be read.`
		);
	}
	try {
		if (!fstatSync(file).isFile()) throw new SourceFault(`${path} is not a plain file. It was not opened.`);
		let real: string;
		try {
			real = readlinkSync(`/proc/self/fd/${file}`);
		} catch {
			real = realpathSync(join(root, path));
		}
		if (!isBelow(root, real))
			throw new SourceFault(`${path} leads out of the folder ${root} by a link. It was not opened.`);
		return file;
	} catch (fault) {
		closeSync(file);
		throw fault;
	}
}
