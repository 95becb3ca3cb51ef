// Starts PostgreSQL and the application, prints one address, and on Ctrl-C ends both.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { freePort, startPostgres } from './postgres.mjs';

const root = fileURLToPath(new URL('..', import.meta.url));
const home = process.env.KETTLE_HOME ?? join(root, '.kettle');
const DEFAULT_PORT = 4870;

/** @param {number} pid */
const alive = (pid) => {
	try {
		process.kill(pid, 0);
		return true;
	} catch {
		return false;
	}
};

/**
 * The application on a database, as a child process.
 * @param {{ url: string, home: string, port: number, demo: boolean, roots?: string }} settings
 */
export function startApp({ url, home, port, demo, roots }) {
	// After a big game is loaded, what the loading left behind is given back at once.
	return spawn(
		process.execPath,
		['--expose-gc', '--max-semi-space-size=32', join(root, 'build/app/index.js')],
		{
			cwd: root,
			stdio: ['ignore', 'inherit', 'inherit'],
			detached: true,
			env: {
				...process.env,
				DATABASE_URL: url,
				KETTLE_HOME: home,
				KETTLE_CODE: root,
				KETTLE_ROOTS: roots ?? process.env.KETTLE_ROOTS ?? [join(root, 'demo'), homedir()].join(':'),
				KETTLE_DEMO: demo ? '1' : '',
				HOST: '127.0.0.1',
				PORT: String(port),
				ORIGIN: `http://127.0.0.1:${port}`,
				BODY_SIZE_LIMIT: 'Infinity',
				SHUTDOWN_TIMEOUT: '1',
				// Large pieces of memory go back to the system as soon as they are free.
				MALLOC_ARENA_MAX: '2',
				MALLOC_MMAP_THRESHOLD_: '262144'
			}
		}
	);
}

/** Waits until the application answers. @param {number} port @param {import('node:child_process').ChildProcess} child */
export async function untilReady(port, child) {
	for (let tries = 0; tries < 600; tries++) {
		if (child.exitCode !== null)
			throw new Error('The application stopped while it was starting; the lines above say why.');
		const answer = await fetch(`http://127.0.0.1:${port}/ready`).catch(() => null);
		if (answer?.ok) return;
		await new Promise((done) => setTimeout(done, 100));
	}
	throw new Error('The application did not answer within a minute.');
}

async function main() {
	const demo = process.argv.includes('--demo');
	mkdirSync(home, { recursive: true });
	const lock = join(home, 'serving.json');
	if (existsSync(lock)) {
		const other = JSON.parse(readFileSync(lock, 'utf8'));
		if (alive(other.pid)) {
			console.error(`Kettle Dial already runs on this folder: ${other.address}`);
			process.exit(2);
		}
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
		app.once('exit', () => void stop(1));
		await untilReady(port, app);
		console.log(`Kettle Dial is ready: ${address}`);
	} catch (error) {
		console.error(error instanceof Error ? error.message : error);
		await stop(1);
	}
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await main();
