// Makes docs/screenshots/ anew from the demo data: one picture of each main view, on a server and a database of its own.
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
const out = join(root, 'docs/screenshots');

/** @typedef {import('playwright-core').Page} Page */
/** @type {[string, string, 'light' | 'dark', ((page: Page) => Promise<unknown>)?][]} */
const VIEWS = [
	['find', 'find', 'light'],
	['ticket', 'find?q=Kittiwake&ticket=vessel%2Fcutter_04', 'light'],
	['ticket-dark', 'find?q=Kittiwake&ticket=vessel%2Fcutter_04', 'dark'],
	['hits', 'find?q=winch', 'light'],
	['compare', 'compare?with=vessel%2Fcutter_04&with=vessel%2Fcutter_05&with=vessel%2Ftug_01', 'light'],
	['uses', 'uses/vessel/cutter_05?depth=2', 'dark'],
	['values', 'values/vessel/engine', 'light'],
	['tables', 'tables/vessel?sort=-speed', 'light'],
	['tables-dark', 'tables/vessel?filter=tow%3E20&ticket=vessel%2Ftug_02', 'dark'],
	['snags', 'snags', 'light'],
	[
		'plan',
		'snags',
		'light',
		async (page) => {
			await page.locator('[data-rule=missing-text] button').first().click();
			await page.getByRole('dialog').getByText('Settles').waitFor();
		}
	],
	['guide', 'guide', 'light'],
	['guide-kind', 'guide/call?field=where', 'light'],
	[
		'ranges',
		'ranges/ambience',
		'light',
		(page) => page.locator('ol').getByRole('button', { name: 'dusk_swell' }).click()
	],
	['set-up', 'setup', 'light'],
	['file', 'file/0/data/rules.lua?line=7', 'light'],
	['pack', 'pack', 'light'],
	[
		'trial',
		'trial',
		'light',
		async (page) => {
			await page.getByTestId('start-trial').click();
			await page.getByTestId('outcome').waitFor();
		}
	],
	['ledger', 'ledger', 'light', (page) => page.locator('summary').first().click()]
];

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
const app = startApp({ url: database.url, home, port, demo: true });
try {
	await untilReady(port, app);
	const browser = await chromium.launch({
		executablePath: program.path,
		args: CHROMIUM_FLAGS,
		env: { .../** @type {Record<string, string>} */ (process.env), ...program.env }
	});
	for (const [name, path, theme, act] of VIEWS) {
		const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
		await page.addInitScript((wanted) => localStorage.setItem('theme', wanted), theme);
		await page.goto(`http://127.0.0.1:${port}/p/gannet-sound/${path}`);
		await page.locator('html[data-ready]').waitFor();
		if (name === 'ledger') {
			await page.evaluate(() =>
				fetch('/p/gannet-sound/api/apply', {
					method: 'POST',
					headers: { 'content-type': 'application/json' },
					body: JSON.stringify({
						intention: { do: 'set', kind: 'vessel', id: 'cutter_05', field: 'seats', value: '18' }
					})
				})
			);
			await page.reload();
			await page.locator('html[data-ready]').waitFor();
		}
		await act?.(page);
		await page.waitForTimeout(600);
		await page.screenshot({ path: join(out, `${name}.png`) });
		await page.close();
	}
	await browser.close();
} finally {
	const ended = new Promise((done) => app.once('exit', done));
	app.kill('SIGTERM');
	await ended;
	await database.stop();
	rmSync(home, { recursive: true, force: true });
}
