// Where records stand: moved in their file, into another, split off and merged; what a change takes from the player.
import type { Page } from 'playwright-core';
import { beforeAll, expect, test } from 'vitest';
import { loaded, planReady, useDemo } from './helpers';

const demo = useDemo();
const { said, faults } = demo;
let page: Page;
// Loaded anew each time: the table begins at its first cell then.
const at = (path: string) => loaded(page, `${demo.server().address}/p/gannet-sound/${path}`);
beforeAll(() => {
	page = demo.page();
});
const place = () => page.getByTestId('place').first();

async function applied(text: RegExp | string) {
	await planReady(page);
	await page.keyboard.press('Control+Enter');
	await said(text);
}

test('a record goes down in its file, and where the game reads whole files my mod gets a copy', async () => {
	await at('tables/role?ticket=role%2Fmate');
	await place().getByText('Number 2 of 24 in data/crew.json').waitFor();
	// Nothing else is read as a role: there is no other file to go to.
	expect(await place().getByRole('button', { name: 'Into another file' }).count()).toBe(0);
	await place().getByRole('button', { name: 'Down' }).click();
	await said('Move Mate to place 3 of 24 in data/crew.json');
	await place().getByText('Number 3 of 24 in data/crew.json').waitFor();
	await place().getByRole('button', { name: 'First' }).click();
	await place().getByText('Number 1 of 24 in data/crew.json').waitFor();
	expect(await place().getByRole('button', { name: 'Up' }).isDisabled()).toBe(true);
});

test('one text is split off, several follow from the table, and the file is merged back', async () => {
	await at('tables/text?where=changed+by+me&sort=id&ticket=text%2Fvessel.launch_12.name');
	await place().getByRole('button', { name: 'Into another file' }).click();
	const path = page.getByLabel('Path of the other file');
	await path.fill('words/ja/sounds.properties');
	await page.getByRole('button', { name: 'Preview changes' }).click();
	await page.getByRole('alert').filter({ hasText: 'the file holds texts in ja' }).waitFor();
	await page.getByRole('button', { name: 'Cancel' }).click();
	await path.fill('words/de/launch.properties');
	await page.getByRole('button', { name: 'Preview changes' }).click();
	const dialog = page.getByRole('dialog');
	await dialog.getByText('words/de/launch.properties is a new file of your mod: it adds').waitFor();
	await applied('Put vessel.launch_12.name into words/de/launch.properties');
	await place().getByText('in words/de/launch.properties').waitFor();

	await at('tables/text?filter=vessel.launch_12.&sort=id');
	await page.getByRole('grid').focus();
	await page.keyboard.press('ArrowRight');
	await page.keyboard.press('Shift+ArrowDown');
	await page.keyboard.press('Shift+ArrowDown');
	await page.getByText(', 3 chosen').waitFor();
	await page.getByRole('button', { name: 'Into another file' }).click();
	await path.fill('words/en/launch.properties');
	await page.getByRole('button', { name: 'Preview changes' }).click();
	await applied('Put 3 texts into words/en/launch.properties');

	const layers = await page.request.get(`${demo.server().address}/p/gannet-sound/pack`);
	const mine = /file\/(\d+)\/words\/en\/launch\.properties/.exec(await layers.text())![1]!;
	await at(`file/${mine}/words/en/launch.properties`);
	await page.getByText('Merge it into another file').click();
	await path.fill('words/en/longline.properties');
	await page.getByRole('button', { name: 'Preview changes' }).click();
	await applied('Merge words/en/launch.properties into words/en/longline.properties');
	await page.waitForURL(/ledger/);
	await at('pack');
	expect(await page.getByRole('link', { name: 'words/en/launch.properties' }).count()).toBe(0);
	await page.getByRole('link', { name: 'words/de/launch.properties' }).waitFor();
});

test('a record of the game is taken out of it, and brought back from the table', async () => {
	await at('tables/control?ticket=control%2Fhorn');
	await page.getByRole('button', { name: 'Remove from the game' }).click();
	const dialog = page.getByRole('dialog');
	await dialog.getByText('data/controls.out.json removes it from what the game reads').waitFor();
	await applied('Remove horn from the game');
	const taken = page.getByTestId('taken').filter({ hasText: 'horn' });
	await taken.waitFor();
	expect(await page.getByRole('grid').getByText('horn', { exact: true }).count()).toBe(0);
	await taken.getByRole('button', { name: 'restore' }).click();
	await applied('Bring horn back');
	await page.getByRole('grid').getByText('horn', { exact: true }).waitFor();
	expect(await page.getByTestId('taken').count()).toBe(0);
});

test('what a change takes from the player is said before, in the ledger and in the pack', async () => {
	await at('tables/rule?cols=fuel_reserve');
	await page.keyboard.press('w');
	const many = page.getByTestId('change-many');
	await many.getByLabel('By what').fill('1');
	await many.getByText('1 of 1 values change').waitFor();
	await many.getByRole('button', { name: 'Preview changes' }).click();
	await page.getByTestId('spoils').filter({ hasText: 'This turns achievements off.' }).waitFor();
	await page.getByTestId('spoils').filter({ hasText: 'By data/rules.lua' }).waitFor();
	await applied(/^.*Change fuel reserve/);
	await at('ledger');
	expect(await page.locator('summary').first().innerText()).toContain('turns achievements off');
	expect(await page.locator('summary').nth(1).innerText()).not.toContain('turns achievements off');
	await at('pack');
	await page.getByTestId('spoils').filter({ hasText: 'the game keeps no honours' }).waitFor();
	expect(faults).toEqual([]);
});
