// Working in tables: cells, blocks, conditions, one change for many, and what follows from a new id.
import type { Page } from 'playwright-core';
import { beforeAll, expect, test } from 'vitest';
import { loaded, openPage, planReady, useServer } from './helpers';

const use = useServer();
let page: Page;
const faults: string[] = [];
const table = (query = '') => `${use.server.address}/p/gannet-sound/tables/vessel${query}`;
const press = (keys: string) => page.keyboard.press(keys);
const said = (text: RegExp | string) => page.getByTestId('message').filter({ hasText: text }).waitFor();
const grid = () => page.getByRole('grid');
const status = () => page.getByRole('status').filter({ hasText: 'rows' });
const ids = () => grid().locator('[role=rowheader] code').allTextContents();

/** A cell by the id of its row and the title of its column. */
async function cell(id: string, title: string): Promise<string> {
	const row = grid().locator('[role=row]', {
		has: page.locator('code', { hasText: new RegExp(`^${id}$`) })
	});
	const head = grid().locator('[role=columnheader]', { hasText: title }).first();
	const column = await head.getAttribute('aria-colindex');
	return (await row.locator(`[aria-colindex="${column}"]`).textContent())!.trim();
}

beforeAll(async () => {
	page = await openPage(use.browser, faults);
});

test('a cell is edited where it is, with the editor of its field, and taken back', async () => {
	await loaded(page, table());
	await grid().focus();
	for (let nth = 0; nth < 3; nth++) await press('ArrowRight');
	await press('ArrowDown');
	await press('e');
	const editor = page.getByTestId('cell-editor');
	await editor.getByText('1 to 400').waitFor();
	await page.keyboard.insertText('900');
	await editor.getByRole('alert').filter({ hasText: 'must be at most 400' }).waitFor();
	await press('Escape');
	await editor.waitFor({ state: 'detached' });
	expect(await cell('launch_02', 'Hull')).toBe('39');
	await press('e');
	await editor.locator('input').waitFor();
	await page.keyboard.insertText('41');
	await press('Enter');
	await said('Set hull of Petrel: 39 to 41');
	expect(await cell('launch_02', 'Hull')).toBe('41');
	// The focus is back in the table: arrows go on, and the last step is undone by its key.
	await press('ArrowDown');
	await press('Control+z');
	await said('Undone');
	await expect.poll(() => cell('launch_02', 'Hull')).toBe('39');
});

test('a reference is picked and bits are switched in the table', async () => {
	await loaded(page, table('?where=id+is+launch_05&cols=engine,flags'));
	await grid().focus();
	await press('ArrowRight');
	await press('e');
	const editor = page.getByTestId('cell-editor');
	await editor.getByRole('combobox').waitFor();
	await page.keyboard.type('Robin');
	await page.getByRole('option', { name: /Robin/ }).first().waitFor();
	// The first that fits is the one that Enter takes.
	await page.locator('[role=option][data-highlighted]').filter({ hasText: 'single_2' }).waitFor();
	await press('Enter');
	await said(/Set engine of Fulmar/);
	await expect.poll(() => cell('launch_05', 'Engine')).toBe('Robin single');
	await grid().focus();
	await press('ArrowRight');
	await press('e');
	await editor.getByLabel('flagship').check();
	await said(/Set marks of Fulmar: 0 to 8/);
	await press('Escape');
	await expect.poll(() => cell('launch_05', 'Marks')).toBe('8: flagship');
});

test('conditions are typed or put together, kept as chips in the address, and saved under a name', async () => {
	await loaded(page, table());
	await page.getByTestId('filter').fill('speed > 20');
	await expect.poll(() => status().textContent()).toMatch(/^\d+ of \d+ rows$/);
	await page.getByTestId('filter').press('Enter');
	await page.getByTestId('condition').filter({ hasText: 'Speed > 20' }).waitFor();
	await page.getByRole('button', { name: 'Add a filter…' }).click();
	await page.getByLabel('Field of the condition').selectOption('engine');
	await page.getByLabel('Condition', { exact: true }).selectOption('one');
	await page.getByLabel('Value of the condition').fill('twin_4, twin_6');
	await page.getByRole('button', { name: 'Only these' }).click();
	await page.getByTestId('condition').filter({ hasText: 'Engine is Jackdaw twin, Rook twin' }).waitFor();
	await expect
		.poll(async () => new Set(await Promise.all((await ids()).map((id) => cell(id, 'Engine')))))
		.toEqual(new Set(['Jackdaw twin', 'Rook twin']));
	const address = page.url();
	expect(address).toContain('where=speed');
	await page.getByRole('button', { name: /^Views/ }).click();
	await page.getByLabel('Name of the view').fill('Quick twins');
	await press('Enter');
	await said('Saved as “Quick twins”');
	await loaded(page, table());
	await page.getByRole('button', { name: 'Views (1)' }).click();
	await page.getByRole('link', { name: 'Quick twins' }).click();
	await page.getByTestId('condition').filter({ hasText: 'Speed > 20' }).waitFor();
	await page.getByRole('button', { name: 'Without the condition Speed > 20' }).click();
	await page.getByTestId('condition').filter({ hasText: 'Speed > 20' }).waitFor({ state: 'detached' });
	await loaded(page, table('?where=nothing+like+this'));
	await page.getByText('No rows match.').waitFor();
	await page.getByRole('link', { name: 'Show all rows' }).click();
	await grid().waitFor();
});

test('rows are ordered by several columns, and columns are chosen', async () => {
	await loaded(page, table());
	const head = (title: string) => grid().locator('[role=columnheader] button', { hasText: title }).first();
	// Answers come late: what was asked a moment ago counts all the same.
	let asked = 0;
	await page.route('**/tables/vessel/__data.json*', async (route) => {
		asked++;
		await new Promise((done) => setTimeout(done, 300));
		await route.continue();
	});
	await head('Grade').click();
	await head('Hull').click({ modifiers: ['Shift'] });
	await head('Hull').click({ modifiers: ['Shift'] });
	await page.waitForURL(/sort=grade%2C-hull/);
	expect(asked).toBe(3);
	await page.unroute('**/tables/vessel/__data.json*');
	const list = await Promise.all(
		(await ids())
			.slice(0, 12)
			.map(async (id) => [await cell(id, 'Grade'), await cell(id, 'Hull')].map(Number))
	);
	for (let at = 1; at < list.length; at++) {
		const [[grade, hull], [next, other]] = [list[at - 1]!, list[at]!] as [[number, number], [number, number]];
		expect(grade < next || (grade === next && hull >= other)).toBe(true);
	}
	await page.getByRole('button', { name: 'Columns' }).click();
	await page.getByLabel('Grade', { exact: true }).uncheck();
	await grid()
		.locator('[role=columnheader]', { hasText: /^Grade/ })
		.waitFor({ state: 'detached' });
	expect(page.url()).toContain('cols=');
});

test('a block is copied, and pasted over as one plan', async () => {
	await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
	await loaded(page, table('?cols=hull,speed&sort=id&where=id+has+barge'));
	await grid().focus();
	await press('ArrowRight');
	await press('Shift+ArrowDown');
	await press('Shift+ArrowRight');
	await press('Control+c');
	await said('Copied 4 values');
	const copied = await page.evaluate(() => navigator.clipboard.readText());
	expect(copied.split('\n').map((line) => line.split('\t').length)).toEqual([2, 2]);
	await page.evaluate(() => navigator.clipboard.writeText('70\t9\n71\t8\n'));
	await press('Control+v');
	const dialog = page.getByRole('dialog');
	await dialog.getByText('Set 4 values of 2 vessels').waitFor();
	await press('Control+Enter');
	await said('Set 4 values of 2 vessels');
	expect([await cell('barge_01', 'Hull'), await cell('barge_02', 'Speed')]).toEqual(['70', '8']);
});

test('one change for many: each value before and after, what would be wrong, one plan, one step back', async () => {
	await loaded(page, table('?where=engine+is+quad_8&cols=hull,speed'));
	const count = Number(/(\d+) of/.exec((await status().textContent())!)![1]);
	expect(count).toBeGreaterThan(1);
	const before = await cell((await ids())[0]!, 'Hull');
	await grid().focus();
	await press('ArrowRight');
	await press('w');
	const many = page.getByTestId('change-many');
	await many.getByLabel('How', { exact: true }).selectOption('formula');
	await many.getByLabel('By what').fill('hull * 9');
	await many
		.getByText(/must be at most 400/)
		.first()
		.waitFor();
	await many.getByLabel('By what').fill('hull *');
	await many.getByRole('alert').filter({ hasText: 'cannot be read' }).waitFor();
	await many.getByLabel('By what').fill('hull + grade');
	await many.getByText(`${count} of ${count} values change`).waitFor();
	await many.getByRole('img', { name: 'Distribution before and after' }).waitFor();
	await many.getByRole('button', { name: 'Preview changes' }).click();
	await page.getByRole('dialog').getByText(`Change hull of ${count} vessels by hull + grade`).waitFor();
	await press('Control+Enter');
	await said('Change hull of');
	await expect.poll(async () => cell((await ids())[0]!, 'Hull')).not.toBe(before);
	await press('Control+z');
	await said('Undone');
	await expect.poll(async () => cell((await ids())[0]!, 'Hull')).toBe(before);
});

test('a new id is checked as it is typed; what comes with a copy can be left, and a rename reaches everything', async () => {
	await loaded(page, table('?ticket=vessel%2Fcutter_06'));
	await page.getByTestId('ticket').waitFor();
	await press('c');
	const dialog = page.getByRole('dialog');
	await dialog.getByLabel('New id').fill('cutter_07');
	await dialog.getByText('The id “cutter_07” is already used.').waitFor();
	await dialog.getByLabel('New id').fill('Cutter_06');
	await dialog.getByText('differs from “cutter_06” only in its case').waitFor();
	await dialog.getByLabel('New id').fill('cutter_of_the_north');
	await dialog.getByText('the game allows 16').waitFor();
	await dialog.getByLabel('New id').fill('cutter_60');
	await dialog.getByText('9 of 16 letters').waitFor();
	await dialog.getByLabel('Name, English').fill('Stonechat');
	await press('Enter');
	await planReady(page);
	await dialog.getByText('Also changes').waitFor();
	await press('Control+Enter');
	await said('Copy Kestrel as new vessel cutter_60');
	await loaded(page, table('?ticket=vessel%2Fcutter_60'));
	await page.getByRole('heading', { name: /Stonechat/ }).waitFor();
	await press('r');
	await dialog.getByLabel('New id').fill('stonechat');
	await dialog.getByText('9 of 16 letters').waitFor();
	await dialog.getByRole('button', { name: 'Preview changes' }).click();
	await dialog.getByText('cutter_60 to stonechat').first().waitFor();
	await press('Control+Enter');
	await said('Rename Stonechat');
	// The page goes along with the record.
	await expect.poll(() => page.url()).toContain('ticket=vessel%2Fstonechat');
	await page.getByRole('heading', { name: /Stonechat/ }).waitFor();
	for (const [keys, done, id] of [
		['Control+z', 'Undone', 'cutter_60'],
		['Control+Shift+z', 'Redone', 'stonechat']
	] as const) {
		await press(keys);
		await said(`${done}: Rename Stonechat`);
		await expect.poll(() => page.url()).toContain(`ticket=vessel%2F${id}`);
		await page.getByRole('heading', { name: /Stonechat/ }).waitFor();
	}
});

test('upgrades as a tree: gone along, set by keyboard and by dragging, circles marked', async () => {
	await loaded(page, `${use.server.address}/p/gannet-sound/chains/vessel/upgrade`);
	const step = (name: string) => page.getByRole('treeitem', { name: new RegExp(`^${name}, `) });
	await step('Gannet').focus();
	await press('ArrowRight');
	await expect
		.poll(() => page.evaluate(() => document.activeElement?.getAttribute('data-step')))
		.toBe('launch_02');
	await press('e');
	await page.getByTestId('cell-editor').getByRole('combobox').fill('Gannet');
	await page.getByRole('option', { name: /^Gannet/ }).waitFor();
	await press('Enter');
	await said('Set upgrade of Petrel: launch_03 to launch_01');
	await page.getByRole('treeitem', { name: /leads back to/ }).waitFor();
	// What leads in a circle is at the end; it is dragged onto one that is in sight beside it.
	await step('Petrel').scrollIntoViewIfNeeded();
	const from = (await step('Petrel').boundingBox())!;
	const others = await page
		.locator('[data-step]:not([data-step=launch_01]):not([data-step=launch_02])')
		.all();
	let target: { id: string; box: { x: number; y: number } } | null = null;
	for (const other of others) {
		const box = (await other.boundingBox())!;
		if (!target && box.x > 300 && box.x < 1050 && box.y > 200)
			target = { id: (await other.getAttribute('data-step'))!, box };
	}
	await page.mouse.move(from.x + 60, from.y + 12);
	await page.mouse.down();
	await page.mouse.move(target!.box.x + 60, target!.box.y + 12, { steps: 4 });
	await page.mouse.up();
	await said(`Set upgrade of Petrel: launch_01 to ${target!.id}`);
	await page.getByRole('treeitem', { name: /leads back to/ }).waitFor({ state: 'detached' });
	await step('Petrel').focus();
	await press('Enter');
	await page.getByTestId('ticket').getByRole('heading', { name: 'Petrel' }).waitFor();
});

test('columns stay in sight, stand in groups, and are folded away; the address holds it all', async () => {
	await loaded(page, table());
	await page.getByRole('button', { name: 'Columns' }).click();
	await page.getByRole('button', { name: 'Keep Tow in sight' }).click();
	await page.waitForURL(/pin=tow/);
	await page.getByLabel('In the groups of the field guide').check();
	await page.waitForURL(/grouped=yes/);
	await press('Escape');
	const titles = () => grid().locator('[role=columnheader][aria-colindex] button').allTextContents();
	expect((await titles())[0]).toContain('Tow');
	await grid().getByRole('button', { name: 'Hull and way', exact: true }).click();
	await page.waitForURL(/fold=Hull\+and\+way/);
	await grid()
		.getByRole('button', { name: /^Hull and way \+\d+$/ })
		.waitFor();
	// What is pinned stays where it is while the others go by.
	const box = () => grid().locator('#cell-0-0').boundingBox();
	const before = await box();
	await grid().evaluate((element) => (element.scrollLeft = 900));
	await expect.poll(async () => (await box())!.x).toBe(before!.x);
	expect(await cell('launch_02', 'Tow')).not.toBe('');
	await page.reload();
	await page.locator('html[data-ready]').waitFor();
	expect((await titles())[0]).toContain('Tow');
	// The keyboard goes through pinned columns as through others, and a pinned cell is edited where it stands.
	await grid().focus();
	await press('ArrowRight');
	await press('ArrowDown');
	await press('e');
	const editor = page.getByTestId('cell-editor');
	await editor.waitFor();
	expect(Math.abs((await editor.boundingBox())!.x - before!.x)).toBeLessThan(12);
	await press('Escape');
});

test('any step of the ledger is reversed by itself, a moment gets a name, two are compared', async () => {
	await loaded(page, `${use.server.address}/p/gannet-sound/ledger`);
	const steps = page.locator('ol > li');
	const step = steps.filter({ hasText: 'Set engine of Fulmar' });
	await step.locator('summary').click();
	await step.getByRole('button', { name: /^Name this moment/ }).click();
	await page.keyboard.type('before the barges');
	await press('Enter');
	await said('Named this moment “before the barges”.');
	await step.getByRole('link', { name: 'what changed since' }).click();
	await page.getByTestId('between').getByText('From before the barges to now').waitFor();
	await page
		.getByTestId('between')
		.getByText('Marks', { exact: false })
		.or(page.getByTestId('between').getByText('flags'))
		.first()
		.waitFor();
	await step.getByRole('button', { name: 'Undo this step only' }).click();
	const dialog = page.getByRole('dialog');
	await dialog.getByText('Reverse: Set engine of Fulmar').waitFor();
	await press('Control+Enter');
	await said('Reverse: Set engine of Fulmar');
	await loaded(page, table('?where=id+is+launch_05&cols=engine,flags'));
	expect(await cell('launch_05', 'Engine')).toBe('Quiet two');
	expect(await cell('launch_05', 'Marks')).toBe('8: flagship');
	expect(faults).toEqual([]);
});
