// Every page in both themes: no fault of its own, and nothing serious that axe finds.
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from 'playwright-core';
import { expect, test } from 'vitest';
import { openPage, planReady, useServer } from './helpers';

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
const use = useServer();

const PAGES = [
	'/?all',
	'/p/gannet-sound/setup',
	'/p/gannet-sound/find',
	'/p/gannet-sound/edit/data/engines.ini?line=3',
	'/p/gannet-sound/new?model=scripts/tide.lua',
	'/p/gannet-sound/scripts',
	'/p/gannet-sound/try/on_hour',
	'/p/gannet-sound/find?q=Skerry&ticket=vessel%2Fcutter_07',
	'/p/gannet-sound/find?q=zeppelin',
	'/p/gannet-sound/find?q=winch&whole=on',
	'/p/gannet-sound/values/vessel/engine',
	'/p/gannet-sound/uses/vessel/cutter_05?depth=2',
	'/p/gannet-sound/compare',
	'/p/gannet-sound/compare?with=vessel%2Fcutter_04&with=vessel%2Fcutter_05',
	'/p/gannet-sound/tables',
	'/p/gannet-sound/tables/vessel?ticket=vessel%2Fcutter_04',
	'/p/gannet-sound/tables/text',
	'/p/gannet-sound/words?ticket=text%2Fcall.grounding_1.about',
	'/p/gannet-sound/words/translate',
	'/p/gannet-sound/words/languages',
	'/p/gannet-sound/words?ticket=text%2Flog.page.121',
	'/p/gannet-sound/tables/role?ticket=role%2Fmate',
	'/p/gannet-sound/guide',
	'/p/gannet-sound/guide/call?field=where',
	'/p/gannet-sound/guide/tint',
	'/p/gannet-sound/ranges/ambience',
	'/p/gannet-sound/snags',
	'/p/gannet-sound/pack',
	'/p/gannet-sound/trial',
	'/p/gannet-sound/ledger',
	'/p/gannet-sound/file/base/data/engines.ini?line=8',
	'/p/gannet-sound/first',
	'/p/gannet-sound/mod',
	'/p/gannet-sound/options',
	'/p/gannet-sound/read/base/data/bays/knot/spawns/01-14.lst',
	'/p/gannet-sound/list/tint/noon/falloff',
	'/p/gannet-sound/tables?sort=records',
	'/p/gannet-sound/tables/station?ticket=station%2Ftar_row',
	'/p/gannet-sound/tables/omen?ticket=omen%2Fwhite_gull',
	'/p/gannet-sound/pages',
	'/p/gannet-sound/clashes?only=all',
	'/p/gannet-sound/carry',
	'/p/gannet-sound/updated',
	'/p/gannet-sound/start',
	'/p/gannet-sound/game',
	'/p/gannet-sound/narrow',
	'/p/gannet-sound/scenarios',
	'/p/gannet-sound/share',
	'/p/gannet-sound/patch',
	'/p/gannet-sound/inside/scripts/omens.lua',
	'/p/gannet-sound/places',
	'/p/gannet-sound/places/bay/whimbrel?day=9&ticket=rescue_point%2Fwhimbrel_shelf',
	'/p/gannet-sound/file/base/packed/controls.bin',
	'/p/gannet-sound/read/base/packed/controls.bin',
	'/p/gannet-sound/tables/packed_control?ticket=packed_control%2Fastern',
	'/p/gannet-sound/tables/nothing'
];

interface Finding {
	id: string;
	impact: string;
	nodes: { html: string }[];
}

/**
 * What axe finds serious or critical on the page as it is now.
 * @param theme of the second one only the colours are looked at: all else is the same
 */
async function serious(page: Page, where: string, theme: string): Promise<string[]> {
	if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe);
	const findings = await page.evaluate(
		async (options) => {
			const { run } = (
				window as unknown as { axe: { run(options: object): Promise<{ violations: Finding[] }> } }
			).axe;
			return (await run(options)).violations;
		},
		{ resultTypes: ['violations'], ...(theme === 'dark' ? { runOnly: ['color-contrast'] } : {}) }
	);
	return findings
		.filter(({ impact }) => impact === 'serious' || impact === 'critical')
		.map(({ id, nodes }) => `${where}: ${id} (${nodes.length}) ${nodes[0]?.html.slice(0, 160)}`);
}

test('every page in both themes, wide and less wide', async () => {
	const faults: string[] = [];
	const page = await openPage(use.browser, faults);
	await page.addInitScript(() => localStorage.setItem('theme', 'light'));
	// A trial, a step in the ledger, an option and an arrangement, so that those pages have something to show.
	await page.goto(`${use.server.address}/p/gannet-sound/trial`);
	await page.getByTestId('start-trial').click();
	await page.getByTestId('outcome').waitFor();
	await page.evaluate(async () => {
		const set = (value: string) =>
			fetch('/p/gannet-sound/api/apply', {
				method: 'POST',
				headers: { 'content-type': 'application/json' },
				body: JSON.stringify({ intention: { do: 'set', kind: 'vessel', id: 'tug_08', field: 'tow', value } })
			});
		await set('71');
		const post = (path: string, body: object) =>
			fetch(`/p/gannet-sound/api/${path}`, {
				method: 'POST',
				headers: { 'content-type': 'application/json' },
				body: JSON.stringify(body)
			});
		const cells = [{ kind: 'vessel', id: 'cutter_03', field: 'speed', value: '22' }];
		const oneOf = 'Speed of cutters';
		await post('options', { do: 'save', options: [{ id: 'fast', title: 'Fast cutters', oneOf, cells }] });
		await post('layers', { do: 'keep', name: 'All of it' });
	});
	const found: string[] = [];
	for (const path of PAGES) {
		await page.setViewportSize({ width: 1280, height: 800 });
		await page.goto(use.server.address + path);
		await page.locator('h1').first().waitFor();
		// A page that is not there is looked at once, on purpose.
		const missing = await page.getByRole('heading', { name: 'Not found' }).count();
		expect([path, missing > 0]).toEqual([path, path.endsWith('/nothing')]);
		await page.evaluate(() => document.fonts.ready);
		for (const [theme, width] of [
			['light', 1280],
			['dark', 1024],
			['dark', 2560]
		] as const) {
			await page.setViewportSize({ width, height: 800 });
			await page.evaluate((name) => {
				document.documentElement.dataset.theme = name;
				// Colours are looked at as they end up, not on their way there.
				const ending = document
					.getAnimations()
					.filter(({ effect }) => effect?.getComputedTiming().endTime !== Infinity);
				return Promise.allSettled(ending.map(({ finished }) => finished));
			}, theme);
			// Colours do not change with the width.
			if (width !== 2560) found.push(...(await serious(page, path, theme)));
			const wide = await page.evaluate(() => document.documentElement.scrollWidth);
			if (wide > width) found.push(`${path}: ${wide} wide in a window of ${width}`);
		}
	}
	expect(found).toEqual([]);
	expect(faults).toEqual([]);
	await page.close();
});

test('the help lists every key', async () => {
	const page = await openPage(use.browser);
	await page.goto(`${use.server.address}/p/gannet-sound/find`);
	// The search has the focus and takes every letter; Esc leaves it.
	await page.locator('main input:focus').waitFor();
	await page.keyboard.press('Escape');
	await page.keyboard.press('?');
	const dialog = page.getByRole('dialog');
	await dialog.getByText('undo the last step').waitFor();
	await page.keyboard.press('Escape');
	await dialog.waitFor({ state: 'detached' });
});

test('a table is moved through, filtered and sorted by keyboard, and its state is in the address', async () => {
	const page = await openPage(use.browser);
	await page.goto(`${use.server.address}/p/gannet-sound/tables/vessel?sort=-tow&filter=tow%3E20`);
	const first = page.getByRole('grid').getByRole('rowheader').first();
	expect(await first.innerText()).toContain('tug_08');
	await page.getByRole('grid').focus();
	await page.keyboard.press('ArrowDown');
	await page.keyboard.press('Enter');
	await page.getByTestId('ticket').waitFor();
	await page.keyboard.press('Escape');
	await page.getByTestId('ticket').waitFor({ state: 'detached' });
	expect(page.url()).toContain('sort=-tow');
	await page.goBack();
	await page.getByTestId('ticket').waitFor();
	await page.close();
});

test('a copy as new, with its names, is planned, applied and found by them', async () => {
	const page = await openPage(use.browser);
	await page.goto(`${use.server.address}/p/gannet-sound/tables/vessel?ticket=vessel%2Fcutter_04`);
	await page.getByTestId('ticket').waitFor();
	await page.keyboard.press('c');
	await page.getByLabel('New id').fill('cutter_04');
	await page.getByRole('dialog').getByText('The id “cutter_04” is already used.').waitFor();
	expect(await page.getByRole('button', { name: 'Preview changes' }).isDisabled()).toBe(true);
	await page.getByLabel('New id').fill('cutter_11');
	await page.getByLabel('Name, English', { exact: true }).fill('Storm Petrel');
	await page.getByRole('button', { name: 'Preview changes' }).click();
	await page.getByRole('dialog').getByText('Storm Petrel').waitFor();
	await planReady(page);
	await page.keyboard.press('Control+Enter');
	await page.getByTestId('message').filter({ hasText: 'Copy Kittiwake as new vessel cutter_11' }).waitFor();
	await page.goto(`${use.server.address}/p/gannet-sound/find?q=storm+petrel`);
	await page.getByText('English name: Storm Petrel').waitFor();
	await page.close();
});

test('a reference is picked by the name players see, among what fits, and its id is written', async () => {
	const page = await openPage(use.browser);
	await page.goto(`${use.server.address}/p/gannet-sound/find?ticket=vessel%2Fcutter_03`);
	const engine = page.locator('[data-field=engine] input');
	await engine.focus();
	await page.keyboard.type('heron trip');
	const option = page.getByRole('option').filter({ hasText: /\d+ kW/ });
	await option.filter({ hasText: 'Heron triple' }).waitFor();
	expect(await option.count()).toBe(1);
	await page.locator('[role=option][data-highlighted]').filter({ hasText: 'Heron triple' }).waitFor();
	await page.keyboard.press('Enter');
	await page.getByTestId('message').filter({ hasText: 'Set engine of Osprey: twin_4 to triple_6' }).waitFor();
	expect(await engine.inputValue()).toBe('triple_6');
	await page.locator('[data-field=engine]').getByRole('link', { name: 'Heron triple' }).hover();
	await page.getByText('Used by').nth(1).waitFor();
	await page.close();
});

test.each(['light', 'dark'])('what opens over a page, %s', async (theme) => {
	const page = await openPage(use.browser);
	await page.addInitScript((name) => localStorage.setItem('theme', name), theme);
	const found: string[] = [];
	const dialog = page.getByRole('dialog');
	await page.goto(`${use.server.address}/p/gannet-sound/snags`);
	await page.locator('[data-rule=wrong-kind] button').first().click();
	await dialog.getByText('Fixes').waitFor();
	found.push(...(await serious(page, 'plan', theme)));
	await page.keyboard.press('Escape');
	await dialog.waitFor({ state: 'detached' });
	await page.goto(`${use.server.address}/p/gannet-sound/find?ticket=vessel%2Fcutter_02`);
	await page.keyboard.press('?');
	await dialog.waitFor();
	found.push(...(await serious(page, 'help', theme)));
	await page.keyboard.press('Escape');
	await dialog.waitFor({ state: 'detached' });
	await page.keyboard.press('c');
	await page.getByLabel('New id').waitFor();
	found.push(...(await serious(page, 'copy', theme)));
	await page.keyboard.press('Escape');
	await page.locator('[data-field=engine] input').click();
	await page.getByRole('option').first().waitFor();
	found.push(...(await serious(page, 'picker', theme)));
	expect(found).toEqual([]);
	await page.close();
});

test('a text of several lines keeps its line ends when it is edited', async () => {
	const page = await openPage(use.browser);
	await page.goto(`${use.server.address}/p/gannet-sound/find`);
	await page.evaluate(() =>
		fetch('/p/gannet-sound/api/apply', {
			method: 'POST',
			headers: { 'content-type': 'application/json' },
			body: JSON.stringify({
				intention: { do: 'set', kind: 'text', id: 'vessel.tug_01.about', field: 'en', value: 'one\ntwo' }
			})
		})
	);
	await page.goto(`${use.server.address}/p/gannet-sound/find?ticket=vessel%2Ftug_01`);
	await page.getByRole('button', { name: /About, English/ }).click();
	await page.keyboard.press('End');
	await page.keyboard.press('Control+End');
	await page.keyboard.type(' three');
	await page.keyboard.press('Enter');
	await page.getByTestId('message').filter({ hasText: 'Set text' }).waitFor();
	const ticket = await page.request.get(
		`${use.server.address}/p/gannet-sound/api/ticket/text/vessel.tug_01.about`
	);
	expect(JSON.stringify(await ticket.json())).toContain('one\\ntwo three');
	await page.close();
});

test('what a reference leads to is shown when it has the focus; Space hides and shows it; digits lead to the stages', async () => {
	const page = await openPage(use.browser);
	await page.goto(`${use.server.address}/p/gannet-sound/tables/vessel?ticket=vessel%2Fcutter_05`);
	await page.locator('[data-field=engine] [data-link-preview-trigger]').focus();
	const peek = page.locator('[data-link-preview-content]');
	await peek.getByText('Used by').waitFor();
	await page.keyboard.press(' ');
	await peek.waitFor({ state: 'detached' });
	await page.keyboard.press(' ');
	await peek.getByText('Used by').waitFor();
	expect(page.url()).toContain('ticket=vessel%2Fcutter_05');
	await page.keyboard.press('7');
	await page.waitForURL(/\/snags/);
	await page.close();
});
