// The field guide by hand: a game that nobody described, understood by keyboard; what is said counts in checks and
// pickers, is shared and undone. And the editors and drawings that come of it.
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { parse } from 'yaml';
import { openPage, planReady, tabTo, useServer } from './helpers';

const games = mkdtempSync(join(tmpdir(), 'kettle-nobody-'));
cpSync(fileURLToPath(new URL('../../demo/base', import.meta.url)), join(games, 'shore'), { recursive: true });
const use = useServer({ roots: games });
const faults: string[] = [];
let page: Page;
let nobody = '';

/** Calls the server from the page, as its own scripts do. */
const post = (address: string, body: unknown): Promise<unknown> =>
	page.evaluate(
		async ([where, data]) =>
			(
				await fetch(where!, {
					method: 'POST',
					headers: { 'content-type': 'application/json' },
					body: data!
				})
			).json(),
		[address, JSON.stringify(body)]
	);

beforeAll(async () => {
	page = await openPage(use.browser, faults);
	await page.goto(`${use.server.address}/?all`);
	const { id } = (await post('/api/import', { title: 'Shore', folder: join(games, 'shore') })) as {
		id: string;
	};
	for (let tries = 0; tries < 300 && !nobody; tries++) {
		const got = (await (await fetch(`${use.server.address}/imports/${id}`)).json()) as {
			project: string | null;
		};
		nobody = got.project ?? '';
		if (!nobody) await new Promise((done) => setTimeout(done, 200));
	}
});
afterAll(() => {
	rmSync(games, { recursive: true });
	expect(faults).toEqual([]);
});

const press = (key: string) => page.keyboard.press(key);
const at = (slug: string, path: string) => page.goto(`${use.server.address}/p/${slug}/${path}`);
const said = (words: string | RegExp) => page.getByTestId('message').filter({ hasText: words }).waitFor();
const written = async () => (await fetch(`${use.server.address}/p/${nobody}/api/guide`)).text();
/** Goes to a field of the list with the arrow keys: from the top, and again, as the rows may change their order. */
async function rowOf(path: string) {
	await press('Home');
	for (let presses = 0, before: string | null = null; presses < 120; presses++) {
		const there = await page.evaluate(() => document.activeElement!.getAttribute('data-path'));
		if (there === path) return statements().getByText(path).first().waitFor();
		await press(there === before ? 'Home' : 'ArrowDown');
		before = there;
	}
	throw new Error(`The arrow keys never reached ${path}`);
}
const statements = () => page.getByTestId('statements');

test('without a guide: from the list of kinds to a field, accepted, rejected and corrected, by keyboard alone', async () => {
	await at(nobody, 'snags');
	await press('0');
	await page.getByText('No field guide yet. Everything').waitFor();
	await tabTo(page, '[data-testid=kinds] [data-move]');
	for (let presses = 0; presses < 60; presses++) {
		if (await page.evaluate(() => document.activeElement?.getAttribute('href')?.endsWith('/guide/calls')))
			break;
		await press('ArrowDown');
	}
	await press('Enter');
	await page.getByRole('heading', { name: /^Calls/ }).waitFor();
	// The least sure comes first and is shown with its evidence.
	await tabTo(page, '[role=listbox] [data-move]');
	const first = await page.evaluate(() => document.activeElement!.getAttribute('data-path')!);
	await statements().getByText(first).first().waitFor();
	await press('a');
	await said(`Accepted: ${first} of Calls`);
	await expect
		.poll(() => page.evaluate(() => document.activeElement!.getAttribute('data-path')))
		.not.toBe(first);
	expect(await written()).toContain(first);

	// A row that is put at another place keeps the focus: the arrow keys go on from there.
	const moved = await page.evaluate(async () => {
		const row = document.activeElement!;
		row.parentElement!.append(row);
		const lost = document.activeElement !== row;
		await Promise.resolve();
		return { lost, back: document.activeElement === row };
	});
	expect(moved).toEqual({ lost: true, back: true });

	// A reference that is so, and one that is not.
	await rowOf('where');
	await statements().getByText('“bay:” + an id of layout').waitFor();
	await press('a');
	await said('Accepted: where of Calls');
	await rowOf('first');
	await press('x');
	await said('Rejected: first of Calls');
	await expect.poll(() => page.locator('[data-path=first]').innerText()).not.toContain('Vessels');

	// What it does, typed in place.
	await press('e');
	expect(await statements().getByRole('heading').first().innerText()).toBe('first');
	await tabTo(page, '[data-edit][data-label="What it does"]');
	await press('Enter');
	await statements().getByRole('textbox', { name: 'What it does' }).waitFor();
	await page.keyboard.type('Who is asked before all others');
	await press('Enter');
	await said('Set for first of Calls: meaning');
	const yaml = await written();
	expect(yaml).toContain('before: "bay:"');
	expect(yaml).toContain('Who is asked before all others');
	expect(yaml).toMatch(/not:\n\s+- reference/);
});

test('what was only detected stays as it is until somebody ticks it, and only what differs is marked as mine', async () => {
	await at(nobody, 'tables/deck?where=id+is+raft_rack%2C+line_gun&cols=weight');
	await press('w');
	const many = page.getByTestId('change-many');
	await many.getByLabel('By what').fill('1');
	await many.getByText('2 of 2 values change').waitFor();
	await many.getByRole('button', { name: 'Preview changes' }).click();
	const dialog = page.getByRole('dialog');
	const detected = dialog.getByTestId('detected');
	await detected.getByText('2 places').waitFor();
	expect(await dialog.innerText()).not.toContain('data/gear/cold/deck.xml added');
	await detected.getByLabel(/twins that stay alike/).check();
	await dialog.getByRole('row').filter({ hasText: 'its twin changes too' }).first().waitFor();
	await detected.getByLabel(/twins that stay alike/).uncheck();
	await dialog
		.getByRole('row')
		.filter({ hasText: 'its twin changes too' })
		.first()
		.waitFor({ state: 'detached' });
	await planReady(page);
	await press('Control+Enter');
	await said('Added to my mod: data/gear/deck.xml. 2 detected places were not changed');
	// The whole file is in my mod, two of its records are changed.
	await at(nobody, 'tables/deck?where=changed+by+me');
	await page.getByRole('status').filter({ hasText: '2 of 40 rows' }).waitFor();
	await at(nobody, 'tables/deck?ticket=deck%2Fboom_short');
	await page.getByTestId('ticket').getByText('in my mod, as in the base').waitFor();
	await press('Control+z');
	await said('Undone');
});

test('a statement that people accepted blocks what goes against it, a found one only warns', async () => {
	const added = async (field: string, value: string) => {
		const intention = { do: 'set', kind: 'calls', id: 'grounding_1', field, value };
		const plan = (await post(`/p/${nobody}/api/plan`, { intention })) as {
			added: { rule: string; severity: string }[];
		};
		return plan.added.map(({ rule, severity }) => `${rule} ${severity}`);
	};
	expect(await added('where', 'bay:nowhere')).toEqual(['missing-reference blocks']);
	expect(await added('hazard', '99')).toEqual(['missing-reference warns']);
	expect(await added('first', 'nobody')).toEqual([]);
});

test('what is understood stands above the kinds; what a mod’s file does can be said, and taken back', async () => {
	await at(nobody, 'guide');
	const before = await written();
	await page.getByTestId('understood').getByText('files are read as data').waitFor();
	const look = page.getByTestId('look-first').getByRole('link').first();
	const field = (await look.getAttribute('href'))!.split('field=')[1]!;
	await look.click();
	await statements().getByText(decodeURIComponent(field)).first().waitFor();
	await at(nobody, 'guide/crew');
	await page.getByLabel('A mod’s file').selectOption('record');
	await said('Set for Crew: merge');
	expect(await written()).toMatch(/crew:[\s\S]*merge: record/);
	await at(nobody, 'guide?kinds=nothing-is-called-so');
	await page.getByText('No kind matches').waitFor();
	expect(await page.getByText('Nothing yet').count()).toBe(0);
	await at(nobody, 'guide?kinds=crew');
	await page.getByRole('button', { name: 'Undo: Set for Crew' }).click();
	await said('Undone: Set for Crew');
	expect(await written()).toBe(before);
});

test('how lists are joined and where patch files lie is said on the pages, and a patch in my mod counts', async () => {
	await at(nobody, 'guide/crew');
	const before = await written();
	await page.getByLabel('A mod’s file').selectOption('field');
	await said('Set for Crew: merge');
	const rules = page.getByRole('region', { name: 'How mods are merged' });
	const until = (pattern: RegExp) => expect.poll(written, { timeout: 15_000 }).toMatch(pattern);
	await rules.getByLabel('The list abilities', { exact: true }).selectOption('value');
	await until(/abilities:\s+same: value/);
	await rules.getByLabel('Of two items of abilities').selectOption('first');
	await until(/abilities:\s+same: value\s+second: first/);
	const mark = rules.getByLabel('Mark of an item of abilities');
	await mark.fill('-');
	await mark.press('Enter');
	await until(/second: first\s+out: ['"]?-/);
	await rules.getByLabel('Field that marks a removed record').selectOption('watch');
	const value = rules.getByLabel('Value that marks a removed record');
	await value.fill('9');
	await value.press('Enter');
	await until(/out:\s+field: watch\s+is: ["']?9/);
	await at(nobody, 'guide');
	await page.getByLabel('Path of patch files').fill('{path}.patch');
	await page.getByRole('button', { name: 'Add', exact: true }).click();
	await said('Set the patch files: {path}.patch');
	const path = 'data/crew.json.patch';
	const text = '[{"op": "replace", "path": "/0/pay", "value": 44}]';
	const intention = {
		do: 'text',
		path,
		text,
		from: null,
		like: { encoding: 'utf-8', bom: false, eol: '\n' }
	};
	await post(`/p/${nobody}/api/apply`, { intention });
	await at(nobody, 'file/mine/data/crew.json');
	await page.getByText('This is what the patch data/crew.json.patch makes of').waitFor();
	await page.getByText('"pay": 44').waitFor();
	await press('Control+z');
	await said('Undone');
	await at(nobody, 'guide');
	await page.getByRole('button', { name: 'Remove {path}.patch' }).click();
	await said('Set the patch files: none');
	for (let left = 7; left > 0; left--) await post(`/p/${nobody}/api/guide`, { do: 'undo' });
	expect(await written()).toBe(before);
});

test('docs from a table, another guide merged in, and each change taken back', async () => {
	await at(nobody, 'guide');
	const before = await written();
	await page.getByRole('button', { name: 'Import field descriptions' }).click();
	await page.getByLabel('The table').fill('kind,field,text\nvessels,tow,Heaviest casualty\nship,sail,x\n');
	await page.getByRole('button', { name: 'Import', exact: true }).click();
	await said('Imported 1 field description. Line 3: there is no kind “ship”.');
	expect(await written()).toContain('Heaviest casualty');
	await page.getByRole('button', { name: 'Merge a guide…' }).click();
	await page
		.getByLabel('The guide')
		.fill(
			'guide: 1\nkinds:\n  vessels:\n    title: Boat\n    files: [data/vessels.tsv]\n    fields:\n      tow: { unit: t }\n'
		);
	await page.getByLabel('use the imported guide').check();
	await page.getByRole('button', { name: 'Import', exact: true }).click();
	await said('Both guides set kinds › vessels › title; the imported guide counts.');
	expect(await written()).toContain('title: Boat');
	for (const what of ['Merged a guide', 'Imported 1 field description']) {
		await page.getByRole('button', { name: `Undo: ${what}` }).click();
		await said(`Undone: ${what}`);
	}
	expect(await written()).toBe(before);
	// A guide that is none changes nothing and says where.
	await page.getByRole('button', { name: 'Merge a guide…' }).click();
	await page.getByLabel('The guide').fill('guide: 1\nkinds: { cart: { title: Cart } }\n');
	await page.getByRole('button', { name: 'Import', exact: true }).click();
	await said('a mistake at kinds.cart.files');
	expect(await written()).toBe(before);
});

test('the meaning of a code is written where one sees the code', async () => {
	await at(nobody, 'guide/crew?field=watch');
	await statements().locator('[data-label="Meaning of 3"]').click();
	await page.keyboard.type(' or stays ashore');
	await press('End');
	await press('Control+a');
	await page.keyboard.type('stays ashore');
	await press('Enter');
	await said('Set for 3 in watch of Crew: stays ashore');
	await at(nobody, 'tables/crew?ticket=crew/mate');
	await page
		.locator('[data-field=watch] option', { hasText: '3: stays ashore' })
		.waitFor({ state: 'attached' });
});

test('what values mean is kept as a set, which another field uses; others may be typed, and are found by what they mean', async () => {
	const known = () => statements().getByLabel('Known values');
	await at('gannet-sound', 'guide/role?field=watch');
	await known().selectOption('a new set of these…');
	await statements().getByLabel('Name of the set').fill('watches');
	await press('Enter');
	await said(/^Kept 4 values of .* as the set “watches”/);
	await expect.poll(() => known().inputValue()).toBe('watches');
	await at('gannet-sound', 'guide/mode?field=pace');
	await known().selectOption('watches');
	await statements().getByText('turns back early').waitFor();
	// A value that this field says something else of keeps that to itself.
	const guided = (change: object) =>
		page.evaluate(
			async (body) =>
				(
					await fetch('/p/gannet-sound/api/guide', {
						method: 'POST',
						headers: { 'content-type': 'application/json' },
						body: JSON.stringify(body)
					})
				).status,
			change
		);
	const codes = { '7': 'as it likes' };
	expect(await guided({ do: 'say', kind: 'mode', field: 'pace', statements: { codes } })).toBe(200);
	const changed = (means: string) => guided({ do: 'code', kind: 'mode', field: 'pace', code: '7', means });
	expect(await changed('as the wind likes')).toBe(200);
	const written = async () => {
		const text = await page.evaluate(async () => (await fetch('/p/gannet-sound/api/guide')).text());
		const { kinds, sets } = parse(text) as Record<string, Record<string, never>>;
		return [kinds!.mode!['fields']['pace']['codes'] ?? {}, sets!.watches!['7']];
	};
	expect(await written()).toEqual([{ '7': 'as the wind likes' }, undefined]);
	expect(await changed('')).toBe(200);
	expect(await written()).toEqual([{}, undefined]);
	// It is open: a value that it does not have is typed.
	await at('gannet-sound', 'tables/mode?ticket=mode%2Ffresh');
	const pace = page.locator('[data-field="pace"]');
	await pace.locator('select').selectOption('another value…');
	await page.keyboard.type('7');
	await press('Enter');
	await said(/pace of .*: \d to 7/i);
	await at('gannet-sound', 'find?q=turns%20back%20early');
	await page.getByRole('link', { name: /calm/ }).first().waitFor();
	expect(faults).toEqual([]);
});

test('values are typed as people think of them, and written as the file has them', async () => {
	const field = (path: string) => page.locator(`[data-field="${path}"]`);
	const type = async (path: string, text: string) => {
		await field(path).locator('button[data-edit]').click();
		await page.keyboard.type(text);
		await press('Enter');
	};
	const value = (path: string) => field(path).locator('[data-value]').first();
	await at('gannet-sound', 'tables/bay?ticket=bay/knot');
	await type('north', '61°30\'15"N');
	await expect.poll(() => value('north').getAttribute('data-value')).toBe('61.504167');
	await type('heading', 'SSW');
	await expect.poll(() => value('heading').getAttribute('data-value')).toBe('202.5');
	await field('heading').getByText('Means SSW.').waitFor();
	await at('gannet-sound', 'tables/ability?ticket=ability/ice_sense');
	await type('chance', '25 %');
	await expect.poll(() => value('chance').getAttribute('data-value')).toBe('0.25');
	await type('ticks', '3 s');
	await expect.poll(() => value('ticks').getAttribute('data-value')).toBe('60');
	// A reference of which another field says the kind: only what fits is offered, and its record is shown.
	await field('grant.id').getByRole('link', { name: 'Copper kettle' }).waitFor();
	await field('grant.type').locator('select').selectOption('deck');
	await page.getByTestId('ticket').getByText('Best with takes deck gear').waitFor();
	await at('gannet-sound', 'tables/role?ticket=role/mate');
	await field('swims').getByRole('switch').click();
	await said('Set swims of Mate');
	// A number that hides a record.
	await at('gannet-sound', 'tables/spawn?ticket=spawn/knot%2F01-14%231');
	await field('what').getByRole('link').first().waitFor();
});

test('ranges: what is covered, a rule changed from the drawing as a plan, and what then overlaps', async () => {
	await at('gannet-sound', 'ranges/ambience');
	await page.getByText('There are no gaps. Nothing is covered twice.').waitFor();
	await page.locator('ol').getByRole('button', { name: 'dusk_swell' }).click();
	await page.getByLabel('hour.from of dusk_swell').fill('15');
	await press('Enter');
	await page.getByRole('dialog').getByText('hour.from').first().waitFor();
	await press('Control+Enter');
	await page.getByText('is covered more than once: the first rule wins there').waitFor();
	// The same by dragging an edge.
	const edge = page.locator('svg[aria-label="What the rules cover"] rect[style*="ew-resize"]').first();
	const box = (await edge.boundingBox())!;
	await page.mouse.move(box.x + 4, box.y + box.height / 2);
	await page.mouse.down();
	await page.mouse.move(box.x + 4 + 47, box.y + box.height / 2, { steps: 6 });
	await page.mouse.up();
	await page.getByRole('dialog').getByText('17').first().waitFor();
	await press('Control+Enter');
	await page.getByText('There are no gaps. Nothing is covered twice.').waitFor();
});
