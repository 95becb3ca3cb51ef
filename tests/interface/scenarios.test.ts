// What a change does: a rescue played on the page without my mod and with it, as the stand-in plays it by hand.
import { execFileSync } from 'node:child_process';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { ScenariosPage } from '$core/views';
import { digestsBelow } from '../attack/helpers';
import { openPage, useServer } from './helpers';

const SLUG = 'gannet-sound';
const CALL = 'lost_raft_1';
const use = useServer();
const faults: string[] = [];
const folder = mkdtempSync(join(tmpdir(), 'kettle-scenarios-'));
let page: Page;
beforeAll(async () => {
	page = await openPage(use.browser, faults);
});
afterAll(() => {
	rmSync(folder, { recursive: true });
	expect(faults).toEqual([]);
});

const at = (path: string) => page.goto(`${use.server.address}/p/${SLUG}/${path}`);
const post = (path: string, body: unknown) =>
	fetch(`${use.server.address}/p/${SLUG}/api/${path}`, {
		method: 'POST',
		headers: { 'content-type': 'application/json', origin: use.server.address },
		body: JSON.stringify(body)
	});
const state = async () =>
	(await (await fetch(`${use.server.address}/p/${SLUG}/api/scenarios`)).json()) as ScenariosPage;
const said = (words: string | RegExp) => page.getByTestId('message').filter({ hasText: words }).waitFor();
const gameFolder = () => join(use.server.home, 'games', SLUG);
const gameNow = () => {
	const now = digestsBelow(gameFolder());
	delete now['game.log'];
	return now;
};
const playButton = () => page.getByRole('button', { name: 'Play', exact: true, disabled: false });
const table = (name: string) => page.getByRole('table', { name });

interface Rescue {
	seed: number;
	saved: number;
	lost: number;
	minutes: number;
	fuel: number;
}
/** Rescues as the stand-in plays them by itself. */
const byHand = (game: string, vessel: string, times: number, seed: number): Rescue[] =>
	execFileSync(
		process.execPath,
		[
			fileURLToPath(new URL('../../standin/gannet.mjs', import.meta.url)),
			game,
			'play',
			CALL,
			vessel,
			'--times',
			String(times),
			'--seed',
			String(seed)
		],
		{ encoding: 'utf8', maxBuffer: 1 << 26 }
	)
		.split('\n')
		.filter((line) => line !== '')
		.map((line) => JSON.parse(line) as Rescue);

let game: Record<string, string>;

test('a faster cutter saves more people: 2,000 rescues on each side, each as by hand, and the game as it was', async () => {
	const faster = await post('apply', {
		intention: { do: 'set', kind: 'vessel', id: 'cutter_05', field: 'speed', value: '24' }
	});
	expect(faster.status).toBe(200);
	game = gameNow();
	await at('trial');
	await page.getByTestId('start-trial').press('Enter');
	await page.getByTestId('outcome').waitFor();
	cpSync(gameFolder(), join(folder, 'mine'), { recursive: true });
	await page.getByRole('button', { name: 'Remove from the game' }).press('Enter');
	await said('byte for byte');
	cpSync(gameFolder(), join(folder, 'base'), { recursive: true });

	// A command that came with a guide is run when somebody here has agreed to it.
	const asked = { do: 'play', scenario: 'rescue', inputs: { vessel: 'cutter_05', call: CALL } };
	const refused = await post('scenarios', asked);
	expect(refused.status).toBe(422);
	expect(((await refused.json()) as { message: string }).message).toMatch(/agree to run it/);
	await at('scenarios');
	await page.getByRole('button', { name: 'A rescue' }).waitFor();
	await page.getByText('gannet.mjs').first().waitFor();
	for (const [what, id] of [
		['vessel', 'cutter_05'],
		['call', CALL]
	] as const) {
		await page.getByRole('combobox', { name: `Another ${what}` }).fill(id);
		await page.getByRole('option').filter({ hasText: id }).first().click();
	}
	await page.getByRole('checkbox', { name: 'Run this command' }).check();
	await page.getByLabel('First seed').fill('17');
	await playButton().press('Enter');
	await page.locator('[data-outcome=saved]').waitFor();
	await playButton().waitFor();

	const [base, mine] = (['base', 'mine'] as const).map((side) =>
		byHand(join(folder, side), 'cutter_05', 2000, 17)
	);
	const csv = await (await fetch(`${use.server.address}/p/${SLUG}/api/scenarios?csv`)).text();
	const rows = (side: string, plays: Rescue[]) =>
		plays.map(({ seed, saved, lost, minutes, fuel }) => [side, seed, saved, lost, minutes, fuel].join(','));
	const all = csv.trim().split('\n');
	expect(all[0]).toBe('side,seed,saved,lost,minutes,fuel');
	expect(all.slice(1).sort()).toEqual([...rows('base', base!), ...rows('mine', mine!)].sort());
	const gain = mine!.reduce((sum, { saved }, nth) => sum + saved - base![nth]!.saved, 0) / 2000;
	const { run } = await state();
	const saved = run!.outcomes.find(({ name }) => name === 'saved')!;
	expect(saved.difference.value).toBeCloseTo(gain, 10);
	expect(saved.difference.low).toBeLessThan(gain);
	expect(saved.difference.low).toBeGreaterThan(0);
	expect(saved.count).toBe(2000);
	await page.locator('[data-outcome=saved]').getByText('Better.').waitFor();
	await page.getByRole('img', { name: /^People saved: mean/ }).waitFor();
	await table('Among similar records').getByRole('row', { name: /Speed/ }).waitFor();
	expect(gameNow()).toEqual(game);
});

test('which change it comes from, and the curve over other values', async () => {
	await at('scenarios');
	await page.getByLabel('Times').fill('120');
	await page.getByRole('checkbox', { name: 'Also play each' }).check();
	await page.getByRole('checkbox', { name: 'Try other values' }).check();
	await page.getByLabel('Field', { exact: true }).selectOption({ label: 'Speed' });
	const base = byHand(join(folder, 'base'), 'cutter_05', 120, 17);
	await page.getByLabel('From', { exact: true }).fill('21');
	await page.getByLabel('To', { exact: true }).fill('24');
	await playButton().press('Enter');
	await page.getByRole('heading', { name: 'Over Speed' }).waitFor({ timeout: 60_000 });
	await playButton().waitFor({ timeout: 60_000 });
	const { run } = await state();
	expect(run!.state, run!.said ?? '').toBe('done');
	// The first and the last value of the curve are those of the game and of my mod.
	const means = run!.sweep!.points.map(({ means: { saved } }) => saved!.value);
	const saved = run!.outcomes.find(({ name }) => name === 'saved')!;
	expect(run!.sweep).toMatchObject({ base: 21, mine: 24 });
	expect(means[0]).toBe(base.reduce((sum, one) => sum + one.saved, 0) / 120);
	expect(means.at(-1)).toBe(saved.mine.mean);
	expect(run!.sweep!.points.map(({ value }) => value)).toEqual([21, 22, 23, 24]);
	// One record does it, all others do nothing to this vessel.
	const alone = table('Each change alone');
	await alone.getByRole('row', { name: /^Vessel Merlin \+/ }).waitFor();
	await alone.getByRole('row', { name: /^Vessel Kittiwake –/ }).waitFor();
	const merlin = run!.parts!.find(({ title }) => title === 'Vessel Merlin')!;
	expect(merlin.differences.saved).toEqual(saved.difference);
	const idle = run!.parts!.filter(({ differences }) => differences.saved!.value === 0);
	expect(idle.length).toBe(run!.parts!.length - 1);
	expect(gameNow()).toEqual(game);
});

test('it can be stopped, keeps others away meanwhile, and a killed server leaves the game as it was', async () => {
	await at('scenarios');
	await page.getByLabel('Times').fill('100000');
	await page.getByRole('checkbox', { name: 'Also play each' }).check();
	await playButton().press('Enter');
	await page.getByText('With your mod:').waitFor();
	const trial = await post('trial', {});
	expect(trial.status).toBe(422);
	expect(((await trial.json()) as { message: string }).message).toMatch(/^Playing a scenario is under way/);
	await page.getByRole('button', { name: 'Stop' }).press('Enter');
	await page.getByText('Stopped.').waitFor();
	expect(gameNow()).toEqual(game);

	const again = await post('scenarios', {
		do: 'play',
		scenario: 'rescue',
		inputs: { vessel: 'cutter_05', call: CALL },
		times: 100_000,
		parts: true
	});
	expect(again.status).toBe(200);
	await expect.poll(async () => (await state()).run?.said, { timeout: 20_000 }).toBe('With your mod');
	await use.server.kill();
	await use.server.start();
	await expect.poll(async () => (await state()).run?.state, { timeout: 20_000 }).toBe('stopped');
	await expect.poll(gameNow).toEqual(game);
});

test('a formula is a scenario too, also one that is written on the page; another command is asked for anew', async () => {
	await at('scenarios');
	await page.getByRole('button', { name: 'What a vessel brings home' }).press('Enter');
	await page.getByRole('button', { name: 'Work it out' }).press('Enter');
	await page.locator('[data-outcome=value]').getByText('Seats times knots').waitFor();
	await table('Among similar records')
		.getByRole('row', { name: /Merlin/ })
		.waitFor();
	await page.getByRole('button', { name: 'New scenario…' }).press('Enter');
	await page.getByLabel('Title').fill('Hull for its draft');
	await page.getByLabel('Records').selectOption({ label: 'Vessel' });
	await page.getByLabel('Formula', { exact: true }).fill('hull / (draft');
	await page.getByRole('button', { name: 'Save the scenario' }).press('Enter');
	await said('The formula cannot be read');
	await page.getByLabel('Formula', { exact: true }).fill('hull / draft');
	await page.getByRole('button', { name: 'Save the scenario' }).press('Enter');
	await said('Saved the scenario “Hull for its draft”');
	await page.getByRole('button', { name: 'Work it out' }).press('Enter');
	await page.locator('[data-outcome=value]').getByText('Hull for its draft').waitFor();

	await page.getByRole('button', { name: 'New scenario…' }).press('Enter');
	await page.getByLabel('Title').fill('Another play');
	await page.getByRole('radio', { name: 'By a program' }).check();
	await page.getByLabel('Arguments').fill('play\nnothing\n{boat}');
	await page.getByRole('button', { name: 'Add a record' }).press('Enter');
	await page.getByLabel('Name in the arguments').fill('boat');
	await page.getByLabel('Kind of boat').selectOption({ label: 'Vessel' });
	await page.getByRole('button', { name: 'Save the scenario' }).press('Enter');
	await said('Saved the scenario “Another play”');
	await page.getByRole('checkbox', { name: 'Run this command' }).check();
	await playButton().press('Enter');
	await page.getByRole('alert').getByText('there is no call nothing').waitFor();
	expect(gameNow()).toEqual(game);
});
