// Layers: what several of them change is decided by keyboard; another order and fewer layers are looked at first.
import { fileURLToPath } from 'node:url';
import { expect, test } from 'vitest';
import { planReady, tabTo, useDemo } from './helpers';

const { page: thePage, at, press, said, server } = useDemo();

/** The pack as the server makes it, as one text of digests. */
const packed = () =>
	fetch(`${server().address}/p/gannet-sound/api/pack`).then(async (answer) =>
		Buffer.from(await answer.arrayBuffer()).toString('base64')
	);

test('what several layers change is settled by rule and by hand, as one step, by keyboard, and taken back', async () => {
	const page = thePage();
	const before = await packed();
	await at('setup');
	await tabTo(page, 'a[href$="/clashes"]');
	await press('Enter');
	const clash = (name: string) => page.getByRole('listitem', { name, exact: true });
	await clash('Capstan, Speed').getByText('as the game has it').waitFor();
	await page.getByRole('link', { name: 'To decide 3' }).waitFor();
	// By rule: what only one layer truly changes.
	await page.getByRole('button', { name: 'Choose the only change in 3 places' }).focus();
	await press('Enter');
	expect(await clash('Capstan, Speed').getByRole('radio', { name: /12/ }).isChecked()).toBe(true);
	// By hand: the arrows go through what can be chosen, and a value of one's own is one of them.
	await clash('Heron triple, Noise').getByRole('radio', { checked: true }).focus();
	await press('ArrowDown');
	await clash('Heron triple, Noise')
		.getByRole('textbox', { name: /my own value/ })
		.focus();
	await page.keyboard.type('64');
	await page.getByRole('button', { name: 'Preview 3 changes' }).focus();
	await press('Enter');
	const plan = page.getByRole('dialog', { name: 'Settle 3 values that several layers change' });
	await plan.getByRole('row', { name: /Heron triple.*noise.*71.*64/ }).waitFor();
	await planReady(page);
	await press('Control+Enter');
	await said('Settle 3 values that several layers change');
	await page.getByText('Nothing is left to decide.').waitFor();
	await page.getByRole('link', { name: /^With my mod/ }).click();
	await clash('Heron triple, Noise').getByText('your mod decides').waitFor();
	await page.getByRole('button', { name: /^Undo: Settle/ }).click();
	await said('Undone: Settle 3 values');
	expect(await packed()).toBe(before);
});

/** The engine of the barge, as the game would see it. */
const engine = () =>
	fetch(`${server().address}/p/gannet-sound/api/ticket/vessel/barge_02`).then(
		async (answer) => /"(electric_4|single_4)"/.exec(await answer.text())?.[1]
	);

test('a layer is switched off after a look at what changes, every page follows, and it is switched on again', async () => {
	const page = thePage();
	const layer = page.getByRole('region', { name: 'Quiet Harbours' });
	expect(await engine()).toBe('electric_4');
	await at('setup');
	await layer.getByRole('checkbox', { name: 'on' }).focus();
	await press('Space');
	const look = page.getByRole('dialog', { name: 'Switch Quiet Harbours off' });
	await look.getByRole('status').getByText('values would change.').waitFor();
	await look.getByRole('row', { name: /electric_4.*single_4/ }).waitFor();
	await press('Escape');
	await look.waitFor({ state: 'detached' });
	expect(await layer.getByRole('checkbox', { name: 'on' }).isChecked()).toBe(true);
	await layer.getByRole('checkbox', { name: 'on' }).focus();
	await press('Space');
	await look.getByRole('status').getByText('values would change.').waitFor();
	await look.getByRole('button', { name: 'Apply', disabled: false }).focus();
	await press('Enter');
	await said('Quiet Harbours is switched off');
	await layer.getByText('switched off').first().waitFor();
	await at('clashes?only=all');
	await page.getByText('Nothing of this sort.').waitFor();
	expect(await engine()).toBe('single_4');
	// A layer that is off is looked at before it is switched on, too.
	await at('setup');
	await layer.getByRole('checkbox', { name: 'on' }).click();
	const back = page.getByRole('dialog', { name: 'Switch Quiet Harbours on' });
	await back.getByRole('row', { name: /single_4.*electric_4/ }).waitFor();
	await back.getByRole('button', { name: 'Apply', disabled: false }).press('Enter');
	await said('Quiet Harbours is switched on');
	expect(await engine()).toBe('electric_4');
	await at('clashes?only=all');
	await page.getByRole('listitem', { name: 'Capstan, Speed' }).waitFor();
});

test('what is loaded is kept under a name and gone back to, after a look', async () => {
	const page = thePage();
	const box = page.getByRole('region', { name: 'Quiet Harbours' }).getByRole('checkbox', { name: 'on' });
	await at('setup');
	const arrangements = page.getByRole('region', { name: 'Arrangements' });
	await arrangements.getByRole('textbox', { name: 'Name' }).focus();
	await page.keyboard.type('All of it');
	await press('Enter');
	await said('Saved as “All of it”');
	const one = arrangements.getByRole('listitem', { name: 'All of it' });
	await one.getByText('Ice Season, Quiet Harbours').waitFor();
	await one.getByText('in use').waitFor();
	await box.press('Space');
	const off = page.getByRole('dialog', { name: 'Switch Quiet Harbours off' });
	await off.getByRole('row', { name: /electric_4.*single_4/ }).waitFor();
	await off.getByRole('button', { name: 'Apply', disabled: false }).press('Enter');
	await said('Quiet Harbours is switched off');
	expect(await engine()).toBe('single_4');
	await one.getByRole('button', { name: 'Go back to it' }).press('Enter');
	const look = page.getByRole('dialog', { name: 'Go back to “All of it”' });
	await look.getByRole('row', { name: /single_4.*electric_4/ }).waitFor();
	await look.getByRole('button', { name: 'Apply', disabled: false }).press('Enter');
	await said('The layers are as in “All of it”');
	expect(await engine()).toBe('electric_4');
	await one.getByText('in use').waitFor();
	await one.getByRole('button', { name: 'Remove' }).press('Enter');
	await said('“All of it” was removed');
});

test('another order is looked at before it is made', async () => {
	const page = thePage();
	const [ice, quiet] = ['Ice Season', 'Quiet Harbours'].map((name) => page.getByRole('region', { name }));
	await at('setup');
	expect(await ice!.getByRole('button', { name: 'Load Ice Season earlier' }).isDisabled()).toBe(true);
	await quiet!.getByRole('button', { name: 'Load Quiet Harbours earlier' }).focus();
	await press('Enter');
	const look = page.getByRole('dialog', { name: 'Load Quiet Harbours before Ice Season' });
	await look.getByRole('status').waitFor();
	await look.getByRole('button', { name: 'Apply', disabled: false }).click();
	await look.waitFor({ state: 'detached' });
	await quiet!.getByRole('heading', { name: '2. Quiet Harbours' }).waitFor();
	await quiet!.getByRole('button', { name: 'Load Quiet Harbours later' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'Apply', disabled: false }).click();
	await quiet!.getByRole('heading', { name: '3. Quiet Harbours' }).waitFor();
});

/** What the game sees in a field. */
const seen = async (kind: string, id: string, field: string) => {
	const answer = await fetch(`${server().address}/p/gannet-sound/api/ticket/${kind}/${id}`);
	const { groups } = (await answer.json()) as { groups: { rows: { path: string; value: string }[] }[] };
	return groups.flatMap(({ rows }) => rows).find(({ path }) => path === field)?.value;
};

/** The ten ways in which Strong Currents clashes with the expansion and with mine, and what is made of each. */
const BY_RULE = [
	['Kittiwake, Seats', 'vessel', 'cutter_04', 'seats', '15'],
	['Skerry, Draft', 'vessel', 'cutter_07', 'draft', '2.05'],
	['Capstan, Seats', 'vessel', 'tug_02', 'seats', '6'],
	['Long boom, Weight', 'deck_gear', 'boom_long', 'weight', '0.80'],
	['Long boom, Cost', 'deck_gear', 'boom_long', 'cost', '190']
] as const;
const BY_HAND = [
	['Kittiwake, Speed', '29 Both changes', 'vessel', 'cutter_04', 'speed', '29'],
	['Capstan, Tow', '34 Strong Currents', 'vessel', 'tug_02', 'tow', '34'],
	['Snow Bunting six, Fuel', '88.0 Ice Season', 'engine', 'arctic_6', 'fuel', '88.0'],
	['pick, Key', 'I Ice Season', 'control', 'pick', 'key', 'I'],
	[
		'vessel.cutter_04.about, English',
		'Cutter. Holds her course where others drift. Strong Currents',
		'',
		'',
		'',
		''
	]
] as const;

test('another mod clashes with the expansion and with mine in ten ways: settled, packed, loaded cleanly, taken back', async () => {
	const page = thePage();
	await at('setup');
	const folder = page.getByLabel('Folder or ZIP of an expansion or another mod');
	await folder.focus();
	await page.keyboard.insertText(fileURLToPath(new URL('../../demo/strong-currents', import.meta.url)));
	await press('Enter');
	await page.getByRole('region', { name: 'Strong Currents', exact: true }).waitFor();
	// What keeps the mod from loading is no matter of layers.
	await at('snags');
	for (let left = 3; left > 0; left--) {
		await page.getByText(`${left} block`).first().waitFor();
		await page
			.locator('[data-rule=missing-reference], [data-rule=wrong-kind], [data-rule=missing-text]')
			.filter({ hasNotText: 'Strong Currents' })
			.first()
			.getByRole('button')
			.first()
			.press('Enter');
		await page.getByRole('dialog').getByText('Fixes').waitFor();
		await planReady(page);
		await press('Control+Enter');
		await page.getByRole('dialog').waitFor({ state: 'detached' });
	}
	const before = await packed();
	await at('clashes?only=all');
	const clash = (name: string) => page.getByRole('listitem', { name, exact: true });
	for (const [name] of [...BY_RULE, ...BY_HAND]) await clash(name).waitFor();
	await page.getByRole('button', { name: /^Choose the only change in \d+ places/ }).press('Enter');
	for (const [name] of BY_RULE)
		expect(
			await clash(name)
				.getByRole('radio', { name: /the only change/ })
				.isChecked(),
			name
		).toBe(true);
	for (const [name, choice] of BY_HAND) {
		const radio = clash(name).getByRole('radio', { name: choice });
		await radio.press('Space');
		expect(await radio.isChecked(), name).toBe(true);
	}
	await page.getByRole('button', { name: /^Preview \d+ changes/ }).press('Enter');
	await planReady(page);
	await press('Control+Enter');
	await said(/^Settle \d+ values/);
	for (const [name, kind, id, field, value] of [
		...BY_RULE,
		...BY_HAND.filter(([, , kind]) => kind !== '').map(([name, , ...rest]) => [name, ...rest] as const)
	])
		expect([name, await seen(kind, id, field)]).toEqual([name, value]);
	await at('trial');
	await page.getByTestId('start-trial').press('Enter');
	await page.getByTestId('outcome').filter({ hasText: 'Loaded cleanly' }).waitFor();
	expect(await packed()).not.toBe(before);
	await page.getByRole('button', { name: /^Undo: Settle/ }).click();
	await said(/^Undone: Settle/);
	expect(await packed()).toBe(before);
});

test('a table and a record are looked at as of a layer: with its values, without those after it, and not to be edited', async () => {
	const page = thePage();
	await at('tables/vessel');
	const asOf = page.getByLabel('as of');
	expect(await asOf.locator('option').allTextContents()).toEqual([
		'all layers',
		'Base',
		'Ice Season',
		'Quiet Harbours',
		'Strong Currents',
		'My mod'
	]);
	await asOf.selectOption('Base');
	await page.getByTestId('as-of').getByText('The game as it is up to Base').waitFor();
	await page.getByText('60 rows').waitFor();
	expect(await page.getByRole('button', { name: 'Change many' }).count()).toBe(0);
	const speeds = async (query: string) => {
		const answer = await fetch(
			`${server().address}/p/gannet-sound/api/rows/vessel?${query}&where=${encodeURIComponent('id is barge_02')}`
		);
		return ((await answer.json()) as { rows: { cells: string[] }[] }).rows.map(({ cells }) =>
			cells.find((cell) => /^(electric|single)_4$/.test(cell))
		);
	};
	const base = new URL(page.url()).searchParams.get('as')!;
	expect([await speeds('as='), await speeds(`as=${base}`)]).toEqual([['electric_4'], ['single_4']]);
	// The keys that edit say why they do not.
	await page.getByRole('grid').focus();
	await press('ArrowDown');
	await press('ArrowRight');
	await press('e');
	await said('These are the values as of Base.');
	await page.goto(`${page.url()}&ticket=vessel/barge_02`);
	const record = page.getByRole('region', { name: /as of Base$/ });
	await record.getByRole('row', { name: /^Engine single_4 Base electric_4$/ }).waitFor();
	await record.getByRole('link', { name: 'Edit it with all layers' }).press('Enter');
	await page.getByTestId('as-of').waitFor({ state: 'detached' });
	await record.waitFor({ state: 'detached' });
	// What comes later is not there, and the page says with what it comes.
	await at(`tables/vessel?as=${base}&ticket=vessel/launch_12`);
	await page.getByText('is not in the game as of Base: it comes with').waitFor();
	expect((await fetch(`${server().address}/p/gannet-sound/tables/vessel?as=none`)).status).toBe(404);
});
