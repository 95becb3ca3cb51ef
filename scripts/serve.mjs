// Starts PostgreSQL and the application, prints one address, and on Ctrl-C ends both.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { freePort, startPostgres } from './postgres.mjs';

const root = fileURLToPath(new URL('..', import.meta.url));
const home = process.env.KETTLE_HOME ?? join(root, '.kettle');
const DEFAULT_PORT = 4870;

/**
 * Whether a process is still the one that was written down: its number may belong to another by now.
 * @param {number | undefined} pid @param {string} words what is in its command line
 */
const runs = (pid, words) => {
	if (pid === undefined) return false;
	try {
		return readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ').includes(words);
	} catch {
		return false;
	}
};

/** Ends what a start command that was killed left running. @param {number} pid @param {string} words */
async function takeOver(pid, words) {
	for (const signal of /** @type {const} */ (['SIGTERM', 'SIGKILL'])) {
		if (!runs(pid, words)) return;
		process.kill(pid, signal);
		for (let tries = 0; tries < 50 && runs(pid, words); tries++)
			await new Promise((done) => setTimeout(done, 100));
	}
}

/**
 * The application on a database, as a child process.
 * @param {{ url: string, home: string, port: number, demo: boolean, roots?: string }} settings
 */
export function startApp({ url, home, port, demo, roots }) {
	// After a big game is loaded, what the loading left behind is given back at once.
	return spawn(process.execPath, ['--expose-gc', '--max-semi-space-size=32', join(root, 'scripts/app.mjs')], {
		cwd: root,
		// Its standard input ends with this process, and it ends with its standard input.
		stdio: ['pipe', 'inherit', 'inherit'],
		detached: true,
		env: {
			...process.env,
			KETTLE_TIED: '1',
			DATABASE_URL: url,
			KETTLE_HOME: home,
			KETTLE_CODE: root,
			KETTLE_ROOTS: roots ?? process.env.KETTLE_ROOTS ?? [join(root, 'demo'), homedir()].join(':'),
			KETTLE_DEMO: demo ? '1' : '',
			HOST: '127.0.0.1',
			PORT: String(port),
			ORIGIN: `http://127.0.0.1:${port}`,
			BODY_SIZE_LIMIT: 'Infinity',
			// Large pieces of memory go back to the system as soon as they are free.
			MALLOC_ARENA_MAX: '2',
			MALLOC_MMAP_THRESHOLD_: '262144'
		}
	});
}

/** Waits until the application answers. @param {number} port @param {import('node:child_process').ChildProcess} child */
export async function untilReady(port, child) {
	for (const late = Date.now() + 60_000; Date.now() < late;) {
		if (child.exitCode !== null || child.signalCode !== null)
			throw new Error('The application stopped while it was starting; the lines above say why.');
		const answer = await fetch(`http://127.0.0.1:${port}/ready`).catch(() => null);
		if (answer?.ok) return;
		await new Promise((done) => setTimeout(done, 40));
	}
	throw new Error('The application did not answer within a minute.');
}

/**
 * Who serves this folder, as the last start wrote it down; null where nobody did, or the file was cut.
 * @param {string} file @returns {{ pid: number, address: string, app?: number } | null}
 */
function readServing(file) {
	try {
		return JSON.parse(readFileSync(file, 'utf8'));
	} catch {
		return null;
	}
}

/** The newest project file that was kept of each project. @returns {string[]} */
function keptProjects() {
	const folder = join(home, 'projects');
	if (!existsSync(folder)) return [];
	return readdirSync(folder).flatMap((slug) => {
		const newest = readdirSync(join(folder, slug))
			.filter((name) => name.endsWith('.kettle.zip'))
			.sort()
			.at(-1);
		return newest === undefined ? [] : [join(folder, slug, newest)];
	});
}

async function main() {
	const demo = process.argv.includes('--demo');
	mkdirSync(home, { recursive: true });
	const lock = join(home, 'serving.json');
	const other = readServing(lock);
	if (other) {
		if (runs(other.pid, 'scripts/serve.mjs')) {
			console.error(`Kettle Dial already runs on this folder: ${other.address}`);
			process.exit(2);
		}
		if (other.app !== undefined) await takeOver(other.app, 'scripts/app.mjs');
	}
	const built = spawnSync(process.execPath, [join(root, 'scripts/build.mjs'), '--app'], { stdio: 'inherit' });
	if (built.status !== 0) process.exit(1);

	/** @type {{ url: string, stop: () => Promise<void> } | null} */
	let database = null;
	/** @type {import('node:child_process').ChildProcess | null} */
	let app = null;
	let stopping = false;
	const stop = async (/** @type {number} */ status) => {
		if (stopping) return;
		stopping = true;
		if (app && app.exitCode === null) {
			const ended = new Promise((done) => app?.once('exit', done));
			app.kill('SIGTERM');
			const late = setTimeout(() => app?.kill('SIGKILL'), 5000);
			await ended;
			clearTimeout(late);
		}
		await database?.stop();
		rmSync(lock, { force: true });
		process.exit(status);
	};
	for (const signal of /** @type {const} */ (['SIGINT', 'SIGTERM', 'SIGHUP']))
		process.on(signal, () => void stop(0));
	try {
		database = await startPostgres(home);
		const port = await freePort(process.env.PORT ? Number(process.env.PORT) : DEFAULT_PORT);
		const address = `http://127.0.0.1:${port}/`;
		writeFileSync(lock, JSON.stringify({ pid: process.pid, address }));
		app = startApp({ url: database.url, home, port, demo });
		writeFileSync(lock, JSON.stringify({ pid: process.pid, address, app: app.pid }));
		app.once('exit', () => void stop(1));
		await untilReady(port, app);
		console.log(`Kettle Dial is ready: ${address}`);
	} catch (error) {
		console.error(error instanceof Error ? error.message : error);
		const kept = keptProjects();
		if (kept.length > 0)
			console.error(
				`These project files were kept and are whole: ${kept.join(', ')}. Started on an empty folder (KETTLE_HOME), Kettle Dial can import them on its first page.`
			);
		await stop(1);
	}
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await main();
