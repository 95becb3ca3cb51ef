// Optional parts of my mod: made from my changes, checked in all combinations, and packed as mods of their own.
import { strFromU8, unzipSync } from 'fflate';
import { expect, test } from 'vitest';
import { useDemo } from './helpers';

const { page: thePage, at, press, said, faults, server } = useDemo();

const call = (path: string) => `${server().address}/p/gannet-sound/api/${path}`;
const zip = async (path: string) => unzipSync(new Uint8Array(await (await fetch(call(path))).arrayBuffer()));

test('a change becomes an option, by keyboard; it is checked, packed, kept with the project, and the step undone', async () => {
	const page = thePage();
	await at('mod');
	await page.getByRole('link', { name: 'Optional parts' }).press('Enter');
	await page.getByText('Your mod has no optional parts.').waitFor();
	await page.getByLabel('New option').focus();
	await page.keyboard.type('Fast cutters');
	await press('Enter');
	await said('Saved: 1 option');
	const option = page.getByRole('listitem', { name: 'Fast cutters' });
	// One change right behind the other: neither is lost. What is removed can be had back.
	await option.getByRole('textbox', { name: 'What it does, for players' }).fill('Cutters at full steam.');
	await option.getByRole('checkbox', { name: 'on by default' }).check();
	await option.getByRole('button', { name: 'Remove this option', disabled: false }).press('Enter');
	await option.waitFor({ state: 'detached' });
	await page.getByRole('button', { name: 'Bring it back', disabled: false }).press('Enter');
	await option.waitFor();
	expect(await option.getByRole('textbox', { name: 'What it does, for players' }).inputValue()).toBe(
		'Cutters at full steam.'
	);
	expect(await option.getByRole('checkbox', { name: 'on by default' }).isChecked()).toBe(true);
	await option.getByRole('button', { name: 'Move changes of my mod here' }).press('Enter');
	await option.getByRole('checkbox', { name: /^Kittiwake, Speed/ }).press('Space');
	await option.getByRole('button', { name: 'Move 1 change', disabled: false }).press('Enter');
	await said('Move 1 value into the option “Fast cutters”');
	await option.getByRole('row', { name: /Kittiwake, Speed 21/ }).waitFor();
	await page.getByRole('button', { name: 'Check 2 combinations', disabled: false }).press('Enter');
	await page.getByText('2 combinations checked: no snags beyond those that your mod already has.').waitFor();

	const packs = await zip('options');
	const speed = (path: string) =>
		strFromU8(packs[path]!)
			.split('\n')
			.find((line) => line.startsWith('cutter_04'))
			?.split('\t')[3];
	expect([speed('longline/data/vessels.tsv'), speed('longline_fast_cutters/data/vessels.tsv')]).toEqual([
		'21',
		'24'
	]);
	expect(JSON.parse(strFromU8(packs['longline_fast_cutters/mod.json']!))).toMatchObject({
		name: 'longline_fast_cutters',
		title: 'Longline: Fast cutters',
		requires: ['longline'],
		after: ['longline']
	});
	expect(strFromU8(packs['options.txt']!)).toContain('longline_fast_cutters: Fast cutters (on by default)');
	const { project } = JSON.parse(strFromU8((await zip('export'))['project.json']!)) as {
		project: { options: { id: string }[] };
	};
	expect(project.options.map(({ id }) => id)).toEqual(['fast_cutters']);
	await page.getByRole('button', { name: /^Undo: Move 1 value/ }).click();
	await said(/^Undone: Move 1 value/);
	// The option is as it was before the step, too.
	await option.getByText('It changes nothing yet.').waitFor();
	await page.getByRole('button', { name: /^Redo: Move 1 value/ }).click();
	await option.getByRole('row', { name: /Kittiwake, Speed 21/ }).waitFor();
});

test('what one step made goes into an option whole, a record with its texts, and back byte for byte', async () => {
	const page = thePage();
	const packed = async () =>
		Object.entries(await zip('pack')).map(([path, bytes]) => [path, strFromU8(bytes)]);
	await at('options');
	const before = await packed();
	const answer = await page.evaluate(async () => {
		const intention = {
			do: 'copy',
			kind: 'vessel',
			id: 'pilot_06',
			newId: 'pilot_99',
			names: { en: 'Turnstone', de: 'Steinwälzer' }
		};
		const headers = { 'content-type': 'application/json' };
		const body = JSON.stringify({ intention });
		return (await fetch('/p/gannet-sound/api/apply', { method: 'POST', headers, body })).status;
	});
	expect(answer).toBe(200);
	await at('options');
	const copied = await packed();
	const option = page.getByRole('listitem', { name: 'Fast cutters' });
	await option.getByRole('button', { name: 'Move changes of my mod here' }).press('Enter');
	const step = option.getByRole('combobox', { name: 'Step' });
	await step.selectOption({ index: 1 });
	expect(await step.locator('option:checked').textContent()).toMatch(/pilot_99/);
	await option.getByRole('checkbox', { name: /^All / }).press('Space');
	await option.getByRole('button', { name: /^Move \d+ changes$/, disabled: false }).press('Enter');
	await said('Move 4 records into the option “Fast cutters”');
	await option
		.getByRole('list', { name: 'Records and files of Fast cutters' })
		.getByText('pilot_99')
		.first()
		.waitFor();
	expect(await packed()).toEqual(before);
	const packs = await zip('options');
	expect(strFromU8(packs['longline_fast_cutters/data/vessels.tsv']!)).toContain('pilot_99');
	expect(JSON.stringify(Object.values(packs).map((bytes) => strFromU8(bytes)))).toContain('Steinwälzer');
	await page.getByRole('button', { name: 'Check 2 combinations', disabled: false }).press('Enter');
	await page.getByText('2 combinations checked: no snags').waitFor();
	await page.getByRole('button', { name: /^Undo: Move / }).click();
	await said(/^Undone: Move /);
	expect(await packed()).toEqual(copied);
	await page.getByRole('button', { name: /^Redo: Move / }).click();
	await option.getByRole('list', { name: 'Records and files of Fast cutters' }).waitFor();
	const back = option.getByRole('button', { name: /^(Vessel|Text).*: into the main part$/ });
	for (let left = await back.count(); left > 0; left--) {
		await option
			.getByRole('button', { name: /^(Vessel|Text).*: into the main part$/, disabled: false })
			.first()
			.press('Enter');
		await expect.poll(() => back.count(), { timeout: 20_000 }).toBe(left - 1);
	}
	expect(await packed()).toEqual(copied);
});

test('a fault that only two options together have is told with both, and an option that sets what is not there is refused', async () => {
	const page = thePage();
	const save = (options: object[]) =>
		fetch(call('options'), {
			method: 'POST',
			headers: { 'content-type': 'application/json', origin: server().address },
			body: JSON.stringify({ do: 'save', options })
		});
	const upgrade = (id: string, value: string) => [{ kind: 'vessel', id, field: 'upgrade', value }];
	const pace = ['slow', 'brisk', 'fast'].map((id, nth) => ({
		id,
		title: `Cutters, ${id}`,
		oneOf: 'Speed of cutters',
		cells: [{ kind: 'vessel', id: 'cutter_03', field: 'speed', value: String(17 + nth) }]
	}));
	const switches = [
		{ id: 'there', title: 'There', cells: upgrade('pilot_06', 'survey_06') },
		{ id: 'back', title: 'And back', cells: upgrade('survey_06', 'pilot_06') }
	];
	expect((await save([...pace, ...switches])).status).toBe(200);
	await at('options');
	await page.getByRole('button', { name: 'Check 12 combinations' }).press('Enter');
	const found = page.getByRole('region', { name: 'Combinations' });
	await found.getByText('12 combinations checked: 1 snag.').waitFor();
	await found.getByText('With There and And back:').waitFor();
	await found.getByRole('link', { name: 'Open the record' }).waitFor();
	// Made from what is no longer there, it would overwrite what somebody else did.
	const stale = await fetch(call('options'), {
		method: 'POST',
		headers: { 'content-type': 'application/json', origin: server().address },
		body: JSON.stringify({ do: 'save', options: switches, was: pace })
	});
	expect([stale.status, await stale.text()]).toEqual([422, expect.stringContaining('changed elsewhere')]);
	const twice = await save([...pace, pace[0]!]);
	expect([twice.status, await twice.text()]).toEqual([
		422,
		expect.stringContaining('two options called “slow”')
	]);
	await save([{ id: 'gone', title: 'Gone', cells: upgrade('nobody', 'survey_06') }]);
	await at('options');
	await page.getByRole('button', { name: /^Check/ }).press('Enter');
	await said(/^Gone: .*nobody/);
	expect(faults).toEqual([]);
});
