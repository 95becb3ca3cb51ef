// Makes docs/evenings/ anew: three evenings of a modder on the demo data, walked through in the browser.
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { withDemo } from './pictures.mjs';

const out = join(fileURLToPath(new URL('..', import.meta.url)), 'docs/evenings');
mkdirSync(out, { recursive: true });

await withDemo(async (browser, base) => {
	const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
	const dialog = page.getByRole('dialog');
	const go = async (/** @type {string} */ path) => {
		await page.goto(`${base}/${path}`);
		await page.locator('html[data-ready]').waitFor();
	};
	const said = (/** @type {RegExp | string} */ text) =>
		page.getByTestId('message').filter({ hasText: text }).waitFor();
	const take = async (/** @type {string} */ name) => {
		await page.waitForTimeout(500);
		await page.screenshot({ path: join(out, `${name}.png`) });
	};
	const press = (/** @type {string} */ keys) => page.keyboard.press(keys);
	const apply = async (/** @type {RegExp | string} */ text) => {
		await page.locator('[data-testid="apply-plan"]:enabled').waitFor();
		await page.waitForTimeout(300);
		await press('Control+Enter');
		await said(text);
	};
	const wish = (/** @type {object} */ intention) =>
		page.evaluate(
			(body) =>
				fetch('/p/gannet-sound/api/apply', {
					method: 'POST',
					headers: { 'content-type': 'application/json' },
					body: JSON.stringify(body)
				}).then((answer) => answer.text()),
			{ intention }
		);

	// The first: all tugs pull a little more and are slower for it.
	await go('tables/vessel?where=id+has+tug&sort=tow');
	await press('w');
	const many = page.getByTestId('change-many');
	await many.getByLabel('Field', { exact: true }).selectOption('tow');
	await many.getByLabel('How', { exact: true }).selectOption('formula');
	await many.getByLabel('By what').fill('round(tow * 1.15)');
	await many.getByText('values change').waitFor();
	await take('balance-1');
	await many.getByRole('button', { name: 'Preview changes' }).click();
	await dialog.getByText('Change tow of').waitFor();
	await take('balance-2');
	await apply('Change tow of');
	await press('w');
	await many.getByLabel('Field', { exact: true }).selectOption('speed');
	await many.getByLabel('How', { exact: true }).selectOption('add');
	await many.getByLabel('By what').fill('-1');
	await many.getByText('values change').waitFor();
	await many.getByRole('button', { name: 'Preview changes' }).click();
	await apply('Change speed of');
	await go('tables/vessel?where=id+has+tug&sort=tow&ticket=vessel%2Ftug_05');
	await take('balance-3');

	// The second: a new vessel from a similar one.
	await go('find?q=Kestrel&ticket=vessel%2Fcutter_06');
	await press('c');
	await dialog.getByLabel('New id').fill('cutter_60');
	await dialog.getByLabel('Name, English').fill('Stonechat');
	await dialog.getByLabel('Name, Deutsch').fill('Schwarzkehlchen');
	await dialog.getByText('9 of 16 letters').waitFor();
	await take('new-1');
	await press('Enter');
	await page.locator('[data-testid="apply-plan"]:enabled').waitFor();
	await take('new-2');
	await apply('Copy Kestrel as new vessel cutter_60');
	await wish({ do: 'set', kind: 'vessel', id: 'cutter_60', field: 'engine', value: 'twin_4' });
	await go('find?q=Stonechat&ticket=vessel%2Fcutter_60');
	await take('new-3');

	// The third: a mod that somebody left with thirty snags.
	const ids = [
		'launch_01',
		'launch_02',
		'launch_03',
		'launch_04',
		'launch_05',
		'launch_06',
		'launch_07',
		'launch_08',
		'launch_09',
		'lifeboat_01'
	];
	const others = [
		'lifeboat_02',
		'lifeboat_04',
		'lifeboat_05',
		'lifeboat_06',
		'lifeboat_07',
		'lifeboat_08',
		'lifeboat_09',
		'cutter_01',
		'cutter_02',
		'cutter_03'
	];
	const third = ['barge_01', 'barge_02', 'barge_03', 'barge_04', 'barge_05', 'barge_06', 'ice_01'];
	await wish({ do: 'change', kind: 'vessel', ids, field: 'engine', how: { by: 'set', value: 'diesel_9' } });
	await wish({
		do: 'change',
		kind: 'vessel',
		ids: others,
		field: 'hull',
		how: { by: 'multiply', factor: 9 }
	});
	await wish({
		do: 'change',
		kind: 'vessel',
		ids: third,
		field: 'deck',
		how: { by: 'set', value: 'keel_deep' }
	});
	await go('snags');
	await take('mend-1');
	await go('tables/vessel?where=has+blocking+snags&where=engine+is+diesel_9&cols=engine,hull,deck,speed,tow');
	await press('w');
	await many.getByLabel('Field', { exact: true }).selectOption('engine');
	await many.getByLabel('How', { exact: true }).selectOption('layer');
	await many.getByLabel('Layer').selectOption({ label: 'Base' });
	await many.getByText('values change').waitFor();
	await take('mend-2');
	await many.getByRole('button', { name: 'Preview changes' }).click();
	await apply('Change engine of');
	await go('tables/vessel?where=has+blocking+snags&where=hull+%3E+400&cols=engine,hull,deck,speed,tow');
	await press('w');
	await many.getByLabel('Field', { exact: true }).selectOption('hull');
	await many.getByLabel('How', { exact: true }).selectOption('layer');
	await many.getByLabel('Layer').selectOption({ label: 'Base' });
	await many.getByText('values change').waitFor();
	await many.getByRole('button', { name: 'Preview changes' }).click();
	await apply('Change hull of');
	await go('ledger');
	await page.locator('summary', { hasText: 'Change deck gear of' }).click();
	await page.getByRole('button', { name: 'Undo this step only' }).click();
	await page.locator('[data-testid="apply-plan"]:enabled').waitFor();
	await take('mend-3');
	await apply('Reverse: Change deck gear');
});
