// Makes docs/screenshots/ again from the demo data: one picture of each main view.
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { writeNext } from '../demo/next.mjs';
import { withDemo } from './pictures.mjs';

const root = fileURLToPath(new URL('..', import.meta.url));
const out = join(root, 'docs/screenshots');

/** @typedef {import('playwright-core').Page} Page */
/** @type {[string, string, 'light' | 'dark', ((page: Page) => Promise<unknown>)?][]} */
const VIEWS = [
	['find', 'find', 'light'],
	['ticket', 'find?q=Kittiwake&ticket=vessel%2Fcutter_04', 'light'],
	['words', 'words?filter=log.page.1&ticket=text%2Flog.page.121', 'dark'],
	[
		'tables',
		'tables/vessel?where=speed+16+to+26&where=engine+is+twin_2%2C+twin_4%2C+twin_6&sort=grade,-hull',
		'light',
		async (page) => {
			await page.getByRole('grid').focus();
			for (const key of ['ArrowDown', 'ArrowDown', 'ArrowRight', 'ArrowRight', 'ArrowRight', 'e'])
				await page.keyboard.press(key);
			await page.getByTestId('cell-editor').locator('input').waitFor();
		}
	],
	['read', 'read/base/data/bays/knot/spawns/01-14.lst', 'light'],
	[
		'text',
		'edit/data/engines.ini?line=2',
		'light',
		async (page) => {
			await page.getByRole('textbox', { name: 'Text of data/engines.ini' }).waitFor();
			await page.keyboard.press('End');
			await page.keyboard.press('Backspace');
			await page.getByRole('list', { name: 'Faults' }).waitFor();
		}
	],
	['scripts', 'scripts', 'light'],
	[
		'try',
		'try/on_watch_1',
		'light',
		async (page) => {
			const form = page.getByRole('form', { name: 'What it gets' });
			await form.getByLabel('sea').fill('7');
			await form.getByText('What the game’s functions return').click();
			await form.getByLabel('seen()').fill('true');
			await form.getByRole('button', { name: 'Try it 1,000 times' }).click();
			await page.getByRole('region', { name: /outcome/ }).waitFor();
		}
	],
	['snags', 'snags', 'light'],
	[
		'plan',
		'snags',
		'light',
		async (page) => {
			await page.locator('[data-rule=missing-text] button').first().click();
			await page.getByRole('dialog').getByText('Fixes').waitFor();
		}
	],
	['guide', 'guide', 'light'],
	['guide-kind', 'guide/call?field=where', 'light'],
	[
		'places',
		'places/bay/whimbrel?day=9',
		'light',
		async (page) => {
			await page.getByRole('button', { name: /whimbrel_slack/ }).click();
		}
	],
	[
		'carry',
		'carry',
		'light',
		async (page) => {
			const next = mkdtempSync(join(tmpdir(), 'kettle-pictures-'));
			writeNext(join(next, 'gannet-1.5'));
			const post = (/** @type {string} */ path, /** @type {object} */ body) =>
				page.evaluate(
					async ([where, data]) =>
						(
							await fetch(`/p/gannet-sound/api/${where}`, {
								method: 'POST',
								headers: { 'content-type': 'application/json' },
								body: data
							})
						).json(),
					/** @type {[string, string]} */ ([path, JSON.stringify(body)])
				);
			for (const [id, field, value] of [
				['cutter_04', 'hull', '206'],
				['cutter_04', 'seats', '18']
			])
				await post('apply', { intention: { do: 'set', kind: 'vessel', id, field, value } });
			await page.goto(new URL('setup', page.url()).href);
			await page.getByRole('button', { name: 'Another version' }).first().click();
			const folder = page.getByRole('textbox', { name: 'Folder or archive of the other version' });
			await folder.fill(join(next, 'gannet-1.5'));
			await page.getByRole('button', { name: 'Import as another version' }).click();
			await page.getByRole('textbox', { name: 'Name of the version' }).fill('1.5');
			await page.keyboard.press('Enter');
			await page.getByRole('link', { name: 'Carry my mod over to it' }).click();
			await page.getByRole('listitem', { name: 'Kittiwake, Hull' }).waitFor();
			rmSync(next, { recursive: true });
		}
	],
	['set-up', 'setup', 'light'],
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
	[
		'scenarios',
		'scenarios',
		'light',
		async (page) => {
			await page.getByRole('checkbox', { name: 'Run this command' }).check();
			await page.getByRole('button', { name: 'Play', exact: true }).click();
			await page.locator('[data-outcome]').first().waitFor();
			await page.getByRole('button', { name: 'Play', exact: true, disabled: false }).waitFor();
			await page.getByRole('region', { name: 'Result' }).scrollIntoViewIfNeeded();
			await page.mouse.wheel(0, 330);
		}
	],
	['ledger', 'ledger', 'light', (page) => page.locator('summary').first().click()]
];

/** All of them, or those that are named: `npm run screenshots carry`. */
const wanted = process.argv.slice(2);

await withDemo(async (browser, base) => {
	for (const [name, path, theme, act] of VIEWS) {
		if (wanted.length > 0 && !wanted.includes(name)) continue;
		const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
		await page.addInitScript((chosen) => localStorage.setItem('theme', chosen), theme);
		await page.goto(`${base}/${path}`);
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
		// Where this machine keeps the demo is nobody's business.
		await page.evaluate((root) => {
			const bare = (/** @type {string} */ text) =>
				text.replaceAll(root, '~/kettle/').replace(/\/\S*\/kettle-pictures-[^/\s]+/g, '~/kettle/.kettle');
			const texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
			while (texts.nextNode()) {
				const node = texts.currentNode;
				if (node.nodeValue && bare(node.nodeValue) !== node.nodeValue) node.nodeValue = bare(node.nodeValue);
			}
			for (const box of document.querySelectorAll('input'))
				if (box.placeholder) box.placeholder = bare(box.placeholder);
		}, root);
		await page.waitForTimeout(600);
		await page.screenshot({ path: join(out, `${name}.png`) });
		await page.close();
	}
});
