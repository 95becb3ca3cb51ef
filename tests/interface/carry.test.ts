// The game was updated: my mod is carried over by keyboard, looked at before it is done, loaded by the next version of the
// game, and taken back to the same bytes.
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { strFromU8, unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Page } from 'playwright-core';
import { writeNext } from '../../demo/next.mjs';
import { loadGame } from '../../standin/load.mjs';
import { openPage, planReady, tabTo, useServer } from './helpers';

const folder = mkdtempSync(join(tmpdir(), 'kettle-carry-page-'));
const next = join(folder, 'gannet-1.5');
writeNext(next);
const use = useServer({ roots: folder });
const faults: string[] = [];
let page: Page;
beforeAll(async () => {
	page = await openPage(use.browser, faults);
});
afterAll(() => {
	rmSync(folder, { recursive: true });
	expect(faults).toEqual([]);
});

const at = (path: string) => page.goto(`${use.server.address}/p/gannet-sound/${path}`);
const press = (key: string) => page.keyboard.press(key);
const said = (words: string) => page.getByTestId('message').filter({ hasText: words }).waitFor();
const post = (path: string, body: unknown): Promise<unknown> =>
	page.evaluate(
		async ([where, data]) =>
			(
				await fetch(where!, { method: 'POST', headers: { 'content-type': 'application/json' }, body: data! })
			).json(),
		[`/p/gannet-sound/${path}`, JSON.stringify(body)]
	);
const apply = (intention: object) => post('api/apply', { intention });
const packed = async (): Promise<Record<string, Uint8Array>> =>
	unzipSync(
		new Uint8Array(await (await fetch(`${use.server.address}/p/gannet-sound/api/pack`)).arrayBuffer())
	);
const texts = (files: Record<string, Uint8Array>) =>
	Object.fromEntries(Object.entries(files).map(([path, bytes]) => [path, strFromU8(bytes, true)]));

test('imported as another version, decided, previewed, applied and taken back by keyboard', async () => {
	await at('setup');
	// The game changes this one too: a hull twice as strong.
	await apply({ do: 'set', kind: 'vessel', id: 'cutter_04', field: 'hull', value: '206' });
	// What is said besides the files goes along: the guide, an option, a note.
	await post('api/options', {
		do: 'save',
		options: [
			{
				id: 'cold',
				title: 'Cold',
				cells: [{ kind: 'engine', id: 'triple_6', field: 'coldest', value: '-20' }]
			}
		]
	});
	await post('api/notes', { on: { kind: 'engine', field: 'coldest' }, nickname: 'frost', note: '' });
	const spoken = async () => {
		const files = unzipSync(
			new Uint8Array(await (await fetch(`${use.server.address}/p/gannet-sound/api/export`)).arrayBuffer())
		);
		const { project, notes } = JSON.parse(strFromU8(files['project.json']!)) as {
			project: { guide: string; options: unknown };
			notes?: unknown;
		};
		return { guide: project.guide, options: JSON.stringify(project.options), notes: JSON.stringify(notes) };
	};
	const spokenBefore = await spoken();
	expect(spokenBefore.guide).toMatch(/^ +coldest:/m);
	const before = texts(await packed());
	await at('carry');
	await page.getByText('There is no other version of the game here.').waitFor();
	await at('setup');
	await page.getByRole('button', { name: 'Another version' }).first().focus();
	await press('Enter');
	await page.getByRole('textbox', { name: 'Folder or archive of the other version' }).fill(next);
	await page.getByRole('button', { name: 'Import as another version' }).focus();
	await press('Enter');
	await page.getByTestId('beside').waitFor();
	await page.getByRole('textbox', { name: 'Name of the version' }).fill('1.5');
	await press('Enter');
	await expect
		.poll(() => page.getByRole('textbox', { name: 'Name of the version' }).inputValue())
		.toBe('1.5');
	await tabTo(page, 'a[href*="/updated?to="]');
	await press('Enter');
	const vessels = page.getByRole('region', { name: 'Vessels' });
	await vessels.getByText('8 changed').waitFor();
	await vessels.getByRole('row', { name: /^Kittiwake cutter_04 changed Hull 103 → 110/ }).waitFor();
	await page.getByText('Fields: coldest is called cold_start now.').waitFor();
	await page
		.getByRole('region', { name: 'Engines' })
		.getByRole('row', { name: /Wren single.*gone/ })
		.waitFor();
	await page.getByRole('link', { name: 'What concerns my mod' }).press('Enter');
	await page.getByText('that your mod changes or refers to').waitFor();
	expect(await page.getByRole('row', { name: /Guillemot/ }).count()).toBe(0);
	await vessels.getByRole('row', { name: /^Kittiwake/ }).waitFor();
	await tabTo(page, 'a[href*="/carry?to="]');
	await press('Enter');
	await page.getByText('the field coldest is called cold_start now').waitFor();
	await page
		.getByTestId('besides')
		.getByText(
			'The field guide uses the new names: coldest → cold_start. 1 option uses the new names. 1 note goes along'
		)
		.waitFor();
	const share = await fetch(
		`${use.server.address}/p/gannet-sound/api/carry?share&to=${new URL(page.url()).searchParams.get('to')}`
	);
	expect(((await share.json()) as { share: number }).share).toBeGreaterThan(0.7);
	const card = page.getByRole('listitem', { name: 'Kittiwake, Hull' });
	await card.waitFor();
	expect(await card.locator('dd').allTextContents()).toEqual(['103', '110', '206', '206']);
	// Left and come back to: the choice is still there.
	await card.getByRole('radio', { name: /My change on top of it/ }).focus();
	await press('Space');
	await card.locator('dd').getByText('220').waitFor();
	await at('snags');
	await at('carry?only=undecided');
	await page.getByRole('listitem', { name: 'Kittiwake, Hull' }).locator('dd').getByText('220').waitFor();
	expect(await page.getByRole('radio', { name: /My change on top of it/ }).isChecked()).toBe(true);
	await page.getByRole('link', { name: 'Without a place 1' }).focus();
	await press('Enter');
	const lost = page.getByRole('listitem', { name: 'barge_09, Deck gear' });
	await lost.getByText('It refers to net_ladder, which the new version does not have.').waitFor();
	await lost.getByText('Hull gear net_ladder (it has the same id)').waitFor();
	await lost.getByRole('radio', { name: 'Keep mine' }).focus();
	await press('Space');
	await page.getByRole('button', { name: 'Preview all of it' }).focus();
	await press('Enter');
	const plan = page.getByRole('dialog', { name: 'Carry over to 1.5' });
	await plan.getByRole('row', { name: /Kittiwake.*hull.*206.*220/ }).waitFor();
	await plan.getByRole('row', { name: /Heron triple.*cold_start.*-14/ }).waitFor();
	await planReady(page);
	await press('Control+Enter');
	await page.getByTestId('carried').getByText('Carry over to 1.5: done.').waitFor();
	const carried = texts(await packed());
	const spokenAfter = await spoken();
	expect(spokenAfter.guide).toBe(spokenBefore.guide.replace(/^( +)coldest:/gm, '$1cold_start:'));
	expect(spokenAfter.options).toBe(spokenBefore.options.replace('coldest', 'cold_start'));
	expect(spokenAfter.notes).toBe(spokenBefore.notes.replace('coldest', 'cold_start'));
	expect(carried['data/engines.ini']).toContain('cold_start = -14');
	expect(carried['data/vessels.tsv']).toMatch(/^cutter_04\t3\t220\t24\t/m);
	await page.getByRole('banner').getByText('1.5').waitFor();
	// One step takes all of it back, the version of the game too.
	await press('Control+z');
	await said('Undone: Carry over to 1.5');
	await page.getByRole('banner').getByText('1.4').waitFor();
	await page.getByTestId('game').waitFor();
	expect(await page.getByTestId('carried').count()).toBe(0);
	expect(await spoken()).toEqual(spokenBefore);
	expect(texts(await packed())).toEqual(before);
});

test('a mod without faults, carried, is loaded cleanly by the next version of the game; the list of it can be saved', async () => {
	await at('carry');
	await page.getByTestId('game').waitFor();
	// Tried before anything is written: what the demo plants is refused. Nothing of it stays in the game's folder.
	await page.getByRole('button', { name: 'Try it in the new version' }).focus();
	await press('Enter');
	await page
		.getByTestId('tried')
		.getByText(/The new version refused \d+ things?\./)
		.waitFor();
	expect(existsSync(join(next, 'mods/longline'))).toBe(false);
	// What the demo plants is mended first.
	await apply({
		do: 'cells',
		kind: 'vessel',
		cells: [{ id: 'cutter_07', field: 'engine', value: 'triple_6' }]
	});
	await apply({ do: 'cells', kind: 'vessel', cells: [{ id: 'lifeboat_03', field: 'deck', value: '' }] });
	await apply({ do: 'remove', kind: 'vessel', id: 'barge_09' });
	// A patch of a script that lies further down in the new version, and a recipe of the field guide.
	await apply({
		do: 'patch',
		patch: [
			'--- a/scripts/omens.lua',
			'+++ b/scripts/omens.lua',
			'@@ -1,4 +1,4 @@',
			' -- What the birds mean, and to whom.',
			' function on_watch_1(boat, sea)',
			'-\tif seen("white_gull") and sea > 5 then',
			'+\tif seen("white_gull") and sea > 2 then',
			' \t\tsay("omen.white_gull.name")',
			''
		].join('\n')
	});
	await apply({
		do: 'recipe',
		recipe: 'sister-vessel',
		fill: { model: 'cutter_03', new: 'cutter_40', name: 'Knot', german: 'Knutt', from: 'cutter_02' }
	});
	await at('carry');
	await page.getByText('Nothing is left here.').or(page.getByRole('listitem').first()).first().waitFor();
	// Nothing is kept for a version that is not there.
	const nowhere = await post('api/carry', { to: '999999', choices: [{ key: 'x', choice: 'mine' }] });
	expect(nowhere).toEqual({ message: 'There is no such version of the game. Import it under Set up.' });
	const href = await page.getByRole('link', { name: 'Save the list' }).getAttribute('href');
	const list = await (await fetch(`${use.server.address}${href}`)).text();
	expect(list).toContain('# Gannet Sound: carried over to 1.5');
	expect(list).toContain('## Carried over');
	expect(list).toContain('omens.lua');
	const trying = readFileSync(join(next, 'data/vessels.tsv'));
	await page.getByRole('button', { name: 'Try it in the new version' }).focus();
	await press('Enter');
	await page.getByTestId('tried').getByText('The new version loads it cleanly.').waitFor();
	expect(existsSync(join(next, 'mods/longline'))).toBe(false);
	expect(readFileSync(join(next, 'data/vessels.tsv')).equals(trying)).toBe(true);
	await page.getByRole('button', { name: /^Preview/ }).focus();
	await press('Enter');
	await planReady(page);
	await press('Control+Enter');
	await page.getByTestId('carried').waitFor();
	const game = join(folder, 'game');
	cpSync(next, game, { recursive: true });
	const files = await packed();
	for (const [path, bytes] of Object.entries(files)) {
		const to = join(game, 'mods/longline', path.replace(/^longline\//, ''));
		if (path.endsWith('/')) continue;
		mkdirSync(dirname(to), { recursive: true });
		writeFileSync(to, bytes);
	}
	expect(existsSync(join(game, 'mods/longline/mod.json'))).toBe(true);
	writeFileSync(join(game, 'load-order.json'), '{"mods":["longline"]}');
	const { log, vessels } = loadGame(game);
	expect(vessels.get('cutter_02')!.fields.upgrade).toBe('cutter_40');
	expect(vessels.get('cutter_40')).toBeDefined();
	const [script, words] = ['scripts/omens.lua', 'words/de/longline.properties'].map((path) =>
		strFromU8(files[path] ?? files[`longline/${path}`]!)
	);
	expect(script).toMatch(
		/^-- Reads the sky twice an hour\.\nlocal calm = 2\n[\s\S]*seen\("white_gull"\) and sea > 2 then/
	);
	expect(words).toContain('vessel.cutter_40.name=Knutt');
	expect(log.filter(({ level }) => level === 'DROPPED' || level === 'REFUSED')).toEqual([]);
});
