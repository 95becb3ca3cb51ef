// Scripts from the first look to the game itself: what is written and tried here, the stand-in shows and does.
import { cpSync, mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { unzipSync } from 'fflate';
import { expect, test } from 'vitest';
import { planReady, tabTo, useDemo } from './helpers';

const { page: thePage, at, press, said, server } = useDemo();

const ROOT = join(import.meta.dirname, '../..');

/** The stand-in with the pack of the mod in it. */
async function packedGame(): Promise<string> {
	const game = mkdtempSync(join(tmpdir(), 'kettle-packed-'));
	cpSync(join(ROOT, 'demo/base'), game, { recursive: true });
	const zip = await fetch(`${server().address}/p/gannet-sound/api/pack`);
	const files = unzipSync(new Uint8Array(await zip.arrayBuffer()));
	for (const [path, bytes] of Object.entries(files)) {
		const to = join(game, 'mods/longline', path);
		mkdirSync(dirname(to), { recursive: true });
		writeFileSync(to, bytes);
	}
	writeFileSync(join(game, 'load-order.json'), '{"mods":["longline"]}');
	return game;
}

const standIn = (...args: string[]) =>
	spawnSync(process.execPath, [join(ROOT, 'standin/gannet.mjs'), ...args], { encoding: 'utf8' });

/** Goes to a button or field by Tab, and is there. */
const tabbed = (selector: string) => tabTo(thePage(), selector);

test('the logbook gets a new page, by keyboard: written, tried, packed, and the game shows it', async () => {
	const page = thePage();
	// On Find the search field has the focus and takes the digits.
	await at('tables');
	await press('5');
	await page.waitForURL(/\/scripts/);
	await tabbed('a[href$="/pages"]');
	await press('Enter');
	const card = (name: string) => page.getByRole('listitem', { name });
	await card('Page 1: third').waitFor();
	expect(await card('Page 1: third').locator('.font-bold').innerText()).toBe('Nobody');
	await page.getByText('the last in the file is shown first').waitFor();
	await page.getByRole('link', { name: 'scripts/start.lua:3' }).waitFor();
	await tabbed('[aria-label="New page before second"]');
	await press('Enter');
	await page.keyboard.type('between');
	await press('Tab');
	await page.keyboard.type('**Fog** came in, and "nobody" saw it.');
	await press('Tab');
	await press('Enter');
	await said('Add page “between” before “second”');
	await card('Page 2: between').getByText('came in, and "nobody" saw it.').waitFor();
	await card('Page 3: second').waitFor();
	// One key moves it, and one takes that back.
	await tabbed('[aria-label="Show between later"]');
	await press('Enter');
	await said('Move page “between” after “second”');
	await card('Page 3: between').waitFor();
	await page.getByRole('button', { name: /^Undo: / }).click();
	await card('Page 2: between').waitFor();
	await page.getByRole('button', { name: 'Load the scripts' }).focus();
	await press('Enter');
	await page.getByRole('status').getByText('4 pages shown:').waitFor();
	await page.getByText('page("between", "**Fog** came in, and \\"nobody\\" saw it.")').waitFor();
	const game = await packedGame();
	standIn(game);
	const log = readFileSync(join(game, 'game.log'), 'utf8');
	expect(log.split('\n').filter((line) => line.includes('of the logbook'))).toEqual([
		expect.stringContaining('page 1 of the logbook, third: Nobody was lost.'),
		'INFO mods/longline/scripts/logbook.lua:4 page 2 of the logbook, between: Fog came in, and "nobody" saw it.',
		expect.stringContaining('page 3 of the logbook, second: Ice was seen beyond the light.'),
		expect.stringContaining('page 4 of the logbook, first: Today the sea was flat.')
	]);
	await page.getByRole('button', { name: /^Undo: / }).click();
	await card('Page 2: second').waitFor();
});

test('an event is answered for one class of vessels, tried a thousand times beside the old state, and the game does so', async () => {
	const page = thePage();
	await at('scripts');
	const event = page.getByRole('listitem', { name: 'on_hour', exact: true });
	await event.getByText('Once an hour, for each vessel at sea.').waitFor();
	await event.getByRole('button', { name: 'Answer it too' }).focus();
	await press('Enter');
	const form = page.getByRole('dialog', { name: 'Answer on_hour' });
	await form.getByLabel('Field').selectOption('Grade');
	await form.getByLabel('Value').selectOption('3');
	await form.getByRole('button', { name: 'Preview' }).focus();
	await press('Enter');
	const plan = page.getByRole('dialog', { name: 'Answer on_hour in scripts/on_hour.lua' });
	await plan
		.getByText(/Only the last function with a name counts, so the new one calls the one before it/)
		.waitFor();
	await planReady(page);
	await press('Control+Enter');
	await page.waitForURL(/\/edit\/scripts\/on_hour\.lua/);
	// The cursor is where something is missing.
	await page
		.getByRole('textbox', { name: 'Text of scripts/on_hour.lua' })
		.getByText('if boat.grade == 3 then')
		.waitFor();
	await page.keyboard.insertText('if math.random() < 0.05 then give(boat, "medic", 2) end');
	await press('Control+Enter');
	await said(/^Edit scripts\/on_hour\.lua/);
	await at('scripts');
	await event.getByRole('link', { name: 'on_hour.lua:4' }).waitFor();
	await event.getByRole('link', { name: 'Try it' }).click();
	await page.getByText('Once an hour, for each vessel at sea.').waitFor();
	const box = page.getByRole('combobox', { name: 'boat: pick a vessel' });
	await box.fill('cutter_04');
	await page.getByRole('option').first().click();
	await page.getByRole('textbox', { name: /^hour/ }).fill('9');
	await page.getByRole('button', { name: 'Try it 1,000 times' }).focus();
	await press('Enter');
	const shares = page.getByRole('region', { name: /outcomes? in 1,000 runs/ });
	const rare = shares.getByRole('listitem').filter({ hasText: '"medic", 2' });
	await rare.getByText('with my mod', { exact: true }).waitFor();
	const [without, mine] = await rare.locator('.font-mono').filter({ hasText: '%' }).allInnerTexts();
	expect(without).toBe('0%');
	const share = Number.parseFloat(mine!) / 100;
	expect(Math.abs(share - 0.05)).toBeLessThan(3.5 * Math.sqrt((0.05 * 0.95) / 1000));
	// The game does so with the same seeds, and leaves vessels of other classes alone.
	const game = await packedGame();
	const raised = (vessel: string) =>
		(
			JSON.parse(standIn(game, 'raise', 'on_hour', vessel, '9', '--times', '1000', '--seed', '1').stdout) as {
				outcomes: { outcome: string; count: number }[];
			}
		).outcomes;
	const seen = raised('cutter_04').find(({ outcome }) => outcome.includes('"medic", 2'))!.count;
	expect(seen / 1000).toBeCloseTo(share, 3);
	expect(raised('launch_01').some(({ outcome }) => outcome.includes('medic'))).toBe(false);
	for (let step = 0; step < 2; step++) {
		await page.getByRole('button', { name: /^Undo: / }).click();
		await said(/^Undone: /);
	}
});

test('a number inside a function is a field in its line; names are renamed; ids are offered', async () => {
	const page = thePage();
	await at('file/base/scripts/tide.lua');
	await page.getByRole('link', { name: 'Numbers and texts' }).focus();
	await press('Enter');
	const tide = page.getByRole('region', { name: 'tide', exact: true });
	await tide.getByRole('link', { name: 'tide.lua:7' }).waitFor();
	const field = tide.getByRole('textbox', { name: 'Line 3, 1.6' });
	await field.fill('high');
	await press('Enter');
	await said('“high” is not a number that a script can hold.');
	expect(await field.inputValue()).toBe('1.6');
	await field.fill('2.1');
	await press('Enter');
	await said('Set 1.6 in tide() of scripts/tide.lua to 2.1');
	await tide.getByRole('textbox', { name: 'Line 3, 2.1' }).waitFor();
	// A name, wherever it means the same.
	await page.getByRole('link', { name: 'Edit text at line 7' }).click();
	const sheet = page.getByRole('textbox', { name: 'Text of scripts/tide.lua' });
	await sheet.focus();
	for (let right = 0; right < 6; right++) await press('ArrowRight');
	const form = page.getByRole('form', { name: 'Rename tide' });
	await form.getByRole('textbox').fill('level');
	await press('Enter');
	const plan = page.getByRole('dialog', { name: 'Rename tide to level in 1 script' });
	await plan.getByText('function level(hour)').waitFor();
	await planReady(page);
	await press('Control+Enter');
	await said('Rename tide to level in 1 script');
	await sheet.getByText('function level(hour)').waitFor();
	for (let step = 0; step < 2; step++) {
		const undo = page.getByRole('button', { name: /^Undo: / });
		const title = (await undo.getAttribute('aria-label'))!.replace('Undo: ', '');
		await undo.click();
		await said(`Undone: ${title}`);
	}
	// An id by the name that players see.
	await at('edit/scripts/bay_knot.lua?line=3');
	const script = page.getByRole('textbox', { name: 'Text of scripts/bay_knot.lua' });
	await script.focus();
	await press('End');
	await page.keyboard.type(' give(boat, "lamp');
	await page.getByRole('option', { name: /Lamplighter/ }).click();
	await script.getByText('give(boat, "lamplighter').waitFor();
	await page.getByRole('button', { name: 'Discard changes' }).click();
});
