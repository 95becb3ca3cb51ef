// The first evening with a game that nobody described: chosen in a list or dropped, understood at first sight, a file
// that was not read said how it is read. Nothing is typed that the page could ask.
import { cpSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { openPage, useServer } from './helpers';

const root = mkdtempSync(join(tmpdir(), 'kettle-evening-'));
const game = join(root, 'games', 'sound');
mkdirSync(join(root, 'games', 'empty'), { recursive: true });
cpSync(fileURLToPath(new URL('../../demo/base', import.meta.url)), game, { recursive: true });
// Lines that mean something only to those who know it: a word, a number, and a note behind a bar.
writeFileSync(
	join(game, 'data/wages.lst'),
	Array.from({ length: 12 }, (_, nth) => `hand_${nth} -> ${nth + 3} | paid on day ${nth}\n`).join('')
);
// Two of a sort are too few to tell whether they are records or parts of one.
writeFileSync(
	join(game, 'data/rigs.json'),
	JSON.stringify(
		{ wind: 4, rigs: { gaff: { area: 18, drag: 0.6 }, lug: { area: 9, drag: 0.3 } } },
		null,
		'\t'
	)
);
// Two columns name a row together.
writeFileSync(
	join(game, 'data/rounds.csv'),
	`quay,turn,boats\n${['lea', 'ness', 'holm', 'wick', 'firth', 'kyle']
		.flatMap((quay, at) => [1, 2, 3, 4, 5].map((turn) => `${quay},${turn},${(at * turn) % 4}\n`))
		.join('')}`
);
const use = useServer({ demo: false, roots: root });
const faults: string[] = [];
let page: Page;

beforeAll(async () => {
	page = await openPage(use.browser, faults);
});
afterAll(() => {
	rmSync(root, { recursive: true });
	expect(faults).toEqual([]);
});

const press = (key: string) => page.keyboard.press(key);
const said = (words: string | RegExp) => page.getByTestId('message').filter({ hasText: words }).waitFor();

test('a folder is chosen by keys, and what will be read is said before', async () => {
	await page.goto(use.server.address);
	await page.getByRole('button', { name: 'Browse…' }).first().click();
	const list = page.getByRole('listbox', { name: 'Folders and archives' });
	await list.getByRole('option').first().waitFor();
	await press('Enter');
	await list.getByRole('option', { name: 'games/' }).waitFor();
	await press('Enter');
	await list.getByRole('option', { name: 'sound/ looks like a game' }).waitFor();
	expect(await list.getByRole('option', { name: 'empty/' }).innerText()).not.toContain('looks like');
	await press('s');
	await press('Space');
	await list.waitFor({ state: 'detached' });
	expect(await page.getByRole('textbox', { name: /^Folder that holds/ }).inputValue()).toBe(game);
	const look = page.getByTestId('source-look');
	await look.getByText(/^195 files, /).waitFor();
	await look.getByText('.toml').waitFor();
	// A folder outside of those that may be read is refused in words.
	const refused = await page.request.get(`${use.server.address}/api/folders?path=/etc`);
	expect([refused.status(), await refused.text()]).toEqual([
		422,
		expect.stringContaining('outside the folders')
	]);
	// Of a file, the folder that it is in is listed.
	const beside = await page.request.get(
		`${use.server.address}/api/folders?path=${encodeURIComponent(join(game, 'game.json'))}`
	);
	expect(((await beside.json()) as { path: string }).path).toBe(game);
	await page.getByLabel('Name of your mod').fill('Winter Boats');
	await page.getByRole('button', { name: 'Import', exact: true }).first().click();
	await page.waitForURL(/\/p\/sound\/first/);
});

test('at first sight: what was understood, and three steps that help', async () => {
	await page.getByRole('heading', { name: 'sound at first sight' }).waitFor();
	await page
		.getByRole('region', { name: 'What was understood' })
		.getByText('files are read as data')
		.waitFor();
	await page.getByText(/texts in /).waitFor();
	expect(await page.getByRole('list', { name: 'Next steps' }).getByRole('listitem').count()).toBe(3);
	await page
		.getByRole('region', { name: 'What refers to what' })
		.getByText(/% sure/)
		.first()
		.waitFor();
	await page.getByRole('link', { name: 'Winter Boats 0.1.0' }).waitFor();
});

test('a file that nobody could read: said how, seen beside its text, and a table of it', async () => {
	await page.goto(`${use.server.address}/p/sound/file/base/data/wages.lst`);
	await page.getByRole('link', { name: /^Read (as data|it in another way)…$/ }).click();
	await page.getByRole('heading', { name: 'Read this file as data' }).waitFor();
	await page.getByLabel('Another way').selectOption({ label: 'One record a line' });
	await page.getByLabel(/^Pattern of a line/).fill('^(?<who>\\w+) -> (?<pay>\\d+) \\| (?<note>.*)$');
	await page.getByRole('columnheader', { name: 'pay' }).waitFor();
	await page.getByRole('cell', { name: 'hand_3' }).first().waitFor();
	// A pattern that cannot be is refused as typed.
	await page.getByLabel(/^Pattern of a line/).fill('^(?<who>\\w+');
	await page.getByRole('alert').waitFor();
	await page.getByLabel(/^Pattern of a line/).fill('^(?<who>\\w+) -> (?<pay>\\d+) \\| (?<note>.*)$');
	await page.getByRole('alert').waitFor({ state: 'detached' });
	await page.getByLabel('What are its records called?').fill('Wage');
	await page.getByLabel('Name in the field guide').fill('wage');
	await page.getByLabel('Field that names a record').selectOption('who');
	await page.getByRole('radio', { name: /^Only this file/ }).check();
	await page.getByRole('button', { name: 'Read it like this' }).click();
	await said('Wage: reads data/wages.lst');
	await page.waitForURL(/\/tables\/wage/);
	await page.getByRole('rowheader', { name: /hand_3/ }).waitFor();
	await page.goto(`${use.server.address}/p/sound/guide`);
	await page.getByRole('button', { name: /^Undo: Wage: reads/ }).click();
	await said('Undone: Wage: reads data/wages.lst');
});

test('records that stand elsewhere than was detected: said on the page of their kind, the rest stays', async () => {
	await page.goto(`${use.server.address}/p/sound/guide/rigs`);
	await page.getByRole('link', { name: 'Read these files in another way' }).click();
	const where = page.getByLabel('Where do its records stand?');
	expect(await where.locator('option:checked').innerText()).toBe('The whole file is one record');
	await where.selectOption({ label: 'In rigs: 2 records' });
	await page.getByRole('cell', { name: 'gaff' }).waitFor();
	expect(await page.getByLabel('What are its records called?').inputValue()).toBe('Rigs');
	await page.getByLabel('What are its records called?').fill('Rig');
	await page.getByLabel('Name in the field guide').fill('rig');
	await page.getByRole('button', { name: 'Read it like this' }).click();
	await page.waitForURL(/\/tables\/rig$/);
	await page.getByRole('rowheader', { name: /lug/ }).waitFor();
	// What is beside them is still there to be changed.
	await page.goto(`${use.server.address}/p/sound/guide/rigs`);
	await page.getByText('Its records are beside “rigs”.').waitFor();
	await page.getByRole('option', { name: /wind/ }).waitFor();
	// And they can be read otherwise again.
	await page.goto(`${use.server.address}/p/sound/guide/rig`);
	await page.getByText('Its records are in “rigs”.').waitFor();
	await page.getByRole('link', { name: 'Read these files in another way' }).click();
	await page.getByLabel('Name in the field guide').waitFor();
	expect(await page.getByLabel('Name in the field guide').inputValue()).toBe('rig');
	await page
		.getByLabel('Where do its records stand?')
		.selectOption({ label: 'The whole file is one record' });
	await page.getByRole('cell', { name: '#1' }).waitFor();
	await page.getByRole('button', { name: 'Read it like this' }).click();
	await page.getByRole('rowheader', { name: /rigs/ }).waitFor();
});

test('a row that two columns name: another like it, which goes by its own values from then on', async () => {
	await page.goto(`${use.server.address}/p/sound/guide/rounds`);
	await page.getByText('Key: quay and turn together.').waitFor();
	await page.goto(`${use.server.address}/p/sound/tables/rounds?ticket=rounds%2Fness%2F2`);
	const ticket = page.getByTestId('ticket');
	await ticket.getByRole('button', { name: 'Add another like this' }).click();
	await page.waitForURL(/rounds%2Fness%2F2%232/);
	await ticket.locator('[data-field="turn"] [data-edit]').click();
	await ticket.locator('[data-field="turn"] input').fill('9');
	await press('Enter');
	await page.waitForURL(/rounds%2Fness%2F9/);
	await ticket.getByRole('heading', { name: 'ness/9' }).waitFor();
	await page.getByRole('rowheader', { name: 'ness/2', exact: true }).waitFor();
});

test('tables are searched, ordered, and the last ones are at hand', async () => {
	await page.goto(`${use.server.address}/p/sound/tables/vessels`);
	await page.goto(`${use.server.address}/p/sound/tables`);
	await page.getByText('Recent:').waitFor();
	const tables = page.getByRole('group', { name: 'Tables' });
	await page.getByLabel('Only tables with').fill('gear cold');
	await expect.poll(() => tables.getByRole('link').count()).toBe(3);
	await page.getByLabel('Only tables with').fill('nothing like it');
	await page.getByText('No table matches.').waitFor();
	await page.getByRole('button', { name: 'Show all' }).click();
	await page.getByLabel('Order').selectOption({ label: 'Most records' });
	await expect.poll(() => tables.getByRole('link').first().innerText()).toMatch(/^Text\s+926/);
});

test('a ZIP that is dropped on the page is imported; what is none is refused in words', async () => {
	await page.goto(`${use.server.address}/?all`);
	const drop = (name: string, text: string) =>
		page.evaluate(
			([file, content]) => {
				const data = new DataTransfer();
				data.items.add(new File([content!], file!));
				window.dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }));
			},
			[name, text]
		);
	await drop('notes.txt', 'hello');
	await page.getByRole('alert').filter({ hasText: 'notes.txt is not a ZIP file.' }).waitFor();
	await drop('broken.zip', 'not one');
	await page
		.getByRole('alert')
		.filter({ hasText: /not a ZIP file|cannot be opened|damaged/ })
		.waitFor();
});
