// The demo on a server and a database of its own, with a browser to take pictures of it; all of it ends afterwards.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { chromium } from 'playwright-core';
import { CHROMIUM_FLAGS, findChromium } from './chromium.mjs';
import { provide } from './debian.mjs';
import { freePort, startPostgres } from './postgres.mjs';
import { startApp, untilReady } from './serve.mjs';

const root = fileURLToPath(new URL('..', import.meta.url));

/** @param {(browser: import('playwright-core').Browser, base: string) => Promise<void>} work with the address of the demo project */
export async function withDemo(work) {
	const built = spawnSync(process.execPath, [join(root, 'scripts/build.mjs'), '--app'], { stdio: 'inherit' });
	if (built.status !== 0) process.exit(1);
	const home = mkdtempSync(join(tmpdir(), 'kettle-pictures-'));
	const program = provide({
		find: findChromium,
		packages: ['chromium'],
		home: join(root, '.kettle'),
		what: 'Chromium'
	});
	const database = await startPostgres(home, { throwaway: true });
	const port = await freePort();
	const app = startApp({ url: database.url, home, port, demo: true, roots: tmpdir() });
	try {
		await untilReady(port, app);
		const browser = await chromium.launch({
			executablePath: program.path,
			args: CHROMIUM_FLAGS,
			env: { .../** @type {Record<string, string>} */ (process.env), ...program.env }
		});
		await work(browser, `http://127.0.0.1:${port}/p/gannet-sound`);
		await browser.close();
	} finally {
		const ended = new Promise((done) => app.once('exit', done));
		app.kill('SIGTERM');
		await ended;
		await database.stop();
		rmSync(home, { recursive: true, force: true });
	}
}
