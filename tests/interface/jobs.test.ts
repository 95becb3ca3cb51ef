// Jobs of a modder, done with nothing but what the page shows: names, roles, and keys that the page tells.
import { expect, test } from 'vitest';
import { dialSays, planReady, useDemo } from './helpers';

const { page: thePage, at, press, said, faults } = useDemo();

const ticket = () => thePage().getByRole('region', { name: /^Ticket of / });
const group = (name: string) => ticket().getByRole('group', { name, exact: true });
const button = (name: string | RegExp) =>
	ticket().getByRole('button', { name, exact: typeof name === 'string' });
const items = (name: string) => group(name).getByText(/^\d+ items?$/);

/** Applies the plan in view. */
async function apply(name: string | RegExp): Promise<void> {
	const dialog = thePage().getByRole('dialog', { name });
	await dialog.waitFor();
	await planReady(thePage());
	await dialog.getByRole('button', { name: 'Apply the plan' }).click();
	await dialog.waitFor({ state: 'detached' });
}

/** Takes the last steps back. */
async function undo(steps: number): Promise<void> {
	for (let step = 0; step < steps; step++) {
		const was = await thePage()
			.getByRole('button', { name: /^Undo: / })
			.getAttribute('aria-label');
		await thePage()
			.getByRole('button', { name: /^Undo: / })
			.click();
		await said(`Undone: ${was!.replace('Undo: ', '')}`);
	}
}

/** Writes a value over that of a field on the ticket. */
async function write(label: string, value: string): Promise<void> {
	await ticket()
		.getByRole('button', { name: new RegExp(`^${label}: .*Edit$`) })
		.click();
	await thePage().keyboard.press('Control+a');
	await thePage().keyboard.insertText(value);
	await press('Enter');
}

test('a new bay from an existing one: folder, texts, script, lanes with ids of their own', async () => {
	const page = thePage();
	await at('tables/bay?ticket=bay/knot');
	await button('Copy as new').click();
	const form = page.getByRole('dialog', { name: /^Copy / });
	await form.getByLabel('New id').fill('avocet');
	await form.getByLabel('Name, English').fill('Amber Hole');
	await form.getByText('Records in its folder get ids of their own').waitFor();
	await form.getByRole('textbox', { name: 'Lane knot_2' }).fill('the_bend');
	await form.getByRole('button', { name: 'Preview changes' }).click();
	await apply(/^Copy .* as new bay avocet/);
	await said(/Also changed: .*6? ?texts? \(/);
	await at('tables/lane?where=avocet&ticket=lane/avocet_1');
	await ticket().getByRole('link', { name: 'the_bend' }).waitFor();
	await at('file/mine/scripts/bay_avocet.lua');
	await page.getByText('function on_enter_avocet(boat, hour)').waitFor();
	await dialSays(page, '3 block');
	await undo(1);
});

test('a table is understood: what fields mean and take, room left, pictures and sounds', async () => {
	const page = thePage();
	await at('tables/vessel?ticket=vessel/cutter_04');
	await page.getByText('room for 128').waitFor();
	await ticket().getByText('At full power in calm water.').waitFor();
	await ticket().getByText('1–40', { exact: true }).waitFor();
	const picture = ticket().getByRole('img', { name: /^Picture: art\// });
	await expect
		.poll(() => picture.evaluate((image: HTMLImageElement) => image.complete && image.naturalWidth > 0))
		.toBe(true);
	await at('tables/omen?ticket=omen/white_gull');
	await ticket().getByLabel('Sound: sound/omens/white_gull.ogg').waitFor();
});

test('a list of numbers: one added, moved, removed, bent as a curve', async () => {
	const page = thePage();
	await at('tables/tint?ticket=tint/noon');
	await write('Add to Falloff', '0.1');
	await said('Add 0.1 to falloff of noon');
	expect(await items('Falloff').innerText()).toBe('6 items');
	// The counter beside it follows, and the message says so.
	await ticket().getByRole('button', { name: 'Steps: 6. Edit' }).waitFor();
	await group('Falloff').getByRole('button', { name: 'Move Falloff 6 up' }).click();
	await said('Move item 6 to place 5');
	await group('Falloff').getByRole('button', { name: 'Remove Falloff 1', exact: true }).click();
	await said('Remove item 1');
	await ticket().getByRole('link', { name: 'Open Falloff in a larger editor' }).click();
	await page.getByRole('heading', { name: 'Falloff of noon' }).waitFor();
	await page.getByRole('slider', { name: 'Falloff 2' }).focus();
	await press('ArrowUp');
	await press('Enter');
	await said(/^Set falloff of noon/);
	await page.getByRole('button', { name: /^Falloff: 0.7. Edit$/ }).waitFor();
	await undo(4);
});

test('an effect is copied with its sound; the same bit twice is told', async () => {
	const page = thePage();
	await at('tables/omen?ticket=omen/white_gull');
	await button('Copy as new').click();
	const form = page.getByRole('dialog', { name: /^Copy / });
	await form.getByLabel('New id').fill('grey_gull');
	await form.getByText('files named after it').waitFor();
	await form.getByRole('button', { name: 'Preview changes' }).click();
	await apply(/^Copy .* as new omen grey_gull/);
	await at('tables/omen?ticket=omen/grey_gull');
	await ticket().getByLabel('Sound: sound/omens/grey_gull.ogg').waitFor();
	await ticket()
		.getByText(/Bit .*0.* is already used by/)
		.waitFor();
	await write('Bit', '30');
	await said('Set bit of');
	await expect
		.poll(() =>
			ticket()
				.getByText(/is already used by/)
				.count()
		)
		.toBe(0);
	await undo(2);
});

test('a crew role: a code by its meaning, an ability more, an order changed by dragging', async () => {
	const page = thePage();
	await at('tables/role?ticket=role/mate');
	await ticket().getByRole('combobox', { name: 'Watch' }).selectOption('2');
	await said('Set watch of Mate');
	const add = ticket().getByRole('combobox', { name: 'Add to Abilities: pick by name' });
	await add.fill('warm');
	await page.getByRole('option', { name: /^Warm broth/ }).click();
	await said('Add warm_broth to abilities of Mate');
	expect(await items('Abilities').innerText()).toBe('3 items');
	const from = (await ticket().getByLabel('Drag Abilities 1').boundingBox())!;
	const to = (await ticket().getByLabel('Drag Abilities 3').boundingBox())!;
	await page.mouse.move(from.x + 5, from.y + 5);
	await page.mouse.down();
	for (let step = 1; step <= 12; step++)
		await page.mouse.move(from.x + 5, from.y + 5 + ((to.y - from.y + 12) * step) / 12);
	// While it is dragged, the others make room for it.
	await expect
		.poll(() =>
			group('Abilities')
				.locator('[data-item]')
				.evaluateAll((all) => all.map((one) => (one as HTMLElement).dataset.item).join())
		)
		.toBe('1,2,0');
	await page.mouse.up();
	await said('Move item 1 to place 3 in abilities of Mate');
	await undo(3);
});

test('a block like that of another, and a missing end date', async () => {
	const page = thePage();
	await at('tables/station?ticket=station/tar_row');
	await group('successor').getByRole('button', { name: 'Remove successor', exact: true }).click();
	await said('Remove successor from Tar Row');
	await page.getByRole('combobox', { name: 'like that of' }).selectOption({ label: 'Grey Gate' });
	await button('Add to this record').click();
	await said('Add successor to Tar Row, like Grey Gate');
	await group('successor').getByRole('button', { name: 'Move successor up' }).click();
	await said('Move successor of Tar Row');
	// A date is shown and typed as the file has it, whatever order the browser prefers; the calendar writes it so, too.
	await button('Keeper until: 1910-05-18. Edit').waitFor();
	await button('Keeper until: open the calendar').waitFor();
	await page.locator('[data-field="keeper.until"] input[type=date]').fill('1910-06-01');
	await said('Set keeper until of Tar Row: 1910-05-18 to 1910-06-01');
	await button('Keeper until: 1910-06-01. Edit').waitFor();
	// The end date of the keeper is needed: without it the game drops the block.
	await at('snags');
	const before = await page.getByRole('listitem').count();
	await at('tables/station?ticket=station/tar_row');
	await button('Remove Keeper until from this record').click();
	await said('Remove keeper until from Tar Row');
	await at('snags');
	const snag = page.getByRole('listitem', { name: /: Tar Row$/ });
	await snag.getByText(/Keeper until/).waitFor();
	expect(await page.getByRole('listitem').count()).toBeGreaterThan(before);
	await snag.getByRole('button', { name: /^Add it with \d{4}-\d\d-\d\d, like / }).click();
	await apply(/^Add keeper until to Tar Row/);
	await undo(6);
});

test('constants, a colour, a hard limit, and all of it back', async () => {
	const page = thePage();
	await at('tables/rule');
	await page.getByRole('row').nth(1).getByRole('rowheader').click();
	await press('Enter');
	await write('Most stations', '14');
	await said('Set most stations');
	await ticket()
		.getByText(/must be at most 12/)
		.waitFor();
	await at('tables/tint?ticket=tint/dusk');
	await ticket().getByLabel('Colour: pick a colour').fill('#102030');
	await said(/^Set colour of dusk: .* to 16, 32, 48/);
	await at('snags');
	const limit = page.getByRole('listitem', { name: /^Beyond a hard limit/ });
	await limit.getByRole('button', { name: 'Set it to 12' }).click();
	await apply(/^Set most stations/);
	await undo(3);
});

test('mistakes on purpose are told in words, and repaired where the answer is known', async () => {
	const page = thePage();
	for (const id of ['winch_hand', 'raft_rack']) {
		await at(`tables/cold_deck_gear?ticket=cold_deck_gear/${id}`);
		await write('weight', '0.99');
		await said(/^Set weight of/);
		await undo(1);
	}
	await at('tables/hazard?ticket=hazard/1');
	await write('Chance', '45');
	await ticket()
		.getByText(/Chance must be between 0 and 1/)
		.first()
		.waitFor();
	await press('Escape');
	await at('tables/ability');
	await page.getByRole('row').nth(1).getByRole('rowheader').click();
	await press('Enter');
	await write('Rest', '12');
	await said('Set rest of');
	await ticket()
		.getByText(/The game reads it as 9/)
		.waitFor();
	await ticket().getByText('The game reads numbers beyond 0–9 as the nearest one.').waitFor();
	await ticket().getByRole('link', { name: 'How to fix it' }).first().click();
	await page.getByRole('button', { name: 'Set it to 9' }).click();
	await apply(/^Set rest/);
	await undo(2);
});

test('who the mod is: said on its page, written into its file, shown in the band', async () => {
	const page = thePage();
	await at('find');
	await page.getByRole('link', { name: 'Longline 0.3.0' }).click();
	await page.getByLabel('Version', { exact: true }).fill('0.4.0');
	await page.getByLabel('Description').fill('More boats for the winter.');
	await page.getByRole('group', { name: 'Loads after' }).getByRole('checkbox').first().check();
	await page.getByRole('button', { name: 'Save' }).click();
	await said('Set the mod’s details: Longline 0.4.0');
	await page.getByRole('link', { name: 'Longline 0.4.0' }).waitFor();
	await at('file/mine/mod.json');
	await page.getByText('"description": "More boats for the winter."').waitFor();
	await undo(1);
	await page.getByRole('link', { name: 'Longline 0.3.0' }).waitFor();
});

test('from page to page by keys: the focus goes where the eye goes, and back', async () => {
	const page = thePage();
	const focus = () =>
		page.evaluate(
			() =>
				document.activeElement?.getAttribute('aria-label') ??
				document.activeElement?.textContent?.trim().slice(0, 20)
		);
	await at('snags');
	await press('2');
	await page.waitForURL(/\/find/);
	await expect
		.poll(() => page.getByTestId('find').evaluate((box) => box === document.activeElement))
		.toBe(true);
	await page.keyboard.type('Skerry');
	await page.getByText('English name: Skerry').waitFor();
	await press('ArrowDown');
	await press('Enter');
	await ticket().waitFor();
	await press('Escape');
	await ticket().waitFor({ state: 'detached' });
	expect(await focus()).toContain('Skerry');
	await press('3');
	await page.waitForURL(/\/tables/);
	await expect.poll(focus).toMatch(/^Mod/);
	await press('7');
	await page.waitForURL(/\/snags/);
	await expect.poll(focus).toMatch(/: /);
	// While a dialog is open, the digits do not lead away from it.
	await at('tables/vessel?ticket=vessel/cutter_04');
	await press('c');
	const form = page.getByRole('dialog', { name: /^Copy / });
	await form.getByRole('button', { name: 'Cancel' }).focus();
	await press('8');
	await form.getByLabel('New id').fill('cutter_04');
	await form.getByText('The id “cutter_04” is already used.').waitFor();
	await press('Escape');
	await form.waitFor({ state: 'detached' });
	await ticket().getByRole('heading', { name: 'Kittiwake' }).waitFor();
});

test('a start: its entry in the script and its option on the page come together', async () => {
	const page = thePage();
	await at('tables/start?ticket=start/ice_edge');
	const before = await page.getByTestId('dial').innerText();
	await button('Copy as new').click();
	const form = page.getByRole('dialog', { name: /^Copy / });
	await form.getByLabel('New id').fill('fog_bank');
	await form.getByText('its pair in another file').waitFor();
	await form.getByRole('button', { name: 'Preview changes' }).click();
	await apply(/^Copy .* as new start fog_bank/);
	await at('tables/start?ticket=start/fog_bank');
	await write('Clock put on', '5');
	await said('Set clock put on of fog_bank: 9 to 5');
	await at('file/mine/ui/freeplay.html');
	await page.getByText('<option value="fog_bank">').waitFor();
	await at('file/mine/scripts/freeplay.lua');
	await page.getByText(/fog_bank = \{ x = 865, y = 157, clock = 5 \},/).waitFor();
	expect(await page.getByTestId('dial').innerText()).toBe(before);
	await undo(2);
});

test('parts of one record go into another; the pack lists the new files, and all is as it was after undoing', async () => {
	const page = thePage();
	await at('pack');
	const files = () => page.getByRole('row').allInnerTexts();
	const before = await files();
	await at('compare?with=station/tar_row&with=station/grey_gate');
	const row = (title: string) =>
		page.getByRole('row').filter({ has: page.getByRole('rowheader', { name: title, exact: true }) });
	await row('Keeper since').getByRole('button').nth(1).click();
	await row('keeper.name').getByRole('button').nth(1).click();
	await page.getByText('2 chosen').waitFor();
	await page.getByRole('button', { name: 'Preview changes' }).click();
	await apply(/of Tar Row/);
	await at('pack');
	const row_ = page.getByRole('row', { name: /data\/stations\// });
	await row_
		.getByText(/the game reads it instead of its own|are merged into the game’s|are merged into the game's/)
		.waitFor();
	expect(await files()).not.toEqual(before);
	await undo(1);
	await at('pack');
	await expect.poll(files).toEqual(before);
});

test('a vessel is fitted out by the names that players see, and offered as an upgrade', async () => {
	const page = thePage();
	await at('tables/vessel?ticket=vessel/cutter_04');
	const engine = ticket().getByRole('combobox', { name: 'Engine: pick by name' });
	const was = await engine.inputValue();
	await engine.fill('triple');
	await page
		.getByRole('option', { name: /triple/i })
		.first()
		.waitFor();
	await press('ArrowDown');
	await press('Enter');
	await said(/^Set engine of/);
	expect(await engine.inputValue()).not.toBe(was);
	await ticket().getByRole('link', { name: 'Show the whole chain: Upgrade' }).click();
	await page.getByRole('treeitem').first().waitFor();
	await undo(1);
});

test('the same change in two editions: the twin follows, and the pack has exactly these two files', async () => {
	const page = thePage();
	await at('pack');
	const before = await page.getByRole('row').count();
	await at('tables/mode?ticket=mode/calm');
	await write('Pace', '4');
	await said(/^Set pace of .*Also changed: 1 twin value/s);
	await at('pack');
	await page.getByRole('row', { name: /client\/modes.json/ }).waitFor();
	await page.getByRole('row', { name: /server\/modes.json/ }).waitFor();
	expect(await page.getByRole('row').count()).toBe(before + 2);
	await page.getByText('requires the same mod for all players in network games').first().waitFor();
	await undo(1);
});

test('all is undone days later: steps of the ledger one by one, after the page was closed', async () => {
	const page = thePage();
	await at('tables/mode?ticket=mode/storm');
	await write('Pace', '7');
	await said(/^Set pace/);
	await at('tables/tint?ticket=tint/noon');
	await write('Steps', '7');
	await said(/^Set steps/);
	await page.reload();
	await at('ledger');
	for (const title of ['Set pace of storm', 'Set steps of noon']) {
		const step = page.getByRole('listitem').filter({ hasText: title }).first();
		await step.getByText(title).click();
		await step.getByRole('button', { name: 'Undo this step only' }).click();
		await apply(/^Undo step|^Reverse/);
	}
	await at('tables/mode?ticket=mode/storm');
	await ticket().getByText('as in the base').waitFor();
	await undo(4);
});

test('no page had a fault of its own', () => expect(faults).toEqual([]));
