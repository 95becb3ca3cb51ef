// Which of many steps brings a fault about: found on the page by starting the game with some of them.
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { beforeAll, expect, test } from 'vitest';
import type { NarrowView } from '$core/views';
import { digestsBelow, mineOf } from '../attack/helpers';
import { AT_LENGTH } from '../runs';
import { openPage, useServer } from './helpers';

const SLUG = 'gannet-sound';
const use = useServer();
const faults: string[] = [];
let page: Page;
beforeAll(async () => {
	page = await openPage(use.browser, faults);
});

const post = (path: string, body: unknown) =>
	fetch(`${use.server.address}/p/${SLUG}/api/${path}`, {
		method: 'POST',
		headers: { 'content-type': 'application/json', origin: use.server.address },
		body: JSON.stringify(body)
	});
const set = async (kind: string, id: string, field: string, value: string) => {
	const answer = await post('apply', { intention: { do: 'set', kind, id, field, value } });
	expect(answer.status, await answer.clone().text()).toBe(200);
};
const state = async () =>
	(await (await fetch(`${use.server.address}/p/${SLUG}/api/narrow`)).json()) as NarrowView;
const at = (path: string) => page.goto(`${use.server.address}/p/${SLUG}/${path}`);
const gameFolder = () => join(use.server.home, 'games', SLUG);
const gameNow = () => {
	const now = digestsBelow(gameFolder());
	delete now['game.log'];
	return now;
};

/** Makes steps that harm nothing, and one that does. */
async function steps(from: number, to: number, guilty: number): Promise<void> {
	for (let nth = from; nth < to; nth++)
		if (nth === guilty) await set('vessel', 'tug_05', 'engine', 'no_such_engine');
		else await set('vessel', `cutter_0${1 + (nth % 6)}`, 'seats', String(2 + ((nth * 7) % 5)));
}

let before: Record<string, string>;
let game: Record<string, string>;

/** How many steps there are, and which of them does harm. */
const [STEPS, GUILTY] = AT_LENGTH ? [64, 41] : [12, 7];

test(`the guilty one of ${STEPS} steps is found on the page, in at most twice the logarithm of starts`, async () => {
	const start = (await state()).counts.steps;
	game = gameNow();
	await steps(start, STEPS, GUILTY);
	expect((await state()).counts.steps).toBe(STEPS);
	before = await mineOf(use.server.url, SLUG);
	await at('trial');
	await page.getByTestId('start-trial').press('Enter');
	await page.getByTestId('outcome').getByText('refused').waitFor();
	await page.getByRole('button', { name: 'Remove from the game' }).press('Enter');
	await page.getByTestId('message').filter({ hasText: 'byte for byte' }).waitFor();
	const line = page.getByTestId('log').getByRole('listitem').filter({ hasText: 'no_such_engine' });
	await line.getByRole('link', { name: 'which change?' }).first().press('Enter');
	await page.getByRole('radio', { name: `${STEPS} steps of the ledger` }).check();
	expect(await page.getByRole('textbox', { name: 'Line of the log' }).inputValue()).toContain(
		'no_such_engine'
	);
	await page.getByRole('button', { name: 'Narrow it down' }).press('Enter');
	const found = page.getByRole('status', { name: 'Found' });
	await found.getByText('This step alone causes it:').waitFor({ timeout: 60_000 });
	expect(await found.getByRole('listitem').allInnerTexts()).toEqual([
		expect.stringMatching(new RegExp(`^${GUILTY + 1}\\. .*engine`))
	]);
	const { run } = await state();
	expect(run!.found!.causes).toEqual([[GUILTY]]);
	expect(run!.tries.length).toBeLessThanOrEqual(2 * Math.ceil(Math.log2(STEPS)));
	expect(await page.getByRole('table', { name: 'Tries' }).getByRole('row').count()).toBe(
		run!.tries.length + 1
	);
	// My mod and the game's folder are as they were.
	expect(await mineOf(use.server.url, SLUG)).toEqual(before);
	expect(gameNow()).toEqual(game);
	await found.getByRole('link', { name: `${GUILTY + 1}.` }).press('Enter');
	await page.waitForURL(/\/ledger#step-\d+$/);
	expect(faults).toEqual([]);
});

test('stopped, killed and gone on with: nothing is tried twice, and the game’s folder is as it was', async () => {
	// The mod of the demo has faults of its own: it is a line that is looked for.
	const { line } = (await state()).run!;
	await at(`narrow?line=${encodeURIComponent(line!)}`);
	await page.getByRole('button', { name: 'Start anew' }).press('Enter');
	await page.getByRole('button', { name: 'Narrow it down' }).press('Enter');
	await expect.poll(async () => (await state()).run!.tries.length, { timeout: 30_000 }).toBeGreaterThan(1);
	await page.getByRole('button', { name: 'Stop', exact: true }).press('Enter');
	await page.getByRole('button', { name: 'Go on', exact: true }).waitFor();
	expect(gameNow()).toEqual(game);
	const tried = (await state()).run!.tries;
	await page.getByRole('button', { name: 'Go on', exact: true }).press('Enter');
	await expect
		.poll(async () => (await state()).run!.tries.length, { timeout: 30_000 })
		.toBeGreaterThan(tried.length);
	await use.server.kill();
	await use.server.start();
	const cut = (await state()).run!;
	expect(cut.state).toBe('stopped');
	expect(cut.tries.slice(0, tried.length)).toEqual(tried);
	expect(existsSync(join(gameFolder(), 'mods/longline'))).toBe(false);
	await at('narrow');
	await page.getByText('The server was restarted in the middle of it.').waitFor();
	await page.getByRole('button', { name: 'Go on', exact: true }).press('Enter');
	await page
		.getByRole('status', { name: 'Found' })
		.getByText('This step alone causes it:')
		.waitFor({ timeout: 60_000 });
	const { run } = await state();
	expect(run!.tries.slice(0, cut.tries.length)).toEqual(cut.tries);
	expect(run!.tries.length).toBeLessThanOrEqual(2 * Math.ceil(Math.log2(STEPS)));
	expect(gameNow()).toEqual(game);
	rmSync(join(gameFolder(), 'game.log'), { force: true });
});

test('by records: the guilty one among those that my mod changes', async () => {
	const { line } = (await state()).run!;
	await at('narrow');
	await page.getByRole('button', { name: 'Start anew' }).press('Enter');
	const { counts } = await state();
	await page.getByRole('radio', { name: 'This line is in its log' }).check();
	await page.getByRole('textbox', { name: 'Line of the log' }).fill(line!);
	await page.getByRole('radio', { name: `${counts.records} changed records` }).check();
	await page.getByRole('button', { name: 'Narrow it down' }).press('Enter');
	const found = page.getByRole('status', { name: 'Found' });
	await found.getByText('This record alone causes it:').waitFor({ timeout: 60_000 });
	const guilty = found.getByRole('link');
	expect(await guilty.count()).toBe(1);
	expect(await guilty.getAttribute('href')).toContain('tables/vessel?ticket=vessel%2Ftug_05');
	expect(gameNow()).toEqual(game);
	rmSync(join(gameFolder(), 'game.log'), { force: true });
});

/** Narrows a line of the log down from the page, among parts of one sort. @returns what is found */
async function narrowed(line: string, among: string) {
	await at('narrow');
	await page.getByRole('button', { name: 'Start anew' }).press('Enter');
	await page.getByRole('radio', { name: 'This line is in its log' }).check();
	await page.getByRole('textbox', { name: 'Line of the log' }).fill(line);
	await page.getByRole('radio', { name: among }).check();
	await page.getByRole('button', { name: 'Narrow it down' }).press('Enter');
	return page.getByRole('status', { name: 'Found' });
}

test('by options, of which two exclude each other: the guilty one, although it is never in with all', async () => {
	const { line } = (await state()).run!;
	const cell = (id: string, field: string, value: string) => [{ kind: 'vessel', id, field, value }];
	const options = [
		{ id: 'roomy', title: 'More seats', cells: cell('cutter_02', 'seats', '12') },
		{ id: 'odd', title: 'An odd engine', oneOf: 'Engine', cells: cell('tug_06', 'engine', 'no_such_boiler') },
		{ id: 'plain', title: 'A plain engine', oneOf: 'Engine', cells: cell('tug_06', 'engine', 'twin_6') }
	];
	expect((await post('options', { do: 'save', options })).status).toBe(200);
	const wanted = line!.replaceAll('tug_05', 'tug_06').replaceAll('no_such_engine', 'no_such_boiler');
	const found = await narrowed(wanted, '3 options of my mod');
	await found.getByText('This option alone causes it:').waitFor({ timeout: 60_000 });
	expect(await found.getByRole('link').allInnerTexts()).toEqual(['2. An odd engine']);
	expect(gameNow()).toEqual(game);
	expect((await post('options', { do: 'save', options: [] })).status).toBe(200);
});

test('by other mods: the one without which it does not occur; the load order is as it was, after a kill too', async () => {
	// One more mod of somebody else, with a fault of its own.
	const folder = join(gameFolder(), 'mods/fog_horns/data');
	mkdirSync(folder, { recursive: true });
	const about = { name: 'fog_horns', title: 'Fog Horns', version: '1', gameVersion: '1.4' };
	writeFileSync(join(folder, '../mod.json'), JSON.stringify(about));
	writeFileSync(join(folder, 'engines.ini'), '[twin_4]\npower   = lots\nfuel    = 78.5\nnoise   = 71\n');
	const order = join(gameFolder(), 'load-order.json');
	const listed = readFileSync(order, 'utf8').replace('"quiet_harbours"', '"quiet_harbours", "fog_horns"');
	writeFileSync(order, listed);
	game = gameNow();
	const line = 'DROPPED mods/fog_horns/data/engines.ini:1 engine twin_4: power "lots" is not a whole number';
	const found = await narrowed(line, '3 other mods');
	await found.getByText('It occurs with this mod beside yours:').waitFor({ timeout: 60_000 });
	expect(await found.getByRole('link').first().innerText()).toBe('3. fog_horns');
	expect(gameNow()).toEqual(game);

	await page.getByRole('button', { name: 'Start anew' }).press('Enter');
	await post('narrow', { do: 'start', by: 'mods', line });
	await expect.poll(async () => (await state()).run!.tries.length, { timeout: 30_000 }).toBeGreaterThan(0);
	await use.server.kill();
	await use.server.start();
	await expect.poll(gameNow, { timeout: 20_000 }).toEqual(game);

	// With my mod in the game it is there again afterwards, where it was.
	await post('narrow', { do: 'forget' });
	expect((await post('trial', {})).status).toBe(200);
	const installed = gameNow();
	await post('narrow', { do: 'start', by: 'mods', line });
	await expect.poll(async () => (await state()).run!.state, { timeout: 60_000 }).toBe('done');
	expect((await state()).run!.found!.causes).toEqual([[2]]);
	expect(gameNow()).toEqual(installed);
	expect((await post('restore', {})).status).toBe(200);
	expect(gameNow()).toEqual(game);
});
