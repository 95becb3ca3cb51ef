// Texts edited as texts: a number in a function, a new file, a fault while typing, two people at one file.
import { readFile } from 'node:fs/promises';
import { expect, test } from 'vitest';
import { planReady, useDemo } from './helpers';

const { page: thePage, at, press, said, faults, server } = useDemo();

const sheet = (path: string) => thePage().getByRole('textbox', { name: `Text of ${path}` });
const status = (text: string) => thePage().getByRole('status').filter({ hasText: text });

/** The text of a file as the server has it: my mod's, else the game's. */
const words = (path: string) =>
	fetch(`${server().address}/p/gannet-sound/api/text/${path}`).then(
		async (answer) => (await answer.json()) as { text: string; from: string }
	);

/** Saves a text beside the page, as another window would. */
async function savedBeside(path: string, change: (text: string) => string): Promise<void> {
	const { text, from } = await words(path);
	const answer = await fetch(`${server().address}/p/gannet-sound/api/apply`, {
		method: 'POST',
		headers: { 'content-type': 'application/json', origin: server().address },
		body: JSON.stringify({ intention: { do: 'text', path, text: change(text), from } })
	});
	expect(answer.status).toBe(200);
}

/** Puts the cursor at the end of a line, from 1, by keys alone. */
async function toLine(path: string, line: number): Promise<void> {
	await sheet(path).focus();
	await press('Control+Home');
	for (let down = 1; down < line; down++) await press('ArrowDown');
	await press('End');
}

test('a number inside a function of the game is changed, by keyboard, and undone', async () => {
	const page = thePage();
	await at('file/base/scripts/tide.lua?line=3');
	await page.getByRole('link', { name: 'Edit text in my mod' }).focus();
	await press('Enter');
	await page.getByText('Saving puts the whole file into it.').waitFor();
	await sheet('scripts/tide.lua').waitFor();
	await toLine('scripts/tide.lua', 3);
	await press('Home');
	for (let right = 0; right < 'return '.length; right++) await press('ArrowRight');
	for (let gone = 0; gone < '1.6'.length; gone++) await press('Delete');
	await page.keyboard.type('1.9');
	await status('not saved').waitFor();
	await press('Control+Enter');
	await said('Edit scripts/tide.lua. Added to my mod: scripts/tide.lua');
	await status('not saved').waitFor({ state: 'detached' });
	expect((await words('scripts/tide.lua')).text).toContain('return 1.9 * math.sin');
	await page.getByRole('button', { name: /^Undo: / }).click();
	await said('Undone: Edit scripts/tide.lua');
	expect((await words('scripts/tide.lua')).text).toContain('return 1.6 * math.sin');
});

test('a constant says where else it is used, in all scripts', async () => {
	const page = thePage();
	await savedBeside(
		'scripts/tide.lua',
		(text) => `range = 1.6\n${text.replace('return 1.6', 'return range')}`
	);
	await savedBeside('scripts/freeplay.lua', (text) => `${text}\nfunction free_tide()\n\treturn range\nend\n`);
	await at('inside/scripts/tide.lua');
	const outside = page.getByRole('region', { name: 'Outside of functions' });
	await outside.getByText(/range is also used in tide\.lua:4, freeplay\.lua:\d+/).waitFor();
	await outside.getByRole('link', { name: 'tide.lua:4' }).click();
	await page.waitForURL(/scripts\/tide\.lua\?line=4/);
	for (let step = 0; step < 2; step++) {
		await page.getByRole('button', { name: /^Undo: / }).click();
		await said(/^Undone: /);
	}
});

test('what the text says is shown while it is typed: its record, its values, a fault; saving it shows the plan first', async () => {
	const page = thePage();
	await at('edit/data/engines.ini?line=3');
	const about = page.getByRole('complementary', { name: 'What the text says' });
	await about.getByRole('heading', { name: 'triple_6' }).waitFor();
	await about.getByRole('link', { name: 'Open its ticket' }).waitFor();
	await toLine('data/engines.ini', 2);
	await press('Backspace');
	await about.getByRole('button', { name: /^Line 2: .*never closed/ }).waitFor();
	await press('Control+Enter');
	const dialog = page.getByRole('dialog', { name: /^Edit data\/engines.ini/ });
	await dialog.waitFor();
	await planReady(page);
	await dialog
		.getByText(/cannot be read at line 2/)
		.first()
		.waitFor();
	await dialog.getByRole('button', { name: 'Cancel' }).click();
	await dialog.waitFor({ state: 'detached' });
	// What was typed is still there when one comes back.
	await at('find');
	await at('edit/data/engines.ini');
	await status('This is unsaved text from').waitFor();
	await about.getByRole('button', { name: /^Line 2: .*never closed/ }).waitFor();
	await page.getByRole('button', { name: 'Discard changes' }).click();
	await about.getByRole('button', { name: /^Line 2/ }).waitFor({ state: 'detached' });
	await at('edit/data/engines.ini');
	await sheet('data/engines.ini').waitFor();
	expect(await status('This is unsaved text from').count()).toBe(0);
});

test('a script that cannot be loaded is a snag before the game is started', async () => {
	const page = thePage();
	await at('edit/scripts/tide.lua');
	await sheet('scripts/tide.lua').waitFor();
	await toLine('scripts/tide.lua', 9);
	await press('Backspace');
	await page
		.getByRole('list', { name: 'Faults' })
		.getByText(/missing|cannot be here|never closed/)
		.waitFor();
	await page.getByRole('button', { name: 'Preview changes' }).click();
	const dialog = page.getByRole('dialog', { name: /^Edit scripts\/tide.lua/ });
	await planReady(page);
	await dialog
		.getByText(/scripts\/tide.lua.*cannot be read at line/)
		.first()
		.waitFor();
	await dialog.getByRole('button', { name: 'Cancel' }).click();
	await page.getByRole('button', { name: 'Discard changes' }).click();
});

test('two people at one file: changes of different lines are joined, of one line they are not', async () => {
	const page = thePage();
	await at('file/base/scripts/omens.lua');
	await page.getByRole('button', { name: 'Add file to my mod' }).click();
	await page.getByRole('dialog').getByText('Preview. Nothing has changed yet.').waitFor();
	await planReady(page);
	await page.getByRole('button', { name: 'Apply the plan' }).click();
	await said('Add scripts/omens.lua to my mod');
	await at('edit/scripts/omens.lua');
	await sheet('scripts/omens.lua').waitFor();
	await toLine('scripts/omens.lua', 1);
	await page.keyboard.type(' Mine.');
	await savedBeside('scripts/omens.lua', (text) => `${text}-- theirs\n`);
	await status('The file was changed since you began').waitFor();
	await press('Control+Enter');
	await said('Edit scripts/omens.lua');
	const { text } = await words('scripts/omens.lua');
	expect(text.split('\n')[0]).toMatch(/ Mine\.$/);
	expect(text).toMatch(/-- theirs\n$/);

	await at('edit/scripts/omens.lua');
	await sheet('scripts/omens.lua').waitFor();
	await toLine('scripts/omens.lua', 1);
	await page.keyboard.type(' Again.');
	await savedBeside('scripts/omens.lua', (all) => all.replace(' Mine.', ' Theirs.'));
	await status('The file was changed since you began').waitFor();
	await press('Control+Enter');
	await said(/Line 1 of scripts\/omens.lua was changed since you began/);
	expect((await words('scripts/omens.lua')).text.split('\n')[0]).toMatch(/ Theirs\.$/);
	await page.getByRole('button', { name: 'Replace it with my text' }).click();
	await press('Control+Enter');
	await said('Edit scripts/omens.lua');
	await expect
		.poll(async () => (await words('scripts/omens.lua')).text.split('\n')[0])
		.toMatch(/ Mine\. Again\.$/);
});

test('while nothing is typed, the sheet follows what is saved elsewhere and what is undone', async () => {
	const page = thePage();
	await at('edit/scripts/omens.lua');
	await sheet('scripts/omens.lua').waitFor();
	await savedBeside('scripts/omens.lua', (all) => `-- from elsewhere\n${all}`);
	await sheet('scripts/omens.lua').getByText('-- from elsewhere').waitFor();
	await page.getByRole('button', { name: /^Undo: / }).click();
	await said('Undone: Edit scripts/omens.lua');
	await sheet('scripts/omens.lua').getByText('-- from elsewhere').waitFor({ state: 'detached' });
	expect(await status('not saved').count()).toBe(0);
});

test('a new file, written like its neighbours, from a model or from nothing', async () => {
	const page = thePage();
	await at('file/base/scripts/bay_knot.lua');
	await page.getByRole('link', { name: 'New file like this' }).click();
	const form = page.getByRole('form', { name: 'New file' });
	await form.getByText('Most files there end in .lua.').waitFor();
	await form.getByLabel('Folder and name').fill('scripts/bay_avocet.lua');
	await form.getByRole('button', { name: 'Write it' }).click();
	await sheet('scripts/bay_avocet.lua').waitFor();
	expect(await sheet('scripts/bay_avocet.lua').innerText()).toContain('function on_enter_knot');
	await page.getByRole('button', { name: 'Create file' }).click();
	await said(/^New file scripts\/bay_avocet.lua/);
	await page.getByRole('button', { name: 'Save', exact: true }).waitFor();
	expect((await words('scripts/bay_avocet.lua')).text).toBe((await words('scripts/bay_knot.lua')).text);
	await at('file/mine/scripts/bay_avocet.lua');
	await page.getByRole('button', { name: 'Remove from my mod' }).click();
	await page.getByRole('dialog', { name: /^Remove scripts\/bay_avocet.lua from my mod/ }).waitFor();
	await planReady(page);
	await page.getByRole('button', { name: 'Apply the plan' }).click();
	await said('Remove scripts/bay_avocet.lua from my mod');
	// The page of the file has nothing to show any more.
	expect(new URL(page.url()).pathname).toBe('/p/gannet-sound/ledger');
	expect(await page.getByRole('heading', { level: 1 }).innerText()).toBe('Ledger');
});

test('a script of mine that nothing loads: a snag, hooked up by a repair, all undone', async () => {
	const page = thePage();
	// On Find the search field has the focus and takes the digits.
	await at('tables');
	await press('5');
	await page.waitForURL(/\/scripts/);
	await page.getByRole('link', { name: 'New script' }).click();
	await page.getByLabel('Folder and name').fill('scripts/on_hour.lua');
	await page.getByRole('button', { name: 'Write it' }).click();
	await sheet('scripts/on_hour.lua').waitFor();
	await sheet('scripts/on_hour.lua').focus();
	await page.keyboard.insertText('function on_hour(boat, hour)\n\tsay("log.tide.high")\nend\n');
	await page.getByRole('button', { name: 'Create file' }).click();
	await said(/^New file scripts\/on_hour.lua/);
	await at('scripts');
	const event = page.getByRole('listitem', { name: 'on_hour', exact: true });
	await event.getByRole('link', { name: 'on_hour.lua:1' }).waitFor();
	// A snag, with the repair on the page of snags and on this one.
	await at('snags');
	const snag = page.getByRole('listitem', { name: /^Loading of scripts/ });
	await snag.getByText(/so the game may never run it/).waitFor();
	await snag.getByRole('button', { name: 'Load scripts/on_hour.lua like its neighbours' }).click();
	await page.getByRole('dialog', { name: /^Load scripts\/on_hour.lua in scripts\/start.lua/ }).waitFor();
	await planReady(page);
	await page.getByRole('button', { name: 'Apply the plan' }).click();
	await said('Load scripts/on_hour.lua in scripts/start.lua');
	expect((await words('scripts/start.lua')).text).toMatch(
		/load_script\("tide"\)\nload_script\("on_hour"\)\n$/
	);
	await at('scripts');
	await page
		.getByRole('list', { name: 'Order of loading' })
		.getByRole('link', { name: 'on_hour.lua' })
		.waitFor();
	for (let step = 0; step < 2; step++) {
		const undo = page.getByRole('button', { name: /^Undo: / });
		const title = (await undo.getAttribute('aria-label'))!.replace('Undo: ', '');
		await undo.click();
		await said(`Undone: ${title}`);
	}
});

test('what is no text, is too long or is not there says so', async () => {
	const page = thePage();
	await page.goto(`${server().address}/p/gannet-sound/edit/packed/controls.bin`);
	await page.getByText(/is not a text, so it cannot be edited as one/).waitFor();
	await page.goto(`${server().address}/p/gannet-sound/edit/no/such.txt`);
	await page.getByText('There is no file no/such.txt.').waitFor();
});

test('no page had a fault of its own', () => expect(faults).toEqual([]));

const PATCH = `--- a/scripts/tide.lua
+++ b/scripts/tide.lua
@@ -1,4 +1,4 @@
 -- The tide in metres, by the hour.
 function tide(hour)
-	return 1.5 * math.sin(hour / 12.4 * 6.283)
+	return 2 * math.sin(hour / 12.4 * 6.283)
 end
--- a/scripts/logbook.lua
+++ b/scripts/logbook.lua
@@ -1,4 +1,5 @@
 -- Pages are shown in the reverse order of this file.
 page("first", "**Today** the sea was flat.")
+page("between", "**Fog** came in.")
 page("second", "**Ice** was seen beyond the light.")
 page("third", "**Nobody** was lost.")
`;

test('a patch is taken in, by keyboard: what is not certain is chosen, then all of it is one step', async () => {
	const page = thePage();
	await at('scripts');
	await page.getByRole('link', { name: 'Apply a patch' }).focus();
	await press('Enter');
	await page.getByLabel('Text of the patch').focus();
	await page.keyboard.insertText('no patch at all');
	await page.getByRole('button', { name: 'See what it does' }).focus();
	await press('Enter');
	await page.getByRole('alert').getByText('This is not a patch').waitFor();
	faults.splice(0);
	await page.getByLabel('Text of the patch').focus();
	await press('Control+A');
	await page.keyboard.insertText(PATCH);
	await page.getByRole('button', { name: 'See what it does' }).focus();
	await press('Enter');
	await status('1 part has no certain place yet.').waitFor();
	const tide = page.getByRole('region', { name: 'scripts/tide.lua' });
	await tide.getByText('The lines that it changes are not as they were.').waitFor();
	await page.getByRole('region', { name: 'scripts/logbook.lua' }).getByText('at line 3').waitFor();
	await tide.getByRole('radio', { name: /^Line 3/ }).focus();
	await press('Space');
	await page.getByRole('button', { name: 'Preview' }).focus();
	await press('Enter');
	await planReady(page);
	await press('Control+Enter');
	await page.waitForURL(/\/ledger/);
	expect((await words('scripts/tide.lua')).text).toContain('return 2 * math.sin');
	expect((await words('scripts/logbook.lua')).text).toContain(
		'page("between", "**Fog** came in.")\npage("second"'
	);
	// My change can be kept as a patch; taken in again, it is there already.
	await at('file/mine/scripts/logbook.lua');
	const coming = page.waitForEvent('download');
	await page.getByRole('link', { name: 'Save my changes as a patch' }).click();
	const saved = await readFile(await (await coming).path(), 'utf8');
	expect(saved).toContain('+page("between", "**Fog** came in.")');
	await at('patch');
	await page.getByLabel('Text of the patch').fill(saved);
	await page.getByRole('button', { name: 'See what it does' }).click();
	await status('All of this patch is already there.').waitFor();
	await page.getByRole('button', { name: /^Undo: / }).click();
	await said('Undone: Apply a patch');
	expect((await words('scripts/tide.lua')).text).toContain('return 1.6 * math.sin');
});
