// The fast loop: the game is tried from where one is, on each change if wished, and a new log opens at the line of the old.
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { openPage, useServer } from './helpers';

const use = useServer();
const faults: string[] = [];
let page: Page;
beforeAll(async () => {
	page = await openPage(use.browser, faults);
});
afterAll(() => expect(faults).toEqual([]));

const at = (path: string) => page.goto(`${use.server.address}/p/gannet-sound/${path}`);
const message = (words: string | RegExp) => page.getByTestId('message').filter({ hasText: words });
/** How many trials the page lists. */
const trials = async () => {
	const text = await (await fetch(`${use.server.address}/p/gannet-sound/trial`)).text();
	return new Set(text.match(/trial\?trial=\d+/g)).size;
};
const setEngine = async (id: string) => {
	await page.locator('[data-field=engine] input').fill(id);
	await page.keyboard.press('Enter');
	await message(id).waitFor();
};

/** Starts the game again from the page, and waits for the log of that start. */
async function again(): Promise<void> {
	const last = Number(new URL(page.url()).searchParams.get('trial'));
	await page.getByTestId('start-trial').press('Enter');
	await page.waitForURL((url) => Number(url.searchParams.get('trial')) > last);
}

test('a key tries it from the ticket, says what the game says of this record, and stays there', async () => {
	await at('tables/vessel?ticket=vessel%2Ftug_05');
	await setEngine('no_such_engine');
	await page.locator('main [role=grid]').focus();
	await page.keyboard.press('t');
	await message(/^The game refuses .*no_such_engine/).waitFor();
	expect(page.url()).toContain('ticket=vessel%2Ftug_05');
	await setEngine('twin_4');
	await page.locator('main [role=grid]').focus();
	await page.keyboard.press('t');
	const taken = message(/^The game takes .*, but refuses \d+ other things\./);
	await taken.waitFor();
	await taken.getByRole('link', { name: 'The log' }).press('Enter');
	await page.getByTestId('outcome').getByText('refused').waitFor();
	await page.getByText(/\d+ files?,\s+\d+\s+written · pack \d+ ms, install \d+ ms, ran\s+\d+ ms/).waitFor();
});

test('a new log opens at the line that one was on, and says when it is gone', async () => {
	await at('tables/vessel?ticket=vessel%2Ftug_05');
	await setEngine('no_such_engine');
	await at('trial');
	await page.getByTestId('start-trial').press('Enter');
	const log = page.getByTestId('log');
	const line = log.getByRole('listitem').filter({ hasText: 'no_such_engine' }).first();
	await line.click();
	await page.waitForURL(/trial=\d+/);
	await again();
	await log.locator('[aria-current=true]').getByText('no_such_engine').waitFor();
	// Mended from the page itself, the next log no longer has it.
	await line.getByRole('link', { name: /ticket of/ }).click();
	await setEngine('twin_4');
	await again();
	await page.getByTestId('line-gone').waitFor();
});

test('on each change, if wished: several changes one after the other are one trial, of the last state', async () => {
	await at('trial');
	await page.getByRole('checkbox', { name: 'on each change' }).check();
	const before = await trials();
	await at('tables/vessel?ticket=vessel%2Ftug_05');
	await setEngine('no_such_engine');
	await setEngine('twin_6');
	await message(/^The game takes /).waitFor();
	expect((await trials()) - before).toBeLessThanOrEqual(2);
	expect(await trials()).toBeGreaterThan(before);
	await at('trial');
	await page.getByRole('checkbox', { name: 'on each change' }).uncheck();
	const now = await trials();
	await at('tables/vessel?ticket=vessel%2Ftug_05');
	await setEngine('twin_4');
	await message(/twin_4/).waitFor();
	expect(await trials()).toBe(now);
});
