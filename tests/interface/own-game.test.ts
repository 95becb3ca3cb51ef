// A game that nobody told about: its folder, its list of add-ons, its program and its log are told in a form, and then a
// mod is tried in it and taken out without a trace.
import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { writeBeacons } from '../games/beacons.mjs';
import { writeFerries } from '../games/ferries.mjs';
import { openPage, useServer } from './helpers';

const games = mkdtempSync(join(tmpdir(), 'kettle-beacons-'));
const game = join(games, 'beacons');
writeBeacons(game);
writeFileSync(join(game, 'settings.ini'), '[Addons]\r\non = old_charts\r\n');
const program = fileURLToPath(new URL('../games/beacons.mjs', import.meta.url));
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

const at = (path: string, project = 'beacons') => page.goto(`${use.server.address}/p/${project}/${path}`);
const said = (words: string | RegExp) => page.getByTestId('message').filter({ hasText: words }).waitFor();

/** Every file of the game with its digest, apart from the log that it writes. */
const digests = (game = join(games, 'beacons')) =>
	readdirSync(game, { recursive: true })
		.map(String)
		.filter((path) => !/^logs|\.log$/.test(path) && statSync(join(game, path)).isFile())
		.sort()
		.map(
			(path) =>
				`${path} ${createHash('sha256')
					.update(readFileSync(join(game, path)))
					.digest('hex')}`
		);
const before = digests();
const folders = () => readdirSync(join(game, 'Addons')).sort();

const setNumber = async (path: string, text: string) => {
	await page.locator(`[data-field="${path}"] [data-edit]`).click();
	await set(path, text);
};
const set = async (path: string, text: string) => {
	await page.locator(`[data-field="${path}"]`).locator('input').fill(text);
	await page.keyboard.press('Enter');
};

test('its start is told in a form, each part tried out beside it', async () => {
	await page.goto(use.server.address);
	await page.getByLabel('Folder that holds').fill(game);
	await page.getByRole('button', { name: 'Import', exact: true }).click();
	await page.waitForURL(/\/p\/beacons\/first/);
	await at('trial');
	await page.getByRole('link', { name: 'Set it up' }).press('Enter');
	await page.getByRole('heading', { name: 'How your game is started' }).waitFor();
	expect(await page.getByLabel('The game’s folder', { exact: true }).inputValue()).toBe(game);
	const place = page.getByRole('group', { name: 'Where your mod goes' });
	await place.getByLabel('Folder of your mod').fill('../outside/{mod}');
	await place.getByText('is outside the folder').waitFor();
	await place.getByLabel('Folder of your mod').fill('Addons/{mod}');
	await place.getByText(/Your mod goes into .*Addons\/[\w-]+\./).waitFor();
	const list = page.getByRole('group', { name: 'How it is switched on' });
	await list.getByRole('radio', { name: 'A field of a configuration' }).check();
	await list.getByLabel('That file').fill('settings.ini');
	await list.getByLabel('The field').fill('Addons/active');
	await list.getByLabel('Between two names').fill(';');
	await list.getByText('has no setting “Addons/active”').waitFor();
	await list.getByLabel('The field').fill('Addons/on');
	await list.getByText('settings.ini lists old_charts now').waitFor();
	await list.getByText('on = old_charts;').waitFor();
	await list.getByRole('radio', { name: 'A line in a list' }).check();
	await list.getByLabel('That file').fill('Addons/enabled.txt');
	await list.getByText('Addons/enabled.txt lists old_charts now').waitFor();
	const run = page.getByRole('group', { name: 'What is run' });
	await run.getByLabel('Program').fill('bin/none');
	await run.getByText('There is no program bin/none').waitFor();
	await run.getByLabel('Program').fill(process.execPath);
	await run.getByLabel('Arguments').fill(program);
	await run.getByText(`${program} is started in ${game}`).waitFor();
	await run.getByRole('radio', { name: 'its log says' }).check();
	await run.getByLabel('What its log says at the end').fill('all lamps are lit');
	const log = page.getByRole('group', { name: 'Its log' });
	await log.getByLabel('File of the log').fill('logs/boot.txt');
	await log.getByText('logs/boot.txt is not there yet').waitFor();
	// As it was seen by hand, and pasted.
	await log.getByText('or paste one').click();
	await log
		.getByLabel('A log, pasted')
		.fill(
			'[00:00] note Addons\\old_charts - add-on taken\n[00:01] BAD data\\beacons.json(9) - beacon north_gull is left out: no lamp x\n[00:02] odd data\\beacons.json(33) - beacon south_auk has 12 keepers\n[00:03] note data - all lamps are lit\n'
		);
	await log.getByRole('button', { name: 'Read the log' }).press('Enter');
	await log.getByRole('button', { name: /BAD data/ }).press('Enter');
	// What was guessed is corrected.
	await log.getByLabel('Severity').fill('BAD');
	await log.getByLabel('File', { exact: true }).fill('data\\beacons.json');
	await log.getByLabel('Line of the file').fill('9');
	await log.getByLabel('Record').fill('north_gull');
	await log.getByText('2 of 4 lines are read like this.').waitFor();
	await log.getByRole('checkbox', { name: /^BAD/ }).check();
	await page.getByRole('button', { name: 'Save' }).press('Enter');
	await said('Saved how the game is started');
	await page.getByRole('link', { name: 'Go to the trial' }).press('Enter');
	await page.getByRole('button', { name: 'Install and start the game' }).waitFor();
	expect(digests()).toEqual(before);
});

test('a mod is tried, refused with its record, mended, loaded cleanly, and taken out without a trace', async () => {
	await at('tables/beacons?ticket=beacons%2Fnorth_gull');
	await set('lamp', 'candle');
	await said(/lamp/);
	await at('trial');
	await page.getByTestId('start-trial').press('Enter');
	await page.getByTestId('outcome').getByText('1 refused').waitFor();
	// The reference was only detected: it warns, and does not block.
	await page.getByTestId('held').getByText('No snag foretold the refusal.').waitFor();
	// What the game refused is put into the field guide: from now on it is foretold.
	const log = page.getByTestId('log');
	await log.getByText('Lamp must be one of the lamps.').waitFor();
	await log.getByRole('button', { name: 'Put it in the field guide' }).press('Enter');
	await page.getByText('1 block').waitFor();
	await page.getByTestId('start-trial').press('Enter');
	await page.getByTestId('held').getByText('A snag foretold the refusal.').waitFor();
	expect(folders().length).toBe(3);
	expect(readFileSync(join(game, 'Addons/enabled.txt'), 'utf8')).toMatch(
		/^# one a line\r\nold_charts\r\n[\w-]+\r\n$/
	);
	await page.getByTestId('log').getByRole('link', { name: 'ticket of north_gull' }).press('Enter');
	await set('lamp', 'arc');
	await said(/arc/);
	await at('trial');
	await page.getByTestId('start-trial').press('Enter');
	await page.getByTestId('outcome').getByText('Loaded cleanly').waitFor();
	await page.getByRole('button', { name: 'Remove from the game' }).press('Enter');
	await said('It is as it was, byte for byte');
	expect(digests()).toEqual(before);
	expect(folders()).toEqual(['enabled.txt', 'old_charts']);
});

test('another one, whose archives a mod goes into, is told in the form, tried, and as it was afterwards', async () => {
	const ferries = join(games, 'ferries');
	writeFerries(ferries);
	const start = digests(ferries);
	await page.goto(`${use.server.address}/?all`);
	await page.getByLabel('Folder that holds').fill(ferries);
	await page.getByRole('button', { name: 'Import', exact: true }).click();
	await page.waitForURL(/\/p\/ferries\/first/);
	await at('start', 'ferries');
	const place = page.getByRole('group', { name: 'Where your mod goes' });
	await place.getByLabel('In place of the game’s own files').check();
	expect(await place.getByLabel('Folder that the paths of your mod begin from').inputValue()).toBe('.');
	const twins = place.getByLabel('Archives with the same contents');
	await twins.fill('res/core.pak = res/none.pak');
	await place.getByText('There is no archive res/none.pak').waitFor();
	await twins.fill('res/core.pak = res/low.pak');
	await place.getByText('Each is backed up first').waitFor();
	const run = page.getByRole('group', { name: 'What is run' });
	await run.getByLabel('Program').fill(process.execPath);
	await run
		.getByLabel('Arguments')
		.fill([fileURLToPath(new URL('../games/ferries.mjs', import.meta.url)), '--small'].join('\n'));
	await run.getByText('is started in').waitFor();
	const log = page.getByRole('group', { name: 'Its log' });
	await log.getByLabel('File of the log').fill('ferries.log');
	await log.getByText('or paste one').click();
	await log
		.getByLabel('A log, pasted')
		.fill(
			'info | res/core.pak | 0 | opened, 3 files\nfail | res/core.pak/ferries.csv | 3 | ferry_2 berths at x: no such pier\n'
		);
	await log.getByRole('button', { name: 'Read the log' }).press('Enter');
	await log.getByRole('button', { name: /^fail/ }).press('Enter');
	await log.getByLabel('Severity').fill('fail');
	await log.getByLabel('File', { exact: true }).fill('res/core.pak/ferries.csv');
	await log.getByLabel('Line of the file').fill('3');
	await log.getByLabel('Record').fill('ferry_2');
	await log.getByText('2 of 2 lines are read like this.').waitFor();
	await log.getByRole('checkbox', { name: /^fail/ }).check();
	await page.getByRole('button', { name: 'Save' }).press('Enter');
	await said('Saved how the game is started');
	// The game plays from the small archive; the mod changes the big one.
	await at('tables/ferries?ticket=ferries%2Fferry_2', 'ferries');
	await setNumber('seats', '900');
	await said(/seats/);
	await at('trial', 'ferries');
	await page.getByTestId('start-trial').press('Enter');
	await page.getByTestId('outcome').getByText('1 refused').waitFor();
	// The log leads to the record, whatever was typed last before it was saved.
	await page.getByTestId('log').getByRole('link', { name: 'ticket of ferry_2' }).waitFor();
	// The number that the game took is only the least that the bound may be.
	const most = page.getByTestId('log').getByRole('spinbutton', { name: 'Seats at most' });
	expect(await most.inputValue()).toBe('118');
	await most.fill('300');
	await page.getByRole('button', { name: 'Put it in the field guide' }).press('Enter');
	await page.getByText('1 block').waitFor();
	// The log speaks of the small archive; the link leads to what my mod changed.
	await page.getByTestId('log').getByRole('link', { name: 'ticket of ferry_2' }).press('Enter');
	await page.waitForURL(/ticket=ferries%2Fferry_2/);
	await setNumber('seats', '200');
	await said(/seats/);
	await at('trial', 'ferries');
	await page.getByTestId('start-trial').press('Enter');
	await page.getByTestId('outcome').getByText('Loaded cleanly').waitFor();
	const changed = (now: string[]) =>
		now.filter((line) => !start.includes(line)).map((line) => line.split(' ')[0]);
	expect(changed(digests(ferries))).toEqual(['res/core.pak', 'res/low.pak']);
	await page.getByRole('link', { name: 'Files, backups and proof' }).press('Enter');
	const files = page.getByRole('table', { name: 'Files in the game' });
	await files.waitFor();
	expect(await files.getByRole('row', { name: /res\/.*\.pak replaced/ }).count()).toBe(2);
	await page.getByRole('button', { name: 'Remove from the game' }).press('Enter');
	await page.getByRole('heading', { name: 'As it was, byte for byte' }).waitFor();
	expect(digests(ferries)).toEqual(start);
	const backups = page.getByRole('region', { name: 'Backups' }).getByRole('listitem');
	await backups.getByRole('button', { name: /^Delete the backup/ }).press('Enter');
	await said('Deleted the backup');
	await page.getByText('None yet. The first installation makes one.').waitFor();
});
