// Each of the three mistakes of the demo's mod that block: a snag on the page, a refusal of the game, and a repair from
// the page. What only warns stays, and keeps nothing from loading.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { beforeAll, expect, test } from 'vitest';
import { dialSays, openPage, useServer } from './helpers';

const use = useServer();
let page: Page;

beforeAll(async () => {
	page = await openPage(use.browser);
});

const at = (path: string) => `${use.server.address}/p/gannet-sound/${path}`;

async function refusals(): Promise<string[]> {
	await page.goto(at('trial'));
	const before = page.url();
	await page.getByTestId('start-trial').click();
	await page.waitForURL((url) => url.href !== before && url.searchParams.has('trial'));
	await page.getByTestId('outcome').waitFor();
	return (await page.getByTestId('log').getByRole('listitem').allInnerTexts()).filter((line) =>
		/DROPPED|REFUSED/.test(line)
	);
}

const MISTAKES = [
	{ rule: 'missing-reference', record: 'cutter_07', refused: /cutter_07: engine "triple_9" is not known/ },
	{ rule: 'wrong-kind', record: 'lifeboat_03', refused: /lifeboat_03: deck gear "keel_deep" is not known/ },
	{ rule: 'missing-text', record: 'barge_09', refused: /barge_09: no text vessel\.barge_09\.name/ }
];

test('each mistake is a snag and a refusal, and both are gone with its repair', async () => {
	let refused = await refusals();
	expect(refused).toHaveLength(3);
	// From a line of the log to the record it speaks of.
	await page.getByRole('link', { name: 'ticket of cutter_07' }).click();
	await page.getByTestId('ticket').getByRole('heading', { name: 'Skerry' }).waitFor();
	for (const [nth, mistake] of MISTAKES.entries()) {
		expect(refused.some((line) => mistake.refused.test(line))).toBe(true);
		await page.goto(at('snags'));
		const snag = page.locator(`[data-rule=${mistake.rule}]`);
		expect(await snag.count()).toBe(1);
		await snag.getByRole('button').first().click();
		const dialog = page.getByRole('dialog');
		await dialog.getByText('Fixes').waitFor();
		await dialog.getByTestId('apply-plan').click();
		await dialog.waitFor({ state: 'detached' });
		await dialSays(page, nth < 2 ? `${2 - nth} block` : '1 warn');
		refused = await refusals();
		expect(refused).toHaveLength(2 - nth);
		expect(refused.some((line) => mistake.refused.test(line))).toBe(false);
	}
	expect(await page.getByTestId('outcome').innerText()).toBe('Loaded cleanly');

	// Nothing that is in the game's folder is left behind without a way to take it out.
	const remove = () =>
		fetch(at('api/project'), {
			method: 'POST',
			headers: { 'content-type': 'application/json', origin: use.server.address },
			body: JSON.stringify({ do: 'remove', name: 'Gannet Sound' })
		});
	const kept = await remove();
	expect([kept.status, await kept.text()]).toEqual([422, expect.stringContaining('Remove it from the game')]);

	// Taken out again, the game's folder is as it was.
	const folder = join(use.server.home, 'games/gannet-sound');
	writeFileSync(join(folder, 'load-order.json'), '{"mods":["longline","somebody_else"]}');
	await page.getByRole('button', { name: 'Remove from the game' }).click();
	await page.getByTestId('message').filter({ hasText: 'Removed mods/longline' }).waitFor();
	expect(existsSync(join(folder, 'mods/longline'))).toBe(false);
	// What came since written independently stays.
	expect(JSON.parse(readFileSync(join(folder, 'load-order.json'), 'utf8'))).toEqual({
		mods: ['somebody_else']
	});
	// A load order that cannot be read is said so, and nothing is installed.
	writeFileSync(join(folder, 'load-order.json'), '{');
	await page.getByTestId('start-trial').click();
	await page.getByRole('alert').filter({ hasText: 'is not valid JSON' }).waitFor();
	expect(existsSync(join(folder, 'mods/longline'))).toBe(false);
	// Now it can be removed; what other hands made of the game's folder stays.
	expect((await remove()).status).toBe(200);
	expect((await fetch(at('find'))).status).toBe(404);
	expect(readFileSync(join(folder, 'load-order.json'), 'utf8')).toBe('{');
});
