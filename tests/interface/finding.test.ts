// From a word to the record, to its like, to its neighbours, and back, by keyboard.
import type { Page } from 'playwright-core';
import { beforeAll, expect, test } from 'vitest';
import { openPage, useServer } from './helpers';

const use = useServer();
const faults: string[] = [];
let page: Page;

beforeAll(async () => {
	page = await openPage(use.browser, faults);
});

const press = (keys: string) => page.keyboard.press(keys);
const at = (path: string) => page.goto(`${use.server.address}/p/gannet-sound/${path}`);
const said = (words: string | RegExp) => page.getByTestId('message').filter({ hasText: words }).waitFor();
const ticket = () => page.getByTestId('ticket');
const hits = () => page.getByRole('group', { name: 'Hits' });

test('hits come while one types; arrows go through them, Enter opens, Esc goes back', async () => {
	await at('find');
	await press('/');
	await page.keyboard.type('winch');
	// The hits of the whole word, and not of its first letters.
	await page.waitForURL(/q=winch/);
	await hits().getByText('Hand winch').first().waitFor();
	await press('ArrowDown');
	const focused = () => page.evaluate(() => document.activeElement?.textContent ?? '');
	expect(await focused()).toContain('winch');
	for (let presses = 0; presses < 8 && !(await focused()).includes('Steam winch'); presses++)
		await press('ArrowDown');
	expect(await focused()).toContain('Steam winch');
	await press('Enter');
	await ticket().getByRole('heading', { name: 'Steam winch' }).waitFor();
	expect(new URL(page.url()).searchParams.get('ticket')).toBe('deck_gear/winch_steam');
	await press('Escape');
	await ticket().waitFor({ state: 'detached' });
	// To its neighbours in the file.
	await hits().getByRole('link', { name: 'deck.xml:14' }).first().click();
	await page.waitForURL(/file\/.*deck\.xml\?line=14/);
	await page.goBack();
	await hits().waitFor();
});

test('an answer that comes late takes nothing back of what is being typed', async () => {
	await at('find');
	await page.route('**/find/__data.json*', async (route) => {
		await new Promise((done) => setTimeout(done, 400));
		await route.continue();
	});
	await press('/');
	await page.keyboard.type('hand');
	await page.waitForTimeout(200);
	await page.keyboard.type(' winch', { delay: 90 });
	await page.waitForURL(/q=hand(\+|%20)winch/);
	expect(await page.getByTestId('find').inputValue()).toBe('hand winch');
	await page.unroute('**/find/__data.json*');
	await press('Escape');
});

test('a field that is asked for by its name is in sight in the ticket', async () => {
	await press('/');
	await page.keyboard.type('merlin draft');
	await page.waitForURL(/q=merlin(\+|%20)draft/);
	await hits().getByText('Merlin').first().waitFor();
	await press('Enter');
	await ticket().locator('[data-field=draft].asked').waitFor();
	await press('Escape');
});

test('switches and menus narrow; nothing found says so and leads on', async () => {
	await at('find?q=winch');
	const kinds = page.getByLabel('Kind', { exact: true });
	const vessels = await kinds.locator('option', { hasText: /^Vessels \d+$/ }).textContent();
	await kinds.selectOption({ label: vessels! });
	await page.waitForURL(/kind=vessel/);
	await hits().getByText('Gannet').waitFor();
	expect(await hits().getByText('Hand winch').count()).toBe(0);
	await page.getByRole('button', { name: 'Whole words' }).click();
	await page.waitForURL(/whole=on/);
	await at('find?q=winc&whole=on');
	await page.getByText('Nothing found for “winc” here.').waitFor();
	await page.getByRole('link', { name: 'Look everywhere' }).first().click();
	await hits().getByText('Hand winch').first().waitFor();
	await at('find?q=twin_%3F&pattern=on');
	await hits().getByText('Starling twin').first().waitFor();
	expect(await page.getByRole('status').first().innerText()).toMatch(/\d+ records in \d+ ms/);
	await page.waitForTimeout(1300);
	await at('find');
	await page.getByText('Recent searches:').waitFor();
	await page.getByRole('link', { name: 'twin_?' }).waitFor();
});

test('a nickname is found, stands wherever the thing is named, and goes into the guide file', async () => {
	await at('tables/vessel?ticket=vessel%2Fcutter_05');
	await ticket().getByRole('heading', { name: 'Merlin' }).waitFor();
	await ticket().getByRole('button', { name: 'Add a nickname' }).first().press('Enter');
	await page.getByLabel('Nickname', { exact: true }).fill('the grey lady');
	await page.getByLabel('Note', { exact: true }).fill('leaks at the stern');
	await page.getByRole('button', { name: 'Keep' }).click();
	await ticket().getByText('“the grey lady”').waitFor();
	await page.getByRole('row').filter({ hasText: 'cutter_05' }).getByText('“the grey lady”').waitFor();
	await at('find?q=grey+lady');
	await hits().getByText('Merlin').first().waitFor();
	await at('find?q=leaks+stern');
	await hits().getByText('leaks at the stern').first().waitFor();
	const guide = await page.request.get(`${use.server.address}/p/gannet-sound/api/guide`);
	expect(await guide.text()).toMatch(
		/notes:\n\s+- on:\n\s+kind: vessel\n\s+record: cutter_05\n\s+nickname: the grey lady/
	);
	expect(await guide.text()).toContain('# Field guide of Gannet Sound');
});

test('the pocket keeps values across restarts, and they are put into fields by one key', async () => {
	await at('tables/vessel?ticket=vessel%2Fcutter_05');
	await page.locator('[data-field=seats] [data-edit]').focus();
	await press('k');
	await said('Kept in the pocket: Seats of Merlin');
	await page.locator('[data-field=seats] [data-edit]').evaluate((element: HTMLElement) => element.blur());
	await press('k');
	await said('Kept in the pocket: Merlin');
	await use.server.kill();
	await use.server.start();
	await at('tables/vessel?ticket=vessel%2Fcutter_06');
	await page.getByRole('button', { name: 'Pocket, 2 kept' }).waitFor();
	await press('o');
	const pocket = page.getByTestId('pocket');
	await pocket.getByRole('button', { name: '15', exact: true }).press('Enter');
	await press('Escape');
	await page.locator('[data-field=seats] [data-edit]').focus();
	await press('p');
	await said('Set seats of Kestrel: 17 to 15');
	await press('Control+z');
	await said('Undone');
	await press('o');
	await pocket.getByRole('button', { name: 'Remove Merlin' }).click();
	await pocket.getByRole('listitem').nth(1).waitFor({ state: 'detached' });
	await press('Escape');
});

test('what is most like it, side by side, and some of its fields copied across as one step', async () => {
	await at('tables/vessel?ticket=vessel%2Fcutter_06');
	await ticket().waitFor();
	await press('m');
	const alike = page.getByTestId('alike');
	await alike.getByRole('listitem').nth(3).waitFor();
	expect(await alike.innerText()).toMatch(/\d+ % alike/);
	await alike.getByRole('link', { name: 'side by side' }).first().click();
	await page.waitForURL(/compare\?with=vessel%2Fcutter_06&with=vessel/);
	await page.getByLabel('Add another record').fill('breaker');
	await page.getByRole('option', { name: /Breaker/ }).waitFor();
	await press('Enter');
	await page.waitForURL(/tug_01/);
	const row = (title: string) =>
		page.getByRole('row').filter({ has: page.getByRole('rowheader', { name: title, exact: true }) });
	await row('Speed kn').getByRole('button').nth(2).click();
	await row('Tow t').getByRole('button').nth(2).click();
	await page.getByText('2 chosen').waitFor();
	await page.getByRole('button', { name: 'Preview changes' }).click();
	await page.getByRole('dialog').getByText('Set 2 fields of Kestrel from Breaker').waitFor();
	await press('Control+Enter');
	await said('Set 2 fields of Kestrel from Breaker');
	// The base's own version beside mine: the same record from another layer.
	const source = page.getByLabel('Kestrel: from which layer or version');
	await source.selectOption({ label: 'Base' });
	await page.waitForURL(/cutter_06%40\d+|cutter_06@\d+/);
	expect(await row('Speed kn').getByRole('button').first().innerText()).toBe('23');
	await press('Control+z');
	await said('Undone');
});

test('all values of a field, how often and by whom; what hangs on a record, as list and graph', async () => {
	await at('tables/vessel?ticket=vessel%2Fcutter_04');
	await ticket()
		.locator('[data-field=engine]')
		.getByRole('link', { name: 'Engine', exact: true })
		.press('Enter');
	await page.waitForURL(/values\/vessel\/engine/);
	const row = page.getByRole('row').filter({ hasText: 'twin_6' });
	expect(await row.innerText()).toMatch(
		/Rook twin\s+6×\s+Kittiwake, Merlin, Kestrel, Breaker, Samphire, Fathom/
	);
	// The base alone at first; what my mod says is added when asked for.
	const broken = page.getByRole('row').filter({ hasText: 'triple_9' });
	expect(await broken.count()).toBe(0);
	await page.getByLabel('include my mod').check();
	await broken.getByText('Skerry').waitFor();
	expect(await row.innerText()).toMatch(/Rook twin\s+6×\s+Kittiwake, Merlin, Kestrel, Breaker/);
	await page.getByLabel('Only values with').fill('nothing like it');
	await page.getByText('No values match.').waitFor();
	await at('uses/engine/twin_6?depth=2');
	await page.getByRole('heading', { name: 'Connections of Rook twin' }).waitFor();
	expect(await page.locator('section').filter({ hasText: 'Used by' }).innerText()).toContain('Kittiwake');
	await page
		.getByRole('region', { name: 'Graph' })
		.getByRole('link', { name: /Kittiwake/ })
		.press('Enter');
	await ticket().getByRole('heading', { name: 'Kittiwake' }).waitFor();
	await at('uses/rule/rules');
	await page.getByText(/Nothing refers to it, and it refers to nothing|No record refers to it/).waitFor();
	expect(faults).toEqual([]);
});

test('layers are put on top, ordered and taken out; the base is compared with its source', async () => {
	await at('setup');
	await page.getByLabel('Folder or ZIP of an expansion').fill(`${process.cwd()}/demo/longline`);
	await page.getByLabel('Title', { exact: true }).fill('Longline of others');
	await page.getByRole('button', { name: 'Add on top' }).click();
	await said('Layer added on top');
	await page.getByRole('heading', { name: '4. Longline of others' }).waitFor();
	await page
		.getByRole('region', { name: 'Longline of others', exact: true })
		.getByRole('button', { name: 'Remove', exact: true })
		.click();
	await said('Longline of others was removed');
	await page.getByRole('button', { name: 'Verify' }).first().click();
	await page.getByTestId('verified').getByText('match the import').waitFor();
	expect(faults).toEqual([]);
});
