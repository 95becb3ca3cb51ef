// A game of another make, from the folder to a mod that the game itself takes: nobody wrote a guide for it, and whether
// the mod is right is detected by the game's own loader and not by us.
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { unzipSync } from 'fflate';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { run, type Running } from '../games/signals-loader';
import { writeSignals } from '../games/signals.mjs';
import { openPage, planReady, useServer } from './helpers';

const games = mkdtempSync(join(tmpdir(), 'kettle-signals-'));
const game = join(games, 'signals');
writeSignals(game);
const use = useServer({ demo: false, roots: games });
const faults: string[] = [];
let page: Page;

beforeAll(async () => {
	page = await openPage(use.browser, faults);
});
afterAll(() => {
	rmSync(games, { recursive: true });
	expect(faults).toEqual([]);
});

const at = (path: string) => page.goto(`${use.server.address}/p/signals/${path}`);
const field = (path: string) => page.locator(`[data-field="${path}"]`);
const said = (words: string | RegExp) => page.getByTestId('message').filter({ hasText: words }).waitFor();
const press = (key: string) => page.keyboard.press(key);

async function type(path: string, text: string) {
	await field(path).locator('button[data-edit]').click();
	await page.keyboard.type(text);
	await press('Enter');
}

/** The game with my mod, as it is packed now. */
async function started(): Promise<Running> {
	const zip = await page.request.get(`${use.server.address}/p/signals/api/pack`);
	const mod = mkdtempSync(join(games, 'mod-'));
	for (const [path, bytes] of Object.entries(unzipSync(await zip.body()))) {
		mkdirSync(dirname(join(mod, path)), { recursive: true });
		writeFileSync(join(mod, path), bytes);
	}
	return run(game, mod);
}

test('the game alone is taken by its loader', () => {
	const { lamps, masts, keepers, rounds, faults: said } = run(game);
	expect(said).toEqual([]);
	expect([lamps.size, masts.size, keepers.length, rounds.length]).toEqual([24, 40, 30, 18]);
});

test('it is brought in and understood: types in shared lists, patterns, marks, blocks, sections, pairs', async () => {
	await page.goto(use.server.address);
	await page.getByLabel('Folder that holds').fill(game);
	await page.getByRole('button', { name: 'Import', exact: true }).click();
	await page.waitForURL(/\/p\/signals\/first/);
	await page.goto(`${use.server.address}/p/signals/setup`);
	await at('guide');
	await page.getByTestId('understood').getByText('files are read as data').waitFor();
	const kinds = page.getByTestId('kinds');
	for (const kind of ['lamp', 'mast', 'good', 'keeper', 'round', 'fixed', 'text'])
		await kinds.locator(`[href$="/guide/${kind}"]`).first().waitFor();
	await at('snags');
	await page.getByText('No snags').first().waitFor();
	await at('guide/lamp');
	await page.getByText('9 records refer to another of their kind in of').waitFor();
	await at('guide/mast?field=height');
	await page.getByTestId('statements').getByText('“@” before').first().waitFor();
});

test('records go by the names that they have in a field, unless somebody says otherwise', async () => {
	const heading = (name: string) => page.getByTestId('ticket').getByRole('heading', { name });
	const choose = async (from: string) => {
		await at('guide/lamp');
		await page.getByLabel('Shown name').selectOption(from);
		await said(/^Set for Lamp/);
		await at('tables/lamp?ticket=lamp%2Flamp_salt_gull');
	};
	await at('guide/lamp');
	expect(await page.getByLabel('Shown name').inputValue()).toBe('title');
	await page.getByText('24 of 26 records have a short text there, no two the same.').waitFor();
	await choose('');
	await heading('lamp_salt_gull').waitFor();
	await choose('title');
	await heading('Salt Gull').waitFor();
	// What refers to it says the name, too.
	await at('tables/mast?ticket=mast%2Fmast_grey_gull');
	await page.getByTestId('ticket').getByRole('link', { name: 'Grey Gull' }).first().waitFor();
	await page.getByRole('button', { name: 'Copy as new' }).click();
	expect(await page.getByRole('dialog').getByLabel('Name', { exact: true }).getAttribute('placeholder')).toBe(
		'Grey Gull'
	);
	await press('Escape');
});

test('values, references and lists are changed, a lamp is added, and the game takes it', async () => {
	await at('tables/lamp?ticket=lamp%2Flamp_salt_gull');
	// What it inherits is shown, and may be said by itself.
	await field('oil').getByTestId('taken-over').filter({ hasText: 'any_lamp' }).waitFor();
	await type('oil', '30');
	await said(/oil/);
	await at('tables/mast?ticket=mast%2Fmast_grey_gull');
	await field('lamp').locator('input').fill('lamp_far_gull');
	await press('Enter');
	await said(/lamp/);
	await type('stores[0][1]', '99');
	await said(/99/);
	await at('tables/keeper?ticket=keeper%2FKeeper%20Far%20Gull');
	await type('age', '44');
	await said(/age/);
	await at('tables/round?ticket=round%2Fround_3');
	await type('load[1].count', '7');
	await said(/7/);
	await at('snags');
	await page.getByText('No snags').first().waitFor();
	const { lamps, masts, keepers, rounds, faults: log } = await started();
	expect(log).toEqual([]);
	expect(lamps.get('lamp_salt_gull')).toMatchObject({ oil: 30, colour: 'red' });
	expect(masts.get('mast_grey_gull')).toMatchObject({ lamp: 'lamp_far_gull' });
	expect((masts.get('mast_grey_gull')!.stores as unknown[])[0]).toEqual(['oil', 99]);
	expect(keepers[1]).toMatchObject({ age: '44', 'watch.from': '1' });
	expect(rounds.find(({ id }) => id === 'round_3')).toMatchObject({ 'load[1].count': '7' });
});

test('a record is added as a copy, a mistake is a snag where the game would stop, and is taken back', async () => {
	await at('tables/lamp?ticket=lamp%2Flamp_far_gull');
	await page.getByRole('button', { name: 'Copy as new' }).click();
	const dialog = page.getByRole('dialog');
	await dialog.getByRole('textbox').first().fill('lamp_by_the_stair');
	await press('Enter');
	await planReady(page);
	await press('Control+Enter');
	await dialog.waitFor({ state: 'detached' });
	await at('tables/mast?ticket=mast%2Fmast_far_gull');
	await field('lamp').locator('input').fill('lamp_by_the_stair');
	await press('Enter');
	await said(/lamp/);
	const right = await started();
	expect(right.faults).toEqual([]);
	expect(right.masts.get('mast_far_gull')!.lamp).toBe('lamp_by_the_stair');
	expect(right.lamps.get('lamp_by_the_stair')).toMatchObject({
		colour: right.lamps.get('lamp_far_gull')!.colour
	});

	await at('tables/keeper?ticket=keeper%2FKeeper%20Grey%20Gull');
	await field('mast').locator('input').fill('mast_of_nowhere');
	await press('Enter');
	await said(/mast/);
	await at('snags');
	await page.locator('[data-rule=missing-reference]').filter({ hasText: 'mast_of_nowhere' }).waitFor();
	expect((await started()).faults).toEqual(['a keeper lives at mast_of_nowhere, which is nowhere']);
	await press('Control+z');
	await said('Undone');
	await page.getByText('No snags').first().waitFor();
	expect((await started()).faults).toEqual([]);
});
