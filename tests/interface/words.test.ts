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
	await press('4');
	await page().getByRole('heading', { name: 'Words', exact: true }).waitFor();
	expect(await page().title()).toBe('Words · Kettle Dial');
	await language('Deutsch').getByText('943 there').waitFor();
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
	await language('Deutsch').getByText('943 there').waitFor();
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
	await page().getByText('943 texts').waitFor();
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
	expect(await found.innerText()).toMatch(/1\s+new in Deutsch\s+1\s+changed here.*\s+940\s+already there/);
	await page().getByText('no text has the key call.gone').waitFor();
	const changed = page().getByTestId('changed-text');
	expect(await changed.innerText()).toMatch(
		/Lost rafts\s[^]*Lost raft\s[^]*Verlorenes Floß\s[^]*Verlorene Flöße/
	);
	await page().getByText('1 text to import').waitFor();
	await changed.getByRole('checkbox').check();
	await page().getByText('2 texts to import').waitFor();
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

test('a copied vessel gets its texts in three languages in one visit to the page', async () => {
	await at('tables/vessel?ticket=vessel%2Fbarge_01');
	await page().getByRole('button', { name: 'Copy as new' }).click();
	await page().getByRole('dialog').getByLabel('New id').fill('barge_31');
	await page().getByRole('button', { name: 'Preview changes' }).click();
	await planReady(page());
	await press('Control+Enter');
	await page()
		.getByRole('heading', { name: /Windlass/ })
		.first()
		.waitFor();
	await at('tables/vessel?ticket=vessel%2Fbarge_31');
	await page().getByRole('link', { name: 'Edit them side by side' }).click();
	await expect.poll(keys).toEqual(['vessel.barge_31.name', 'vessel.barge_31.short', 'vessel.barge_31.about']);
	const texts = [
		['Bollard', 'Poller', 'ボラード'],
		['Bollard', 'Poller', 'ボラード'],
		['Barge. Goes at {speed} kn.', 'Schute. Macht {speed} kn.', 'はしけ。{speed}ノット。']
	];
	await grid().focus();
	await press('ArrowRight');
	for (const [row, languages] of texts.entries()) {
		for (const [column, text] of languages.entries()) {
			await press('e');
			const input = page().getByTestId('cell-editor').locator('input, textarea');
			await input.waitFor();
			await press('Control+a');
			await page().keyboard.insertText(text);
			await press('Enter');
			await expect
				.poll(() =>
					grid()
						.locator('[role=row]')
						.nth(row + 1)
						.locator('[role=gridcell]')
						.nth(column)
						.textContent()
				)
				.toBe(text);
			if (column < 2) await press('ArrowRight');
		}
		await press('ArrowDown');
		for (let nth = 0; nth < 2; nth++) await press('ArrowLeft');
	}
	const written = ['en', 'de', 'ja'].map((code, nth) => [code, texts.map((languages) => languages[nth]!)]);
	await at('tables/vessel?ticket=vessel%2Fbarge_31');
	const ticket = page().getByTestId('ticket');
	await ticket.getByRole('heading', { name: 'Bollard' }).waitFor();
	for (const [, all] of written)
		for (const text of all!) await ticket.getByText(text, { exact: true }).first().waitFor();
	expect(faults).toEqual([]);
});

test('a text is seen as the game draws it while it is typed, with what is cut off, and where it goes', async () => {
	await at('words?ticket=text%2Fvessel.barge_02.about');
	const ticket = page().getByTestId('ticket');
	const english = ticket.locator('[data-field=en]');
	await english.getByText('words/en/longline.properties: adds to the game’s texts').waitFor();
	await english.getByRole('button', { name: /English/ }).click();
	const drawn = english.getByTestId('drawn');
	await english.getByRole('textbox').fill('Barge. **Carries** <ice>ice</ice><br>at {speed} kn.');
	await expect
		.poll(() => drawn.locator('div.min-h-5').allTextContents())
		.toEqual(['Barge. Carries ice', 'at 7 kn.']);
	expect(
		await drawn.getByText('Carries', { exact: true }).evaluate((span) => getComputedStyle(span).fontWeight)
	).toBe('700');
	expect(await drawn.getByText('ice', { exact: true }).evaluate((span) => getComputedStyle(span).color)).toBe(
		'rgb(31, 106, 145)'
	);
	await english.getByRole('textbox').fill(`Barge. ${'Carries what is left on the quay. '.repeat(4)}`.trim());
	await english.getByText('Cut off: 2 lines more than the game has room for.').waitFor();
	await press('Enter');
	await said(/Set text vessel\.barge_02\.about/);
	await ticket.getByText(/“About” has room for 3 lines of 34 letters/).waitFor();
	await english.getByText(/Without my mod: “Barge\. Hums/).waitFor();
	await press('Control+z');
	await said('Undone');
	expect(faults).toEqual([]);
});

test('a language is added and written into a file of its own; a text that was translated before is offered', async () => {
	await at('words');
	await page().getByRole('link', { name: 'Languages and terms' }).click();
	await page().getByLabel('Code, as the game’s files have it').fill('de');
	await page().getByRole('alert').getByText('The game already has “de”.').waitFor();
	await page().getByLabel('Code, as the game’s files have it').fill('nb');
	await page().getByRole('button', { name: 'Add language' }).click();
	await page().getByTestId('languages').getByText('norsk bokmål').waitFor();
	await at('words?ticket=text%2Fcall.grounding_1.name');
	const ticket = page().getByTestId('ticket');
	const norse = ticket.locator('[data-field=nb]');
	await norse.getByText('words/nb/longline.properties, a new file').waitFor();
	await norse.getByRole('button', { name: /norsk/ }).click();
	await norse.getByRole('textbox').fill('Grunnstøting');
	await press('Enter');
	await said(/Set text call\.grounding_1\.name/);
	await norse.getByText('In words/nb/longline.properties').waitFor();
	// The same words are the name of another call of that season.
	await at('words?ticket=text%2Fvessel.launch_02.about');
	await ticket.locator('[data-field=nb]').getByRole('button', { name: /norsk/ }).click();
	await ticket.locator('[data-field=nb]').getByRole('textbox').fill('Barkasse, liten og rask.');
	await press('Enter');
	await said(/Set text vessel\.launch_02\.about/);
	await at('words?ticket=text%2Fvessel.launch_03.about');
	const offered = ticket.locator('[data-field=nb]').getByTestId('before');
	await offered.getByText('The same text is “Barkasse, liten og rask.” in vessel.launch_02.about').waitFor();
	await offered.getByRole('button', { name: 'Use “Barkasse, liten og rask.” for norsk bokmål' }).click();
	await said(/Set text vessel\.launch_03\.about/);
	await at('words');
	await language('norsk').getByText('3 there').waitFor();
	for (let nth = 0; nth < 3; nth++) {
		await press('Control+z');
		await said('Undone');
	}
	await at('words/languages');
	await page().getByRole('button', { name: 'Remove norsk bokmål' }).click();
	await expect.poll(() => page().getByText('norsk').count()).toBe(0);
	expect(faults).toEqual([]);
});

test('a term is set, counted over all texts and shown with those that do not follow it; texts are shown by what uses them', async () => {
	await at('words/languages');
	await page().getByLabel('New term, English').fill('tug');
	await page().getByLabel('New term, Deutsch').fill('Schleppboot');
	await page().getByRole('button', { name: 'Add term' }).click();
	await page().getByTestId('terms').getByRole('cell', { name: 'Schleppboot' }).waitFor();
	await at('words');
	await language('Deutsch')
		.getByRole('link', { name: /against the terms/ })
		.click();
	await page().getByTestId('condition').filter({ hasText: 'is against the terms' }).waitFor();
	await expect.poll(async () => (await keys()).length).toBeGreaterThan(1);
	expect((await keys()).some((key) => key.startsWith('vessel.tug_'))).toBe(true);
	await page().getByLabel('used by').selectOption('used by scripts');
	await page().waitForURL(/used\+by\+scripts|used%20by%20scripts/);
	await at('words?where=used+by+vessels');
	await expect.poll(async () => (await keys()).every((key) => key.startsWith('vessel.'))).toBe(true);
	await at('words');
	await page().getByLabel('in layer').selectOption('in layer Ice Season');
	await expect.poll(async () => (await keys()).includes('vessel.berg_01.name')).toBe(true);
	expect((await keys()).some((key) => key.startsWith('call.'))).toBe(false);
	await at('words/languages');
	await page().getByRole('button', { name: 'Remove tug' }).click();
	await expect.poll(() => page().getByRole('cell', { name: 'Schleppboot' }).count()).toBe(0);
	const download = page().waitForEvent('download');
	await page().getByRole('link', { name: 'Download as ZIP' }).click();
	expect((await download).suggestedFilename()).toBe('longline_testing.zip');
	expect(faults).toEqual([]);
});
