// Whether a game runs: its files are not to be changed under it.
import { readdir, readFile, readlink, realpath } from 'node:fs/promises';
import { basename, isAbsolute, resolve, sep } from 'node:path';
import { SourceFault } from './fault';

const below = (folder: string, path: string) => path.startsWith(folder + sep);

/**
 * A process that runs a program from a folder, by its number; null where there is none, or where this machine does not
 * tell. A program that only looks into the folder does not count; an interpreter counts that runs a script of it.
 * @param folder the game's folder
 */
async function runningIn(folder: string): Promise<number | null> {
	const real = await realpath(folder).catch(() => null);
	if (real === null) return null;
	for (const entry of await readdir('/proc').catch(() => [])) {
		if (!/^\d+$/.test(entry) || Number(entry) === process.pid) continue;
		const at = `/proc/${entry}`;
		const program = await readlink(`${at}/exe`).catch(() => null);
		if (program === null) continue;
		if (below(real, program.replace(/ \(deleted\)$/, ''))) return Number(entry);
		const words = (await readFile(`${at}/cmdline`, 'utf8').catch(() => '')).split('\0');
		const script = words.slice(1).find((word) => word !== '' && !word.startsWith('-'));
		if (script === undefined || !INTERPRETERS.test(basename(program))) continue;
		const start = isAbsolute(script) ? '/' : await readlink(`${at}/cwd`).catch(() => '/');
		const path = await realpath(resolve(start, script)).catch(() => null);
		if (path !== null && below(real, path)) return Number(entry);
	}
	return null;
}

/** Programs that run a script named as their first word. */
const INTERPRETERS = /^(?:node|python|perl|ruby|lua|java|mono|sh|bash|dash|wine)[\d.]*(?:-preloader)?$/;

/** @throws SourceFault where a game runs from a folder */
export async function mustNotRun(folder: string): Promise<void> {
	const process = await runningIn(folder);
	if (process !== null)
		throw new SourceFault(
			`The game in ${folder} is running (process ${process}). Nothing has changed. Close it and try again.`
		);
}
