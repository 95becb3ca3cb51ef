// A recipe as people use it: one that came with the game, and one made of steps just made.
import type { Page } from 'playwright-core';
import { beforeAll, expect, test } from 'vitest';
import { planReady, useDemo } from './helpers';

const demo = useDemo();
const { at, press, said, faults } = demo;
let page: Page;
beforeAll(() => {
	page = demo.page();
});
const value = (path: string) =>
	page
		.getByTestId('ticket')
		.locator(`[data-field="${path}"] [data-value]`)
		.first()
		.getAttribute('data-value');

async function edit(path: string, typed: string, message: RegExp | string) {
	await page.getByTestId('ticket').locator(`[data-field="${path}"] [data-edit]`).first().click();
	await page.keyboard.insertText(typed);
	await press('Enter');
	await said(message);
}

test('one that came with the game is found at a record, filled in and done as one step', async () => {
	await at('tables/vessel?ticket=vessel%2Fcutter_03');
	await page.getByTestId('ticket').getByRole('link', { name: 'New upgrade for a vessel…' }).click();
	await page.waitForURL(/recipes\?recipe=sister-vessel/);
	expect(await page.getByLabel('Copy of').inputValue()).toBe('cutter_03');
	// What lacks is said, and the plan waits for it.
	await page.getByText('Still open: id of the new vessel, upgrades from').waitFor();
	expect(await page.getByRole('button', { name: 'Preview changes' }).isDisabled()).toBe(true);
	await page.getByLabel('Id of the new vessel').fill('cutter_03');
	await page.getByLabel('Name, English').fill('Whimbrel');
	await page.getByLabel('Name, German').fill('Regenbrachvogel');
	await page.getByRole('combobox', { name: 'Search by name' }).last().fill('Heron');
	await page.getByRole('option', { name: /cutter_02/ }).waitFor();
	await press('Enter');
	await expect.poll(() => page.getByLabel('Upgrades from').inputValue()).toBe('cutter_02');
	await page.getByRole('button', { name: 'Preview changes' }).click();
	await page.getByRole('alert').filter({ hasText: 'Step 1 of the recipe cannot be done' }).waitFor();
	await press('Escape');
	await page.getByLabel('Id of the new vessel').fill('cutter_31');
	// The address holds what was filled in.
	await page.reload();
	await page.locator('html[data-ready]').waitFor();
	expect(await page.getByLabel('Id of the new vessel').inputValue()).toBe('cutter_31');
	await page.getByRole('button', { name: 'Preview changes' }).click();
	await planReady(page);
	await press('Control+Enter');
	await said('New upgrade for a vessel: cutter_03, cutter_31, cutter_02');
	await at('tables/vessel?ticket=vessel%2Fcutter_02');
	expect(await value('upgrade')).toBe('cutter_31');
	await at('tables/vessel?ticket=vessel%2Fcutter_31');
	await page.getByRole('heading', { name: 'Whimbrel' }).waitFor();
	await press('Control+z');
	await said('Undone: New upgrade for a vessel');
	await at('tables/vessel?ticket=vessel%2Fcutter_02');
	expect(await value('upgrade')).toBe('cutter_03');
});

test('steps just made become one, with blanks, kept in the guide file, and are done on another record', async () => {
	await at('tables/vessel?ticket=vessel%2Fcutter_05');
	await edit('tow', '41', /Set tow of/);
	await edit('seats', '9', /Set seats of/);
	await at('ledger');
	await page.getByRole('link', { name: 'Make a recipe from steps' }).click();
	for (const title of [/Set tow of/, /Set seats of/])
		await page.getByRole('checkbox', { name: title }).first().check();
	await page.getByRole('link', { name: 'Next: fill in the blanks' }).click();
	await page.getByRole('heading', { name: 'A recipe from recent steps' }).waitFor();
	await page.getByLabel('Title').fill('Fit for towing');
	await page.getByLabel(/What it is for/).fill('Tow and seats go together.');
	await page.getByLabel('What vessel is called').fill('Vessel that will tow');
	await page.getByLabel('same each time').last().check();
	await page.getByRole('button', { name: 'Save to the field guide' }).click();
	await page.waitForURL(/recipes\?recipe=fit-for-towing/);
	await page.getByText('Tow and seats go together.').waitFor();
	const guide = await (await fetch(`${demo.server().address}/p/gannet-sound/api/guide`)).text();
	expect(guide).toMatch(/fit-for-towing:\n\s+title: Fit for towing/);
	expect(guide).toContain('Vessel that will tow');

	await page.getByLabel('Vessel that will tow').fill('cutter_06');
	await page.getByLabel('Tow', { exact: true }).fill('38');
	await page.getByRole('button', { name: 'Preview changes' }).click();
	await planReady(page);
	await press('Control+Enter');
	await said('Fit for towing: cutter_06');
	await at('tables/vessel?ticket=vessel%2Fcutter_06');
	expect([await value('tow'), await value('seats')]).toEqual(['38', '9']);

	// It goes as it came; one of the game's own stays.
	await at('recipes?recipe=fit-for-towing');
	await page.getByRole('button', { name: 'Remove', exact: true }).click();
	await said('Removed the recipe “Fit for towing”');
	await page.getByRole('heading', { name: 'New upgrade for a vessel' }).waitFor();
	expect(await page.getByRole('button', { name: 'Remove', exact: true }).count()).toBe(0);
});

test('a step that is bound to its moment is refused with what to do', async () => {
	await at('ledger');
	await page.locator('summary').first().click();
	await page.getByRole('button', { name: 'Undo this step only' }).click();
	await planReady(page);
	await press('Control+Enter');
	await said(/Reverse/);
	await at('ledger?choose');
	await page.getByRole('checkbox').first().check();
	await page.getByRole('link', { name: 'Next: fill in the blanks' }).click();
	await page
		.getByRole('alert')
		.filter({ hasText: 'cannot be part of a recipe; choose the others' })
		.waitFor();
	expect(faults).toEqual([]);
});
