// The command as a test calls it: in this process, where what it does counts; as a program, where that it is one does.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { run } from '../../cli/run';

export const root = fileURLToPath(new URL('../..', import.meta.url));

/** What a call left behind: its exit status, and what it wrote. */
export interface Done {
	status: number | null;
	out: string;
	said: string;
}

type Write = typeof process.stdout.write;

/** Carries one call out in this process. Calls follow each other: each has the streams to itself. */
export async function kettle(...args: string[]): Promise<Done> {
	const done: Done = { status: null, out: '', said: '' };
	const [out, said] = [process.stdout.write, process.stderr.write];
	process.stdout.write = ((text: string) => {
		done.out += text;
		return true;
	}) as Write;
	process.stderr.write = ((text: string) => {
		done.said += text;
		return true;
	}) as Write;
	try {
		done.status = await run(args);
	} finally {
		process.stdout.write = out;
		process.stderr.write = said;
	}
	return done;
}

/** Runs the command as a program of its own. */
export function program(...args: string[]): Done {
	const done = spawnSync(join(root, 'kettle'), args, { encoding: 'utf8' });
	return { status: done.status, out: done.stdout, said: done.stderr };
}

/** Starts the stand-in game on a folder. */
export const standIn = (game: string) =>
	spawnSync(process.execPath, [join(root, 'standin/gannet.mjs'), game], { encoding: 'utf8' });
