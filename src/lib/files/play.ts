// A game that is started: what is run, how its end is known, and what it wrote into its log.
import { spawn } from 'node:child_process';
import { closeSync, fstatSync, readSync } from 'node:fs';
import { realpath } from 'node:fs/promises';
import { createInterface } from 'node:readline';
import { isAbsolute, join } from 'node:path';
import { decode } from '$core/text';
import { SourceFault } from './fault';
import { openInside } from './inside';

/** Milliseconds that a game has where nothing else is said, and between two looks at its log. */
const LONGEST = 60_000;
const EVERY = 200;

export interface Launcher {
	/** Folder in which the game stands. */
	folder: string;
	program: string;
	/** `{mod}` in one stands for the folder-safe name of my mod. */
	arguments: string[];
	/** Variables of its environment, besides those of the server. */
	environment?: Record<string, string>;
	/** How its end is known where it does not end by itself: a line of the log, or seconds that have gone by. */
	ends?: { line: string | null; seconds: number | null };
}

/** Characters of a log that are read, from its start. */
const LONGEST_LOG = 2 * 2 ** 20;

/** What tells one state of a log from another; null where there is none. */
function lookAt(folder: string, log: string | null): string | null {
	if (log === null) return null;
	let file: number;
	try {
		file = openInside(folder, log);
	} catch {
		return null;
	}
	const { ino, size, mtimeMs } = fstatSync(file);
	closeSync(file);
	return `${ino} ${size} ${mtimeMs}`;
}

/** The text of a log. @throws SourceFault where there is none */
export function readLogFile(folder: string, log: string): string {
	const file = openInside(folder, log);
	try {
		const bytes = Buffer.alloc(Math.min(fstatSync(file).size, LONGEST_LOG));
		const count = readSync(file, bytes, 0, bytes.length, 0);
		return decode(bytes.subarray(0, count)).text.replaceAll('\0', '\ufffd');
	} finally {
		closeSync(file);
	}
}

/** What a start of the game left. */
export interface Started {
	/** As the program ended; 0 where its log said that it was done, null where it was stopped. */
	status: number | null;
	milliseconds: number;
	log: string;
}

/** A program as it is started: one that is named by a path is looked for in the game's folder. */
const programOf = ({ program, folder }: Launcher): string =>
	program.includes('/') && !isAbsolute(program) ? join(folder, program) : program;

/**
 * Starts the game, waits for its end and reads its log.
 * @param log where that is written, below the game's folder; null where there is none
 * @throws SourceFault where it cannot be started
 */
export async function startGame(
	launcher: Launcher,
	log: string | null,
	signal?: AbortSignal
): Promise<Started> {
	const folder = await realpath(launcher.folder);
	const { ends } = launcher;
	const before = lookAt(folder, log);
	// A log that is as it was before is of another start.
	const logNow = () => {
		const after = lookAt(folder, log);
		return log !== null && after !== null && after !== before ? readLogFile(folder, log) : '';
	};
	const started = performance.now();
	const status = await new Promise<number | null>((done, failed) => {
		const child = spawn(programOf(launcher), launcher.arguments, {
			cwd: folder,
			stdio: 'ignore',
			env: { ...process.env, ...launcher.environment },
			timeout: ends?.seconds ? ends.seconds * 1000 : LONGEST,
			killSignal: 'SIGKILL',
			...(signal ? { signal } : {})
		});
		let said = false;
		const look = setInterval(() => {
			if (!ends?.line || said || !logNow().includes(ends.line)) return;
			said = true;
			child.kill('SIGKILL');
		}, EVERY);
		child.once('error', (error: NodeJS.ErrnoException) => {
			clearInterval(look);
			if (error.name === 'AbortError') done(null);
			else if (error.code)
				failed(new SourceFault(`The game could not be started: ${launcher.program} (${error.code}).`));
			else failed(error);
		});
		child.once('exit', (code) => {
			clearInterval(look);
			done(said ? 0 : code);
		});
	});
	return { status, milliseconds: Math.round(performance.now() - started), log: logNow() };
}

/** Milliseconds that playing may take, and characters that are kept of what a program complains of. */
const LONGEST_PLAY = 10 * 60_000;
const COMPLAINT = 2_000;

/**
 * Runs a program that plays, and gives each line that it prints as it comes.
 * @returns its exit status, null where it was stopped, and what it complained of
 * @throws SourceFault where it cannot be started, and what an aborted signal throws
 */
export async function playGame(
	launcher: Launcher,
	onLine: (line: string) => void,
	signal: AbortSignal
): Promise<{ status: number | null; complaint: string }> {
	signal.throwIfAborted();
	const child = spawn(programOf(launcher), launcher.arguments, {
		cwd: await realpath(launcher.folder),
		stdio: ['ignore', 'pipe', 'pipe'],
		env: { ...process.env, ...launcher.environment },
		timeout: LONGEST_PLAY,
		killSignal: 'SIGKILL',
		signal
	});
	let complaint = '';
	child.stderr.setEncoding('utf8').on('data', (text: string) => {
		complaint = (complaint + text).slice(0, COMPLAINT);
	});
	const lines = createInterface({ input: child.stdout, crlfDelay: Infinity });
	lines.on('line', onLine);
	const read = new Promise<void>((done) => lines.once('close', done));
	const status = await new Promise<number | null>((done, failed) => {
		child.once('error', (error: NodeJS.ErrnoException) =>
			failed(
				error.name !== 'AbortError' && error.code
					? new SourceFault(`The program could not be started: ${launcher.program} (${error.code}).`)
					: error
			)
		);
		child.once('close', done);
	});
	await read;
	return { status, complaint: complaint.trim() };
}
