// My mod given away: the texts that go along are shown as they will be, and are in the archive.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { strFromU8, unzipSync } from 'fflate';
import { expect, test } from 'vitest';
import { parseGuide } from '$core/guide';
import { openPage, useServer } from './helpers';

const use = useServer();

test('the read-me and the list of changes are read, left out, and packed; the version is counted up', async () => {
	const faults: string[] = [];
	const page = await openPage(use.browser, faults);
	await page.goto(`${use.server.address}/p/gannet-sound/pack`);
	await page.getByRole('link', { name: 'Share it' }).press('Enter');
	const text = page.getByTestId('text');
	await text.getByText('Kittiwake (cutter_04): Speed 21 → 24 (+14.3 %)').waitFor();
	const readMe = await text.innerText();
	expect(readMe).toContain('Copy the pack into `mods/longline`');
	await page.getByRole('button', { name: 'List of changes' }).press('Enter');
	await text.getByText('What Longline changes').waitFor();
	const packed = async () => {
		const href = await page.getByRole('link', { name: 'Download as ZIP' }).getAttribute('href');
		const bytes = await (await fetch(`${use.server.address}${href}`)).arrayBuffer();
		return unzipSync(new Uint8Array(bytes));
	};
	const full = await packed();
	expect(strFromU8(full['README.md']!).trim()).toBe(readMe.trim());
	expect(strFromU8(full['CHANGES.md']!)).toContain('New: Sandpiper (launch_12)');
	// Pictures of the tables, where they are wanted.
	await page.getByRole('checkbox', { name: 'with pictures of the tables' }).check();
	await page.getByRole('img', { name: 'Vessels' }).waitFor();
	const pictured = await packed();
	expect(strFromU8(pictured['pictures/vessel.svg']!)).toMatch(/Kittiwake.*\n.*21 → .*24/);
	expect(strFromU8(pictured['README.md']!)).toContain('![Vessels](pictures/vessel.svg)');
	await page.getByRole('checkbox', { name: 'with pictures of the tables' }).uncheck();
	await page.getByRole('checkbox', { name: 'with a read-me' }).uncheck();
	const { ['README.md']: _, ...without } = full;
	expect(Object.keys(await packed()).sort()).toEqual(Object.keys(without).sort());
	await page.getByRole('button', { name: 'Make it 0.3.1' }).press('Enter');
	await page.getByRole('button', { name: 'Make it 0.3.2' }).waitFor();
	expect(strFromU8((await packed())['mod.json']!)).toContain('0.3.1');
	// A template of one's own, the field guide along with it, and the usual one again.
	await page.getByRole('button', { name: 'Read-me', exact: true }).press('Enter');
	await page.getByRole('button', { name: 'Change the template' }).press('Enter');
	await page
		.getByRole('textbox', { name: 'Template' })
		.fill('# {title}, by the harbour\n\n{needs}\n\n{install}\n\n{unknown}\n');
	await page.getByRole('button', { name: 'Save the template' }).press('Enter');
	await text.getByText('Longline, by the harbour').waitFor();
	await page.getByRole('checkbox', { name: 'with a read-me' }).check();
	await page.getByRole('checkbox', { name: 'with the field guide' }).check();
	const again = await packed();
	expect(strFromU8(again['README.md']!)).toMatch(/^# Longline, by the harbour\n\n(.*\n)*\{unknown\}\n$/);
	expect(strFromU8(again['README.md']!)).not.toContain('What it changes');
	expect(strFromU8(again['field-guide.yaml']!)).toContain('by the harbour');
	expect(parseGuide(strFromU8(again['field-guide.yaml']!)).kinds.vessel!.title).toBe('Vessel');
	await page.getByRole('button', { name: 'Change the template' }).press('Enter');
	await page.getByRole('button', { name: 'Use the usual one' }).press('Enter');
	await text.getByText('What it changes').waitFor();
	expect(faults).toEqual([]);
	await page.close();
});

test('what a program of the game makes: shown before it runs, made anew with its sources, and taken by the game', async () => {
	const faults: string[] = [];
	const page = await openPage(use.browser, faults);
	const at = (path: string) => page.goto(`${use.server.address}/p/gannet-sound/${path}`);
	const sealed = async () => {
		const answer = await fetch(`${use.server.address}/p/gannet-sound/api/pack`);
		const files = unzipSync(new Uint8Array(await answer.arrayBuffer()));
		const data = Object.entries(files).filter(([path]) => path.startsWith('data/'));
		const sum = data.reduce((all, [, bytes]) => bytes.reduce((one, byte) => one + byte, all), 0);
		return { seal: files['seal.txt'] && strFromU8(files['seal.txt']), expected: `${data.length} ${sum}\n` };
	};
	const logOf = async () => {
		await at('trial');
		const last = Number(new URL(page.url()).searchParams.get('trial'));
		await page.getByTestId('start-trial').press('Enter');
		await page.waitForURL((url) => Number(url.searchParams.get('trial')) > last);
		await page.getByTestId('outcome').waitFor();
		return readFileSync(join(use.server.home, 'games/gannet-sound/game.log'), 'utf8');
	};
	await at('pack');
	const asked = page.getByRole('region', { name: 'The seal' });
	await asked.getByText('tools/seal.mjs {mod}').waitFor();
	expect((await sealed()).seal).toBeUndefined();
	await asked.getByRole('button', { name: 'Run this program' }).press('Enter');
	await page.getByTestId('message').filter({ hasText: 'Made: The seal' }).waitFor();
	await page
		.getByRole('row', { name: /seal\.txt/ })
		.getByText('by a program of the game')
		.waitFor();
	const first = await sealed();
	expect(first.seal).toBe(first.expected);
	expect(await logOf()).not.toContain('seal');

	const changed = await fetch(`${use.server.address}/p/gannet-sound/api/apply`, {
		method: 'POST',
		headers: { 'content-type': 'application/json', origin: use.server.address },
		body: JSON.stringify({
			intention: { do: 'set', kind: 'vessel', id: 'cutter_02', field: 'seats', value: '13' }
		})
	});
	expect(changed.status).toBe(200);
	const second = await sealed();
	expect(second.seal).toBe(second.expected);
	expect(second.seal).not.toBe(first.seal);
	expect(await logOf()).not.toContain('seal');
	// One that was not made anew is told by the game.
	const installed = join(use.server.home, 'games/gannet-sound/mods/longline');
	writeFileSync(join(installed, 'seal.txt'), first.seal!);
	const { loadGame } = await import('../../standin/load.mjs');
	const said = loadGame(join(use.server.home, 'games/gannet-sound')).log.map(({ message }) => message);
	expect(said).toContain('the seal is broken: this copy of the mod may be cut short');

	// A tool that fails is told in words, and nothing is packed that it should have made.
	const tool = join(use.server.home, 'games/gannet-sound/tools/seal.mjs');
	const sound = readFileSync(tool);
	writeFileSync(tool, "console.error('the wax is cold');\nprocess.exit(3);\n");
	await at('pack');
	await asked.getByRole('alert').getByText('ended with status 3: the wax is cold').waitFor();
	const refused = await fetch(`${use.server.address}/p/gannet-sound/api/pack`);
	expect(refused.status).toBe(422);
	writeFileSync(tool, sound);
	await at('pack');
	await page.getByRole('row', { name: /seal\.txt/ }).waitFor();
	expect(await asked.count()).toBe(0);
	expect(faults).toEqual([]);
	await page.close();
});
