// All texts on one page: how far each language is, what is wrong with which, and edited where they are.
import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { planReady, useDemo } from './helpers';

const { page, at, press, said, faults } = useDemo();
const grid = () => page().getByRole('grid');
const language = (name: string) =>
	page().getByTestId('languages').getByRole('listitem').filter({ hasText: name });
const keys = () => grid().locator('[role=rowheader] code').allTextContents();

test('a text is emptied and then written where it is: its language says so, and what is missing is a click away', async () => {
	await at('tables');
	await press('9');
	await page().getByRole('heading', { name: 'Words', exact: true }).waitFor();
	expect(await page().title()).toBe('Words · Kettle Dial');
	await language('Deutsch').getByText('944 there').waitFor();
	expect(
		await language('Deutsch')
			.getByRole('link', { name: /missing/ })
			.count()
	).toBe(0);
	// The first text, in the second language: the main one stands first.
	await grid().focus();
	for (let nth = 0; nth < 2; nth++) await press('ArrowRight');
	await press('e');
	const editor = page().getByTestId('cell-editor');
	await editor.locator('input').waitFor();
	await press('Control+a');
	await press('Delete');
	await press('Enter');
	await said(/Set text call\.grounding_1\.name/);
	await language('Deutsch').getByRole('link', { name: '1 missing' }).click();
	await page().getByTestId('condition').filter({ hasText: 'Deutsch is empty' }).waitFor();
	await expect.poll(keys).toEqual(['call.grounding_1.name']);
	await grid().focus();
	await press('e');
	await editor.locator('input').waitFor();
	await page().keyboard.insertText('Auflaufen');
	await press('Enter');
	await page().getByText('No rows match.').waitFor();
	await press('Control+z');
	await said('Undone');
	await press('Control+z');
	await language('Deutsch').getByText('944 there').waitFor();
});

test('a translation that loses its placeholder is marked, told with its line, and mended', async () => {
	await at('words?filter=about&where=en+has+Call+2+of');
	const first = () => grid().locator('[role=row]').filter({ hasText: 'call.fire_below_1.about' });
	await first().waitFor();
	await grid().focus();
	for (let nth = 0; nth < 2; nth++) await press('ArrowRight');
	await press('e');
	const input = page().getByTestId('cell-editor').locator('input, textarea');
	await input.waitFor();
	await press('Control+a');
	await page().keyboard.insertText('Ruf 2 der Saison. Bald antworten.');
	await press('Enter');
	await said(/Set text call\.fire_below_1\.about/);
	await language('Deutsch').getByRole('link', { name: '1 with other placeholders or tags' }).click();
	await page().getByTestId('condition').filter({ hasText: 'Deutsch is unlike English' }).waitFor();
	await expect.poll(keys).toEqual(['call.fire_below_1.about']);
	await grid().focus();
	await press('Enter');
	await page().getByTestId('ticket').getByText('lacks %d, which it has in English').waitFor();
	await press('Control+z');
	await said('Undone');
	expect(faults).toEqual([]);
});

test('a word is replaced in all texts at once: capitals are kept, and one form of it is left out', async () => {
	await at('words?where=en+has+boat');
	await page().getByRole('button', { name: 'Change many' }).click();
	const dialog = page().getByTestId('change-many');
	await dialog.getByLabel('How').selectOption('replace');
	await dialog.getByLabel('Text to find').fill('boat');
	await dialog.getByLabel('Text to put there').fill('skiff');
	const form = (name: string) => dialog.getByTestId('forms').getByLabel(new RegExp(`^${name} \\d`));
	await form('lifeboat').uncheck();
	await dialog.getByText(/of \d+ values change\./).waitFor();
	await expect
		.poll(() =>
			dialog
				.getByRole('row')
				.filter({ hasText: /Lifeskiff/i })
				.count()
		)
		.toBe(0);
	await dialog.getByRole('button', { name: 'Preview changes' }).click();
	await planReady(page());
	await press('Control+Enter');
	await said(/Change .* of \d+ texts with “skiff” for “boat”/);
	const shown = (await grid().locator('[role=gridcell]').allTextContents()).join('\n');
	expect(shown).not.toMatch(/\bboats?\b/);
	await press('Control+z');
	await said('Undone');
});

test('texts are given out, translated by somebody, and taken in; what changed meanwhile is shown, and taken when chosen', async () => {
	await at('words');
	await page().getByRole('link', { name: 'Translation files' }).click();
	await page().getByLabel('Every text').check();
	await page().waitForURL(/all=on/);
	await page().getByText('944 texts').waitFor();
	const download = page().waitForEvent('download');
	await page().getByRole('link', { name: 'Download' }).click();
	const given = readFileSync(await (await download).path(), 'utf8');
	expect((await download).suggestedFilename()).toBe('gannet-sound-de.po');
	const back = given
		.replace('msgstr "Auflaufen"', 'msgstr "Auf Grund"')
		.replace('msgid "Lost raft"', 'msgid "Lost rafts"')
		.replace('msgstr "Verlorenes Floß"', 'msgstr "Verlorene Flöße"')
		.replace('msgctxt "call.no_fuel_1.name"', 'msgctxt "call.gone"');
	const bring = (text: string) =>
		page()
			.getByLabel('Choose a file…')
			.setInputFiles({ name: 'back.po', mimeType: 'text/plain', buffer: Buffer.from(text) });
	await bring('no texts at all');
	await page().getByRole('alert').filter({ hasText: 'neither PO nor XLIFF nor CSV' }).waitFor();
	await bring(back);
	const found = page().getByTestId('taken');
	await found.getByText('new in Deutsch').waitFor();
	expect(await found.innerText()).toMatch(/1\s+new in Deutsch\s+1\s+changed here.*\s+941\s+already there/);
	await page().getByText('no text has the key call.gone').waitFor();
	const changed = page().getByTestId('changed-text');
	expect(await changed.innerText()).toMatch(
		/Lost rafts\s[^]*Lost raft\s[^]*Verlorenes Floß\s[^]*Verlorene Flöße/
	);
	await page().getByText('1 text to take in').waitFor();
	await changed.getByRole('checkbox').check();
	await page().getByText('2 texts to take in').waitFor();
	await page().getByRole('button', { name: 'Preview changes' }).click();
	await planReady(page());
	await press('Control+Enter');
	await said('Set 2 values of 2 texts');
	await page().waitForURL(/\/words$/);
	await grid().getByText('Verlorene Flöße').waitFor();
	await grid().getByText('Auf Grund').waitFor();
	await press('Control+z');
	await said('Undone');
	expect(faults).toEqual([]);
});
