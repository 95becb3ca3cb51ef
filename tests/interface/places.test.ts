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
test('a value that several records point at is changed for one, for all, or not at all, and its bytes are shown', async () => {
	await at('tables/packed_control?ticket=packed_control%2Fastern');
	const delay = page.locator('[data-shared=delay]');
	await delay.getByText('Kept once, at byte 138, with ahead, port, starboard.').waitFor();
	const type = async (value: string) => {
		await page.locator('[data-field=delay] [data-edit]').click();
		await page.locator('[data-field=delay] input:not([type=checkbox])').fill(value);
		await page.keyboard.press('Enter');
	};
	// There is no room for a value of its own.
	await type('155');
	await said(/3 other values stand at the same address/);
	await delay.getByLabel('Change it for all 4 records').check();
	await type('155');
	await said(/Set delay of astern: 120 to 155.*3 records that share the value/);
	const row = (id: string) => page.getByRole('row', { name: new RegExp(`^${id}`) });
	await row('starboard').getByText('155').waitFor();
	// Another value that is there already, for this record alone.
	await delay.getByLabel('Change it for all 4 records').uncheck();
	await delay.getByLabel('Or point at').selectOption('700');
	await said('Set delay of astern: 155 to 700');
	await delay.getByText('Kept once, at byte 144, with anchor, sledge.').waitFor();
	await page.getByTestId('record-bytes').getByRole('link', { name: 'from byte 26 on' }).click();
	await page.getByText('My mod changes').waitFor();
	const bytes = page.getByRole('region', { name: 'Bytes of the file' });
	const line = bytes.getByRole('row', { name: /astern/ });
	await line.getByText('delay').getByText('700').waitFor();
	expect(await line.locator('[data-mine]').allTextContents()).toEqual(['90']);
	await bytes.getByRole('row', { name: /008a.*155.*3 addresses point at it/ }).waitFor();
	await bytes.getByRole('link', { name: 'starboard' }).click();
	await page.getByRole('heading', { name: 'starboard' }).waitFor();
});

test('a file of bytes that nobody described is read by a guess, after its fields are named', async () => {
	await at('file/base/packed/controls.bin');
	await page.getByText('The layout explains all of these bytes.').waitFor();
	await page.getByRole('link', { name: 'Read it in another way…' }).click();
	await page.getByRole('radio', { name: /4 fields: field 1/ }).check();
	const bytes = page.getByRole('region', { name: 'Bytes of the file' });
	await bytes.getByRole('row', { name: /#5/ }).getByText('horn').waitFor();
	expect(await page.getByLabel('Rows begin at byte').inputValue()).toBe('12');
	await page.getByLabel('Name of field 1').fill('control');
	await page.keyboard.press('Tab');
	await page.getByRole('columnheader', { name: 'control' }).waitFor();
	await page.getByLabel('Sort of field 2').selectOption('text');
	await bytes.getByRole('row', { name: /#5/ }).getByText('field 2 H').waitFor();
	// A layout of others is taken over; one that does not fit says where.
	await page.getByText('Use a layout from elsewhere').click();
	const paste = page.getByLabel(/Paste it/);
	await paste.fill('tables: [{ name: rows, fields: [{ as: text }] }]');
	await page.getByRole('button', { name: 'Use this layout' }).click();
	await page.getByText('The layout, at tables.0.fields.0: needs a length.').waitFor();
	await paste.fill(
		'meta: { id: a, endian: le }\nseq: [{ id: head, size: 12 }, { id: rows, type: row, repeat: expr, repeat-expr: 8 }]\ntypes: { row: { seq: [{ id: control, type: str, size: 10, encoding: ASCII }, { id: key, type: u1 }, { id: pad, type: u1 }, { id: delay, type: u2 }] } }'
	);
	await page.getByRole('button', { name: 'Use this layout' }).click();
	await bytes.getByRole('row', { name: /#5/ }).getByText('key 72').waitFor();
});
