import { homedir } from 'node:os';
import { basename, dirname, join, resolve, sep } from 'node:path';
import { realpath } from 'node:fs/promises';
import { SourceFault } from '../files';

/** Where the code stands (the worker, the demo, the stand-in). */
export const codeFolder = () => resolve(process.env.KETTLE_CODE ?? '.');

/** Folder of state. */
export const homeFolder = () => resolve(process.env.KETTLE_HOME ?? join(codeFolder(), '.kettle'));

/** Folders that may be read from the interface. */
export const roots = () =>
	(process.env.KETTLE_ROOTS ?? [join(codeFolder(), 'demo'), homedir()].join(':'))
		.split(':')
		.filter((root) => root !== '');

/**
 * A folder that may be written from the interface, whether it is there already or not.
 * @throws SourceFault when it is outside the allowed folders
 */
export async function allowedFolder(path: string): Promise<string> {
	const full = resolve(path);
	if (await realpath(full).catch(() => null)) return allowedPath(full);
	const parent = await allowedPath(dirname(full));
	return join(parent, basename(full));
}

/**
 * The real path of something that may be read from the interface.
 * @throws SourceFault when it is outside the allowed folders, also by a link
 */
export async function allowedPath(path: string): Promise<string> {
	if (path.length > 4096)
		throw new SourceFault(`The path has ${path.length} characters; the limit on this machine is 4096.`);
	const real = await realpath(path).catch((error: NodeJS.ErrnoException) => {
		if (error.code === 'ENAMETOOLONG')
			throw new SourceFault('A name in this path is longer than this machine allows (255 characters).');
		return null;
	});
	const place = real ?? resolve(path);
	const allowed = await Promise.all(roots().map((root) => realpath(root).catch(() => root)));
	if (!allowed.some((root) => place === root || place.startsWith(root + sep)))
		throw new SourceFault(
			`${path} is outside the folders that may be read: ${roots().join(', ')}. Copy the game there, or start with KETTLE_ROOTS set.`
		);
	if (real === null) throw new SourceFault(`There is no folder or file ${path}.`);
	return real;
}

/** Folders with what is installed, and with the backups of it: one for each project, and for each call of the command. */
export const shelves = () => join(homeFolder(), 'backups');
export const shelfOf = (slug: string) => join(shelves(), slug);
