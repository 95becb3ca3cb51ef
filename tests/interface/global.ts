// One PostgreSQL for all interface tests, the application built, and the demo brought in once: each test file starts
// servers of its own on copies of that.
import { spawnSync } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { provide } from '../../scripts/debian.mjs';
import { findChromium } from '../../scripts/chromium.mjs';
import { freePort, startPostgres } from '../../scripts/postgres.mjs';
import { startApp, untilReady } from '../../scripts/serve.mjs';
import { query } from './query';

interface Ground {
	database: string;
	seed: { name: string; home: string };
	chromium: { path: string; env: Record<string, string> };
}

export default async function setup({ provide: give }: TestProject) {
	const [ground, takeDown] = await make();
	give('database', ground.database);
	give('seed', ground.seed);
	give('chromium', ground.chromium);
	return takeDown;
}

async function make(): Promise<[Ground, () => Promise<void>]> {
	const built = spawnSync(process.execPath, ['scripts/build.mjs', '--app'], { stdio: 'inherit' });
	if (built.status !== 0) throw new Error('The application could not be built.');
	const kept = process.env.KETTLE_HOME ?? join(process.cwd(), '.kettle');
	const chromium = provide({ find: findChromium, packages: ['chromium'], home: kept, what: 'Chromium' });
	const home = mkdtempSync(join(tmpdir(), 'kettle-tests-'));
	// The user that PostgreSQL runs as must get to it.
	chmodSync(home, 0o755);
	delete process.env.DATABASE_URL;
	const database = await startPostgres(home, { throwaway: true });
	return [
		{ database: database.url, seed: await seed(database.url, home), chromium },
		async () => {
			await endLent(home);
			await database.stop();
			rmSync(home, { recursive: true, force: true });
		}
	];
}

/** Ends the servers that files of tests had in turn. */
async function endLent(home: string): Promise<void> {
	const pids = readdirSync(home).flatMap((name) => /^lent-(\d+)$/.exec(name)?.[1] ?? []);
	const isThere = (pid: string) =>
		existsSync(`/proc/${pid}`) && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('scripts/app.mjs');
	for (const pid of pids.filter(isThere)) process.kill(Number(pid), 'SIGTERM');
	for (let tries = 0; tries < 200 && pids.some(isThere); tries++)
		await new Promise((done) => setTimeout(done, 20));
}

/** Brings the demo in, into a database and a folder that are copied from then on. */
async function seed(url: string, home: string): Promise<{ name: string; home: string }> {
	const seeded = { name: 'seeded', home: join(home, 'seeded') };
	mkdirSync(seeded.home);
	await query(url, `create database ${seeded.name}`);
	const own = new URL(url);
	own.pathname = `/${seeded.name}`;
	const port = await freePort();
	const app = startApp({ url: own.href, home: seeded.home, port, demo: true });
	await untilReady(port, app);
	const ended = new Promise((done) => app.once('exit', done));
	app.kill('SIGTERM');
	await ended;
	return seeded;
}

declare module 'vitest' {
	interface ProvidedContext {
		database: string;
		/** The database with the demo, and what belongs to it in the file system. */
		seed: { name: string; home: string };
		chromium: { path: string; env: Record<string, string> };
	}
}
