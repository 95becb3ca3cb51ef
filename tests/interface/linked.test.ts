// My mod as a folder on disk: what another program changes there shows up by value, and is a step that can be undone.
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { openPage, useServer } from './helpers';

const work = mkdtempSync(join(tmpdir(), 'kettle-linked-'));
const folder = join(work, 'longline');
const use = useServer({ roots: work });
const faults: string[] = [];
let page: Page;

beforeAll(async () => {
	page = await openPage(use.browser, faults);
});
afterAll(() => rmSync(work, { recursive: true }));

const setUp = () => page.goto(`${use.server.address}/p/gannet-sound/setup`);
const linked = () => page.getByTestId('linked');
const said = (words: string | RegExp) => page.getByTestId('message').filter({ hasText: words }).waitFor();
const vessels = join(folder, 'data/vessels.tsv');
const speedOf = async (name: string) => {
	await page.goto(`${use.server.address}/p/gannet-sound/tables/vessel?ticket=vessel%2F${name}`);
	return page.locator('[data-field=speed] [data-value]').getAttribute('data-value');
};

test('a folder is linked and my mod is written out into it', async () => {
	await setUp();
	await linked().getByLabel('Keep my mod as a folder').fill('/etc/nowhere');
	await page.getByRole('button', { name: 'Link', exact: true }).click();
	await said(/outside the folders that may be read/);
	await linked().getByLabel('Keep my mod as a folder').fill(folder);
	await page.getByRole('button', { name: 'Link', exact: true }).click();
	await said('Linked to the folder');
	await linked().getByText('7 files not written yet').waitFor();
	await page.getByRole('button', { name: 'Write them' }).click();
	await said('7 files written');
	await linked().getByText('match').waitFor();
	expect(readFileSync(vessels, 'utf8')).toContain('cutter_04\t3\t103\t24');
});

test('an edit by another program shows up as values, is taken in as one step, and can be taken back', async () => {
	await page.goto(`${use.server.address}/p/gannet-sound/tables`);
	const before = readFileSync(vessels, 'utf8');
	writeFileSync(vessels, before.replace('cutter_04\t3\t103\t24', 'cutter_04\t3\t99\t31'));
	// Noticed on any page, without anybody asking.
	await page.getByTestId('outside').getByText('1 file of my mod changed outside').waitFor();
	await page.getByRole('link', { name: 'Look at it' }).click();
	const changed = page.getByTestId('outside-plan');
	const row = (field: string) => changed.getByRole('row').filter({ hasText: field }).innerText();
	// What is shown may be of a moment ago.
	await expect.poll(() => row('speed').catch(() => '')).toMatch(/Kittiwake.*speed\s+24\s+31/s);
	expect(await row('hull')).toMatch(/hull\s+103\s+99/s);
	await page.getByRole('button', { name: 'Import these changes' }).click();
	await page.getByRole('dialog').getByText('Import 2 values changed outside').waitFor();
	await page.keyboard.press('Control+Enter');
	await said('Import 2 values changed outside');
	await linked().getByText('match').waitFor();
	expect(await speedOf('cutter_04')).toBe('31');
	await page.keyboard.press('Control+z');
	await said('Undone');
	expect(await speedOf('cutter_04')).toBe('24');
	// The folder still has the other program's values until mine are written out.
	await setUp();
	await linked().getByText('1 file not written yet').waitFor();
	await page.getByRole('button', { name: 'Write them' }).click();
	await said('1 file written');
	expect(readFileSync(vessels, 'utf8')).toBe(before);
});

test('a change outside can be left, and survives a restart of the server until it is', async () => {
	writeFileSync(join(folder, 'notes.txt'), 'mine alone\n');
	await page.getByTestId('outside').waitFor();
	await use.server.kill();
	await use.server.start();
	await setUp();
	await page.getByTestId('outside-plan').getByText('notes.txt is new and holds no values').waitFor();
	await page.getByRole('button', { name: 'Cancel' }).click();
	await said('left as they are');
	await page.getByTestId('outside').waitFor({ state: 'detached' });
	expect(existsSync(join(folder, 'notes.txt'))).toBe(true);
});

test('with both changed it says so; at once means that every step is on disk', async () => {
	await linked().getByLabel('write every change at once').check();
	await said('Kept');
	expect(existsSync(join(folder, 'notes.txt'))).toBe(false);
	expect(await speedOf('cutter_04')).toBe('24');
	await page.locator('[data-field=speed] [data-edit]').click();
	await page.locator('[data-field=speed] input').fill('22');
	await page.keyboard.press('Enter');
	await said('24 to 22');
	for (let tries = 0; !readFileSync(vessels, 'utf8').includes('\t22\t') && tries < 100; tries++)
		await new Promise((done) => setTimeout(done, 50));
	expect(readFileSync(vessels, 'utf8')).toContain('cutter_04\t3\t103\t22');
	// Both change the same file while nothing is written at once.
	await setUp();
	await linked().getByLabel('write every change at once').uncheck();
	await said('Kept');
	writeFileSync(vessels, readFileSync(vessels, 'utf8').replace('\t103\t22', '\t104\t22'));
	await page.getByTestId('outside').waitFor();
	await speedOf('cutter_04');
	await page.locator('[data-field=speed] [data-edit]').click();
	await page.locator('[data-field=speed] input').fill('20');
	await page.keyboard.press('Enter');
	await said('22 to 20');
	await setUp();
	await page.getByTestId('outside-plan').getByText('Your mod changed as well: data/vessels.tsv').waitFor();
	await page.getByRole('button', { name: 'Import these changes' }).click();
	await page.getByRole('dialog').getByText('changed outside').first().waitFor();
	await page.keyboard.press('Control+Enter');
	await said('changed outside');
	expect(await speedOf('cutter_04')).toBe('22');
	await page.keyboard.press('Control+z');
	await said('Undone');
	expect(await speedOf('cutter_04')).toBe('20');
	expect(faults).toEqual([]);
});
