// My mod given away: the texts that go along are shown as they will be, and are in the archive.
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
