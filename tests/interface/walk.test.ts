// One evening of a modder, by keyboard alone: find, change, see what breaks, repair, pack, start, read the log.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { unzipSync, strFromU8 } from 'fflate';
import type { Page } from 'playwright-core';
import { beforeAll, expect, test } from 'vitest';
import { dialSays, openPage, tabTo, useServer } from './helpers';

const use = useServer();
let page: Page;
const faults: string[] = [];

beforeAll(async () => {
	page = await openPage(use.browser, faults);
});

const press = (keys: string) => page.keyboard.press(keys);

/** Replaces the value in the focused editor. */
async function write(text: string, said: RegExp) {
	await press('Enter');
	await page.keyboard.insertText(text);
	await press('Enter');
	await page.getByTestId('message').filter({ hasText: said }).waitFor();
}

test('the whole path', async () => {
	// The first visit opens on Find with three things to try.
	await page.goto(use.server.address);
	expect(page.url()).toBe(`${use.server.address}/p/gannet-sound/find`);
	expect(await page.getByRole('listitem').count()).toBe(3);
	await dialSays(page, '3 block');

	// Find the vessel by the name that players see; its id is another one.
	await press('/');
	await page.keyboard.type('Kittiwake');
	await press('Enter');
	await page.waitForURL(/q=Kittiwake/);
	await page.getByText('English name: Kittiwake').waitFor();
	await tabTo(page, '[data-move]');
	await press('Enter');
	await page.getByTestId('ticket').waitFor();
	expect(page.url()).toContain('ticket=vessel%2Fcutter_04');

	// Two values.
	await tabTo(page, '[data-field=seats] [data-edit]');
	await write('15', /Set seats of Kittiwake: 13 to 15/);
	await tabTo(page, '[data-field=speed] [data-edit]');
	await write('23', /Set speed of Kittiwake: 24 to 23/);
	await page
		.locator('[data-field=seats]')
		.getByRole('img', { name: /base 13; mine 15/ })
		.waitFor();

	// The engine: one that does not exist breaks it, and the dial and the ticket say so at once.
	await tabTo(page, '[data-field=engine] input');
	await page.keyboard.type('triple_5');
	await page.getByText('No match').waitFor();
	await press('Enter');
	await dialSays(page, '4 block');
	await page.getByTestId('ticket').getByText('has no engine triple_5').waitFor();

	// Every snag is repaired from its page, each as a plan that is shown first.
	await press('Escape');
	await press('7');
	await page.waitForURL(/snags/);
	for (let left = 3; left >= 0; left--) {
		await page.getByRole('group', { name: 'Snags' }).locator('[data-move]').nth(left).waitFor();
		await press('n');
		await tabTo(page, '[data-move] button');
		await press('Enter');
		await page.getByRole('dialog').getByText('Fixes').waitFor();
		await press('Control+Enter');
		await page.getByRole('dialog').waitFor({ state: 'detached' });
		await dialSays(page, left > 0 ? `${left} block` : '1 warn');
	}
	// What is left only warns: the second winter's edition of a piece of gear was not changed with the first.
	await page.getByRole('group', { name: 'Snags' }).getByText('should be like').waitFor();

	// Pack: what is written and why; the ZIP holds the changed values.
	await press('8');
	await page
		.getByText('merged into the game\u2019s, record by record')
		.or(page.getByText("merged into the game's, record by record"))
		.first()
		.waitFor();
	const zip = await page.request.get(`${use.server.address}/p/gannet-sound/api/pack`);
	const row = strFromU8(unzipSync(await zip.body())['data/vessels.tsv']!)
		.split('\n')
		.find((line) => line.startsWith('cutter_04'))!
		.split('\t');
	expect([row[3], row[5]]).toEqual(['23', '15']);

	// Trial: installed, started, loaded cleanly.
	await press('9');
	await tabTo(page, '[data-testid=start-trial]');
	await press('Enter');
	await page.getByTestId('outcome').filter({ hasText: 'Loaded cleanly' }).waitFor();
	const log = readFileSync(join(use.server.home, 'games/gannet-sound/game.log'), 'utf8');
	expect(log).not.toMatch(/DROPPED|REFUSED/);
	expect(log).toContain('loaded cleanly');
	expect(log).toContain('longline');
	expect(faults).toEqual([]);
});
