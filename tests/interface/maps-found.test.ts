// A game that nobody described: its map is found, says so, and is worked with; links are records of their own.
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { unzipSync } from 'fflate';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { MapView } from '$core/views';
import { openPage, useServer } from './helpers';

const games = mkdtempSync(join(tmpdir(), 'kettle-found-'));
const game = join(games, 'holms');
/** Holms in a ring, with ferries from each to the next but for the last. */
const HOLMS = ['auk', 'bream', 'cod', 'dory', 'eider', 'fulmar', 'gannet', 'heron'].map((id, nth) => ({
	id,
	x: Math.round(500 + 400 * Math.cos((nth / 8) * 2 * Math.PI)),
	y: Math.round(500 + 400 * Math.sin((nth / 8) * 2 * Math.PI))
}));
const FERRIES = HOLMS.slice(1).map(({ id }, nth) => ({
	id: `${HOLMS[nth]!.id}_${id}`,
	from: HOLMS[nth]!.id,
	to: id
}));
mkdirSync(join(game, 'tables'), { recursive: true });
writeFileSync(
	join(game, 'tables/holms.csv'),
	`id,x,y,sheep\n${HOLMS.map(({ id, x, y }, nth) => `${id},${x},${y},${nth * 3}\n`).join('')}`
);
writeFileSync(join(game, 'tables/ferries.json'), `${JSON.stringify(FERRIES, null, '\t')}\n`);

mkdirSync(join(game, 'maps'));
// The smallest picture there is: one point.
writeFileSync(
	join(game, 'maps/map.png'),
	Buffer.from(
		'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==',
		'base64'
	)
);

const caves = join(games, 'caves');
/** Caves, pools and shafts in three rings: what they lead to is a list of ids, of records, and one text. */
const ring = <T extends object>(kind: string, far: number, written: (to: string[]) => T) =>
	Array.from({ length: 12 }, (_, nth) => ({
		id: `${kind}_${nth}`,
		x: Math.round(500 + far * Math.cos((nth / 12) * 2 * Math.PI)),
		y: Math.round(500 + far * Math.sin((nth / 12) * 2 * Math.PI)),
		...written([1, 2].map((by) => `${kind}_${(nth + by) % 12}`))
	}));
const RINGS = {
	cave: ring('cave', 400, (to) => ({ bats: to.length, exits: to, echo: 4 })),
	pool: ring('pool', 250, (to) => ({
		fish: 7,
		salt: 0.5,
		tide: 3,
		exits: to.map((one) => ({ to: one, wide: 3 }))
	})),
	shaft: ring('shaft', 120, (to) => ({ rungs: 40, air: 0.2, exits: to.join(', '), lamp: 'lit' }))
};
mkdirSync(join(caves, 'tables'), { recursive: true });
for (const [kind, all] of Object.entries(RINGS))
	writeFileSync(join(caves, `tables/${kind}s.json`), `${JSON.stringify(all, null, '\t')}\n`);

const use = useServer({ demo: false, roots: games });
const faults: string[] = [];
let page: Page;
beforeAll(async () => {
	page = await openPage(use.browser, faults);
});
afterAll(() => rmSync(games, { recursive: true }));

let project = 'holms';
const at = (path: string) => page.goto(`${use.server.address}/p/${project}/${path}`);
const said = (words: string | RegExp) => page.getByTestId('message').filter({ hasText: words }).waitFor();
const map = () => page.getByTestId('map');
const held = () => page.getByRole('region', { name: 'What is picked' });
const thing = (name: string) =>
	page.getByRole('region', { name: 'What is on the map' }).getByRole('button', { name });
const viewNow = async () =>
	(await (await fetch(`${use.server.address}/p/${project}/api/places/map/map`)).json()) as MapView;
const leads = async () => {
	const { links } = await viewNow();
	return links.id.map((id, nth) => `${id}: ${links.from[nth]}-${links.to[nth]}`);
};
const mine = async (path: string) => {
	const zip = await fetch(`${use.server.address}/p/${project}/api/pack`);
	const files = unzipSync(new Uint8Array(await zip.arrayBuffer()));
	return new TextDecoder().decode(Object.entries(files).find(([name]) => name.endsWith(path))![1]);
};

/** Changes the field guide; the status of the answer. */
const guide = async (change: object) =>
	(
		await fetch(`${use.server.address}/p/${project}/api/guide`, {
			method: 'POST',
			headers: { 'content-type': 'application/json', origin: use.server.address },
			body: JSON.stringify(change)
		})
	).status;

/** A pixel of the page at which a holm is drawn. */
async function pixel(id: string): Promise<[number, number]> {
	const { things } = await viewNow();
	const nth = things.id.indexOf(id);
	const box = (await map().boundingBox())!;
	const [low, high] = [0, 900];
	const fit = Math.min((box.width - 58) / (high - low), (box.height - 36) / (high - low));
	const left = box.x + 1 + 44 + Math.max(0, (box.width - 58 - fit * (high - low)) / 2);
	return [left + things.x[nth]! * fit, box.y + 15 + things.y[nth]! * fit];
}

/** Imports a folder, and opens its map. */
async function bring(folder: string): Promise<void> {
	project = basename(folder);
	await page.goto(use.server.address);
	await page.getByLabel('Folder that holds').fill(folder);
	await page.getByRole('button', { name: 'Import', exact: true }).click();
	await page.waitForURL(new RegExp(`/p/${project}/first`));
	await at('setup');
	await at('places');
}

test('the map is found, says how, and is accepted into the field guide', async () => {
	await bring(game);
	await expect
		.poll(() => page.getByRole('region', { name: 'What is on the map' }).getByRole('button').count())
		.toBe(8);
	const found = page.getByTestId('found');
	await found.getByText('the field guide does not describe it').waitFor();
	await found
		.getByText('“x” and “y” of holms are numbers in 8 of 8 records, which are in 8 different places.')
		.waitFor();
	expect(await leads()).toHaveLength(7);
	// There is no ticket of a map that is no record.
	expect(await page.getByRole('link', { name: /^Ticket of/ }).count()).toBe(0);
	await found.getByRole('button', { name: 'Accept' }).click();
	await said('Accepted: Map');
	await found.waitFor({ state: 'detached' });
	expect(await leads()).toHaveLength(7);
});

test('links are drawn from one to the next, split and removed: each is a record like those that are there', async () => {
	await page.getByRole('button', { name: 'Draw links' }).click();
	await page.getByText('Draw from one thing to another').waitFor();
	await page.mouse.move(...(await pixel('heron')));
	await page.mouse.down();
	await page.mouse.move(...(await pixel('auk')), { steps: 5 });
	await page.mouse.up();
	await said(/heron_auk/);
	await expect.poll(leads).toContain('heron_auk: heron-auk');
	expect(JSON.parse(await mine('tables/ferries.json'))).toEqual([
		...FERRIES,
		{ id: 'heron_auk', from: 'heron', to: 'auk' }
	]);
	// Another one follows without asking for it again; the end is by Esc.
	await page.mouse.move(...(await pixel('auk')));
	await page.mouse.down();
	await page.mouse.move(...(await pixel('eider')), { steps: 5 });
	await page.mouse.up();
	await expect.poll(leads).toContain('auk_eider: auk-eider');
	await page.keyboard.press('Escape');
	await thing('auk').click();
	await held().getByText('Reached from heron.').waitFor();
	const toEider = held().locator('div').filter({ hasText: 'Leads to eider' }).last();
	await toEider.getByRole('button', { name: 'Put a point between' }).click();
	await expect.poll(async () => (await viewNow()).things.id.length).toBe(9);
	await expect
		.poll(async () => (await leads()).filter((one) => one.startsWith('auk_eider')))
		.toEqual(['auk_eider: auk-auk_2']);
	expect(await leads()).toContain('auk_2_eider: auk_2-eider');
	await thing('heron').click();
	await held().getByRole('button', { name: 'Remove the link' }).click();
	await expect.poll(async () => (await leads()).some((one) => one.startsWith('heron_auk'))).toBe(false);
	expect(faults).toEqual([]);
});

test('a map with a picture of its own is drawn on it', async () => {
	const yaml = `guide: 1
kinds: { holms: { title: Holms, files: [tables/holms.csv], key: id } }
places:
  map:
    title: The holms
    x: [0, 900]
    y: [0, 900]
    picture: 'maps/{id}.png'
    things: [{ kind: holms, x: x, y: y }]
`;
	expect(await guide({ do: 'merge', yaml, prefer: 'there' })).toBe(200);
	const drawn = page.waitForResponse((answer) => answer.url().endsWith('/maps/map.png'));
	await at('find');
	await at('places');
	expect((await drawn).status()).toBe(200);
	expect(faults).toEqual([]);
	expect(await guide({ do: 'undo' })).toBe(200);
});

test('a map that is none is rejected, and not found again', async () => {
	await page
		.getByRole('button', { name: /^Undo: / })
		.first()
		.waitFor();
	// What was accepted is taken back: it is found again then.
	expect(await guide({ do: 'undo' })).toBe(200);
	await at('find');
	await at('places');
	await page.getByTestId('found').getByRole('button', { name: 'Reject' }).click();
	await said('Rejected: Map');
	await page.getByText('Nothing is known to stand anywhere in this game.').waitFor();
});

test('what leads to several, by a list of ids, of records or in one text, is led on, split and taken out', async () => {
	await bring(caves);
	const drawn = page.getByRole('region', { name: 'What is on the map' }).getByRole('button');
	await expect.poll(() => drawn.count()).toBe(36);
	const pairs = async (from: string) => {
		const { links } = await viewNow();
		return links.to.filter((_, nth) => links.from[nth] === from);
	};
	for (const kind of ['cave', 'pool', 'shaft'] as const) {
		const written = async () =>
			(JSON.parse(await mine(`tables/${kind}s.json`)) as { id: string; exits: unknown }[]).find(
				({ id }) => id === `${kind}_0`
			)!.exits;
		expect(await pairs(`${kind}_0`)).toEqual([`${kind}_1`, `${kind}_2`]);
		await thing(`${kind}_0`).click();
		await held().getByRole('button', { name: 'Lead to…' }).click();
		await page.mouse.click(...(await pixel(`${kind}_3`)));
		await expect.poll(() => pairs(`${kind}_0`)).toEqual([1, 2, 3].map((nth) => `${kind}_${nth}`));
		const three = [1, 2, 3].map((nth) => `${kind}_${nth}`);
		expect(await written()).toEqual(
			{ cave: three, pool: three.map((to) => ({ to, wide: 3 })), shaft: three.join(', ') }[kind]
		);
		const toThis = (id: string) =>
			held()
				.locator('div')
				.filter({ hasText: `Leads to ${id}` })
				.last();
		// What the page has not seen yet is not written over: a press before that is refused.
		await toThis(`${kind}_3`).waitFor();
		await toThis(`${kind}_1`).getByRole('button', { name: 'Remove the link' }).click();
		await expect.poll(() => pairs(`${kind}_0`)).toEqual([2, 3].map((nth) => `${kind}_${nth}`));
		await toThis(`${kind}_1`).waitFor({ state: 'detached' });
		// A point between leads on to the second one, and nowhere else.
		await toThis(`${kind}_3`).getByRole('button', { name: 'Put a point between' }).click();
		await expect.poll(() => pairs(`${kind}_0`)).toEqual([`${kind}_2`, `${kind}_12`]);
		expect(await pairs(`${kind}_12`)).toEqual([`${kind}_3`]);
	}
	expect(faults).toEqual([]);
});
