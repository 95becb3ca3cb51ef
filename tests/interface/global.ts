// One PostgreSQL for all interface tests, and the application built; each test file starts servers of its own.
import { spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { provide } from '../../scripts/debian.mjs';
import { findChromium } from '../../scripts/chromium.mjs';
import { startPostgres } from '../../scripts/postgres.mjs';

export default async function setup({ provide: give }: TestProject) {
	const built = spawnSync(process.execPath, ['scripts/build.mjs', '--app'], { stdio: 'inherit' });
	if (built.status !== 0) throw new Error('The application could not be built.');
	const kept = process.env.KETTLE_HOME ?? join(process.cwd(), '.kettle');
	const chromium = provide({ find: findChromium, packages: ['chromium'], home: kept, what: 'Chromium' });
	const home = mkdtempSync(join(tmpdir(), 'kettle-tests-'));
	// The user that PostgreSQL runs as must get to it.
	chmodSync(home, 0o755);
	delete process.env.DATABASE_URL;
	const database = await startPostgres(home, { throwaway: true });
	give('database', database.url);
	give('chromium', chromium);
	return async () => {
		await database.stop();
		rmSync(home, { recursive: true, force: true });
	};
}

declare module 'vitest' {
	interface ProvidedContext {
		database: string;
		chromium: { path: string; env: Record<string, string> };
	}
}
