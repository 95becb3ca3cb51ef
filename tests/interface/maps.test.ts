// The maps of the game: looked at, things added, moved and turned, lanes led elsewhere, days thinned out; the game agrees.
import { spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { unzipSync } from 'fflate';
import { afterAll, expect, test } from 'vitest';
import type { MapView } from '$core/views';
import { loaded, planReady, useDemo } from './helpers';

const { page: thePage, at, press, said, server, faults } = useDemo();
const root = fileURLToPath(new URL('../..', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'kettle-maps-'));
afterAll(() => rmSync(folder, { recursive: true }));

const map = () => thePage().getByTestId('map');
const list = () => thePage().getByRole('region', { name: 'What is on the map' });
const held = () => thePage().getByRole('region', { name: 'What is picked' });
const thing = (name: RegExp | string) => list().getByRole('button', { name });
const viewOf = async (bay: string) =>
	(await (await fetch(`${server().address}/p/gannet-sound/api/places/bay/${bay}`)).json()) as MapView;
const standing = async (bay: string, id: string) => {
	const { things, links } = await viewOf(bay);
	const nth = things.id.indexOf(id);
	const link = links.from.indexOf(id);
	return {
		x: things.x[nth],
		y: things.y[nth],
		angle: things.angle?.[nth],
		to: links.to[link],
		both: links.both[link]
	};
};

/** A pixel of the page at which a place of the map is drawn. */
async function pixel(x: number, y: number): Promise<[number, number]> {
	const box = (await map().boundingBox())!;
	const fit = Math.min((box.width - 58) / 900, (box.height - 36) / 900);
	return [box.x + 1 + 44 + Math.max(0, (box.width - 58 - fit * 900) / 2) + x * fit, box.y + 1 + 14 + y * fit];
}

test('the eight bays are there; a rescue point is added, moved by drag and by arrows, and turned', async () => {
	const page = thePage();
	await at('find');
	await page.getByRole('link', { name: /Places/ }).click();
	await expect
		.poll(() => page.getByLabel('Map', { exact: true }).locator('option[value^="bay/"]').count())
		.toBe(8);
	await page.getByLabel('Map', { exact: true }).selectOption('bay/knot');
	await thing(/knot_slack/).click();
	await held().getByRole('button', { name: 'Add another like this' }).click();
	await held().getByText('Click where it should stand on the map.').waitFor();
	await page.mouse.click(...(await pixel(450, 450)));
	await said(/^Add knot_slack_2, like knot_slack/);
	await held().getByRole('link', { name: 'knot_slack_2' }).waitFor();
	const first = await standing('knot', 'knot_slack_2');
	expect(Math.abs(first.x! - 450)).toBeLessThan(3);
	expect(Math.abs(first.y! - 450)).toBeLessThan(3);
	// By drag: what was 450 is 600 now.
	await page.mouse.move(...(await pixel(first.x!, first.y!)));
	await page.mouse.down();
	await page.mouse.move(...(await pixel(520, 500)), { steps: 4 });
	await page.mouse.move(...(await pixel(600, 520)), { steps: 4 });
	await page.mouse.up();
	await said(/knot_slack_2|Set 2 values/);
	const second = await standing('knot', 'knot_slack_2');
	expect(Math.abs(second.x! - 600)).toBeLessThan(4);
	expect(Math.abs(second.y! - 520)).toBeLessThan(4);
	// By keys: one unit, ten with Shift; written once they rest.
	await map().focus();
	await press('ArrowRight');
	await press('Shift+ArrowDown');
	await expect.poll(async () => (await standing('knot', 'knot_slack_2')).y).toBeCloseTo(second.y! + 10, 6);
	expect((await standing('knot', 'knot_slack_2')).x).toBeCloseTo(second.x! + 1, 6);
	await map().focus();
	await press('.');
	await expect.poll(async () => (await standing('knot', 'knot_slack_2')).angle).toBe(165);
	// The page shows it a moment after the server has it.
	await expect.poll(() => held().getByLabel('Facing').inputValue()).toBe('165');
	await held().getByLabel('Facing').fill('90');
	await press('Enter');
	await expect.poll(async () => (await standing('knot', 'knot_slack_2')).angle).toBe(90);
	await held().getByText('E', { exact: true }).waitFor();
});

test('a lane is made two-way, led elsewhere so that others are cut off, and a point is put between', async () => {
	const page = thePage();
	await thing(/knot_2/).click();
	await held().getByText('Leads to knot_3.').waitFor();
	await held().getByLabel('Both ways').check();
	await held().getByText('Leads to knot_3, and back.').waitFor();
	await held().getByRole('button', { name: 'Way to knot_1' }).click();
	await page
		.getByTestId('way')
		.getByText(/From knot_2 to knot_1:/)
		.waitFor();
	await page
		.getByTestId('way')
		.getByText(/over 4 links\.\s+Narrowest from knot_2 to knot_3:\s+4\.3/)
		.waitFor();
	// knot_3 leads back to knot_2 instead of on: nothing of the two reaches the landing any more.
	await thing(/knot_3/).click();
	await held().getByRole('button', { name: 'Lead to…' }).click();
	const two = await standing('knot', 'knot_2');
	await page.mouse.click(...(await pixel(two.x!, two.y!)));
	await held().getByText('Nothing leads from here to knot_1.').waitFor();
	expect(await list().getByText('no way').count()).toBe(2);
	await at('snags');
	await page
		.getByText(/Nothing leads from here to knot_1.*The shortest link that would: from knot_[23] to knot_1/)
		.first()
		.waitFor();
	await page.getByRole('button', { name: /^Undo: / }).click();
	await said(/^Undone/);
	await at('places/bay/knot');
	await thing(/knot_3/).click();
	await held().getByRole('button', { name: 'Put a point between' }).click();
	await held().getByRole('link', { name: 'knot_6' }).waitFor();
	expect(await standing('knot', 'knot_3')).toMatchObject({ to: 'knot_6' });
	expect(await standing('knot', 'knot_6')).toMatchObject({ to: 'knot_4' });
	expect(await list().getByText('no way').count()).toBe(0);
});

test('a lane is drawn from one point to another, both ways with Shift', async () => {
	const page = thePage();
	await page.getByRole('button', { name: 'Draw links' }).click();
	const [one, other] = [await standing('knot', 'knot_2'), await standing('knot', 'knot_4')];
	await page.keyboard.down('Shift');
	await page.mouse.move(...(await pixel(one.x!, one.y!)));
	await page.mouse.down();
	await page.mouse.move(...(await pixel(other.x!, other.y!)), { steps: 6 });
	await page.mouse.up();
	await page.keyboard.up('Shift');
	await expect.poll(async () => (await standing('knot', 'knot_2')).to).toBe('knot_4');
	expect((await standing('knot', 'knot_2')).both).toBe(true);
	await press('Escape');
	await page.getByRole('button', { name: /^Undo: / }).click();
	await said(/^Undone/);
	await expect.poll(async () => (await standing('knot', 'knot_2')).to).toBe('knot_3');
});

test('a bay is copied from its map, and what stands in it has ids of its own', async () => {
	const page = thePage();
	await page.getByRole('button', { name: /^Copy .+…$/ }).click();
	const dialog = page.getByRole('dialog');
	await dialog.getByRole('textbox').first().fill('knot_east');
	await press('Enter');
	await planReady(page);
	await press('Control+Enter');
	await dialog.waitFor({ state: 'detached' });
	await expect
		.poll(() => page.getByLabel('Map', { exact: true }).locator('option').allTextContents())
		.toContainEqual(expect.stringContaining('knot_east'));
	const [model, copy] = [await viewOf('knot'), await viewOf('knot_east')];
	expect(copy.things.x).toEqual(model.things.x);
	expect(copy.things.id.filter((id) => model.things.id.includes(id))).toEqual([]);
	expect(copy.links.from.every((id) => copy.things.id.includes(id))).toBe(true);
	expect(copy.links.to.every((id) => copy.things.id.includes(id))).toBe(true);
	await page.getByRole('button', { name: /^Undo: / }).click();
	await said(/^Undone/);
});

test('a day on which things pile up is told and thinned out', async () => {
	const page = thePage();
	await at('places/bay/whimbrel');
	await page.getByText(/Many on day 9\./).waitFor();
	const days = page.getByRole('slider', { name: 'Day' });
	await days.focus();
	await press('Home');
	for (let day = 1; day < 9; day++) await press('ArrowRight');
	await expect.poll(() => page.url()).toContain('day=9');
	const before = await list().getByRole('button', { name: / 9 / }).count();
	expect(before).toBeGreaterThan(5);
	// The last four of the day, from the list, as one step.
	const some = list().getByRole('button', { name: /^(?!.*(whimbrel_)).* 9 / });
	const count = await some.count();
	await some.nth(count - 1).click();
	for (let nth = 2; nth <= 4; nth++) await some.nth(count - nth).click({ modifiers: ['Shift'] });
	await held().getByText('4 things').waitFor();
	await held().getByRole('button', { name: 'Remove' }).click();
	await planReady(page);
	await press('Control+Enter');
	await said(/^Remove 4 spawns/);
	await expect.poll(() => some.count()).toBe(count - 4);
	expect(await page.getByText(/Many on day 9\./).count()).toBe(0);
});

test('the game loads it cleanly and has the same things at the same places, on five days', async () => {
	const zip = unzipSync(
		new Uint8Array(await (await fetch(`${server().address}/p/gannet-sound/api/pack`)).arrayBuffer())
	);
	cpSync(join(root, 'demo/base'), folder, { recursive: true });
	writeFileSync(join(folder, 'load-order.json'), '{"mods":["longline"]}');
	// What else the mod has wrong is none of this: only the bays.
	for (const [path, bytes] of Object.entries(zip))
		if (/(^|\/)(data\/bays\/|mod\.json$)/.test(path)) {
			const to = join(folder, 'mods/longline', path.replace(/^.*?(?=data\/|mod\.json)/, ''));
			mkdirSync(dirname(to), { recursive: true });
			writeFileSync(to, bytes);
		}
	const game = (...words: string[]) =>
		spawnSync(process.execPath, [join(root, 'standin/gannet.mjs'), folder, ...words], { encoding: 'utf8' });
	expect(game().stdout).toContain('loaded cleanly');
	for (const [bay, day] of [
		['knot', 1],
		['knot', 15],
		['whimbrel', 9],
		['whimbrel', 28],
		['dunlin', 37]
	] as const) {
		const there = JSON.parse(game('bay', bay, String(day)).stdout) as [string, number, number][];
		await at(`places/bay/${bay}?day=${day}`);
		await thing(/./).first().waitFor();
		expect(await thePage().getByLabel('Map', { exact: true }).inputValue()).toBe(`bay/${bay}`);
		const shown = await list().getByRole('button').allTextContents();
		const spots = shown
			.map((text) => /([\d.]+), ([\d.]+)$/.exec(text.trim())!.slice(1).map(Number).join(' '))
			.sort();
		expect(spots).toEqual(there.map(([, x, y]) => `${x} ${y}`).sort());
	}
});

test('while another map is on its way, nothing of the one before is shown or found', async () => {
	const page = thePage();
	await at('places/bay/knot');
	await thing(/knot_/).first().waitFor();
	await page.locator('[data-testid=map][data-drawn]').waitFor();
	let go: () => void = () => undefined;
	const allowed = new Promise<void>((done) => (go = done));
	const address = '**/api/places/bay/dunlin';
	await page.route(address, (route) => allowed.then(() => route.continue()));
	await page.getByLabel('Map', { exact: true }).selectOption('bay/dunlin');
	await page.getByText('Drawing the map…').waitFor();
	expect(await list().count()).toBe(0);
	await page.locator('[data-testid=map]:not([data-drawn])').waitFor();
	for (let x = 0; x < 900; x += 60) await page.mouse.move(...(await pixel(x, 450)));
	go();
	await thing(/dunlin_/)
		.first()
		.waitFor();
	await page.locator('[data-testid=map][data-drawn]').waitFor();
	expect(await thing(/knot_/).count()).toBe(0);
	await page.unroute(address);
});

test('a map that cannot be had is asked for again', async () => {
	const page = thePage();
	const address = '**/api/places/bay/whimbrel';
	await page.route(address, (route) => route.abort());
	await at('places/bay/whimbrel');
	await page.getByRole('alert').filter({ hasText: 'The server cannot be reached.' }).waitFor();
	expect(await list().count()).toBe(0);
	await page.unroute(address);
	await page.getByRole('button', { name: 'Try again' }).click();
	await page.locator('[data-testid=map][data-drawn]').waitFor();
	expect(await page.getByRole('alert').count()).toBe(0);
	expect(await page.getByRole('button', { name: 'Try again' }).count()).toBe(0);
});

test('where no map can be drawn it says so, and goes on saying it when the list is there', async () => {
	const page = thePage();
	await page.route('**/painter.worker*', (route) => route.abort());
	await loaded(page, `${server().address}/p/gannet-sound/places/bay/whimbrel`);
	await thing(/whimbrel_/)
		.first()
		.waitFor();
	await page.getByRole('alert').filter({ hasText: 'The map cannot be drawn.' }).waitFor();
	await page.unroute('**/painter.worker*');
});

test('no page had a fault of its own', () => expect(faults).toEqual([]));
