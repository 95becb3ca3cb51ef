// Bringing games in: folders and archives, good and bad. What is bad gets a message, and nothing is half there.
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { strToU8, zipSync } from 'fflate';
import pg from 'pg';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { openPage, useServer } from './helpers';
import { done, post, underWay, until } from './imports';

const allowed = mkdtempSync(join(tmpdir(), 'kettle-games-'));
const forbidden = mkdtempSync(join(tmpdir(), 'kettle-other-'));
const use = useServer({ demo: false, roots: allowed });
let page: Page;

beforeAll(async () => {
	page = await openPage(use.browser);
});
afterAll(() => {
	rmSync(allowed, { recursive: true });
	rmSync(forbidden, { recursive: true });
});

function game(name: string, files: Record<string, string>): string {
	for (const [path, text] of Object.entries(files)) {
		const full = join(allowed, name, path);
		mkdirSync(join(full, '..'), { recursive: true });
		writeFileSync(full, text);
	}
	return join(allowed, name);
}

async function count(table: string): Promise<number> {
	const client = new pg.Client({ connectionString: use.server.url });
	await client.connect();
	const { rows } = await client.query(`select count(*)::int as n from ${table}`);
	await client.end();
	return rows[0].n;
}

async function bringFolder(folder: string) {
	await page.goto(`${use.server.address}/?all`);
	await page.getByLabel('Folder that holds').fill(folder);
	await page.getByRole('button', { name: 'Import', exact: true }).click();
}

async function bringZip(name: string, bytes: Uint8Array) {
	await page.goto(`${use.server.address}/?all`);
	await page.getByLabel('A ZIP file').check();
	await page
		.getByLabel('Archive', { exact: true })
		.setInputFiles({ name, mimeType: 'application/zip', buffer: Buffer.from(bytes) });
	await page.getByRole('button', { name: 'Import', exact: true }).click();
}

const fault = () => page.getByTestId('import-fault').innerText();

test('without any project the page asks for a game, and a folder of one becomes a project', async () => {
	await page.goto(use.server.address);
	await page.getByRole('heading', { name: 'Import your game' }).waitFor();
	const folder = game('mill', {
		'carts.csv': 'id,load\nhand,20\npony,60\n',
		'broken.xml': '<all>\n  <one id="a"/>\n  <two id="b">\n</all>\n',
		'empty.json': '',
		'old.ini': '[a]\nx = 1\n',
		'readme.txt': 'hello\n'
	});
	writeFileSync(join(folder, 'codepage.ini'), Buffer.from([0x5b, 0x61, 0x5d, 0x0a, 0x78, 0x3d, 0xf6, 0x0a]));
	await bringFolder(folder);
	await page.waitForURL(/\/p\/mill\/first/);
	await page.goto(`${use.server.address}/p/mill/setup`);
	const row = (path: string) => page.getByRole('row').filter({ hasText: path }).innerText();
	expect(await row('carts.csv')).toMatch(/Carts\s+2/);
	expect(await row('broken.xml')).toContain('1 faults');
	expect(await row('readme.txt')).toContain('not read as data');
	expect(await row('codepage.ini')).toMatch(/windows-1252 \(guessed, \d+ %\)/);
	// The file that does not parse is kept and listed with its place and the text around it; the rest goes on.
	await page.goto(`${use.server.address}/p/mill/snags`);
	const broken = page.locator('[data-rule=unreadable-file]').filter({ hasText: 'broken.xml' });
	expect(await broken.innerText()).toMatch(/line 4, column \d+.*opened on line 3/s);
	expect(await broken.locator('pre').innerText()).toBe('</all>');
	expect(
		await page.locator('[data-rule=unreadable-file]').filter({ hasText: 'empty.json' }).innerText()
	).toContain('The file is empty');
	// And it can be edited: my mod gets its first file.
	await page.goto(`${use.server.address}/p/mill/tables/carts?ticket=carts%2Fpony`);
	await page.locator('[data-field=load] [data-edit]').click();
	await page.locator('[data-field=load] input').fill('65');
	await page.keyboard.press('Enter');
	await page.getByTestId('message').filter({ hasText: 'Set load of pony: 60 to 65' }).waitFor();
});

test('an uploaded ZIP becomes a project; a folder around everything is taken off', async () => {
	await bringZip(
		'Windmill.zip',
		zipSync({ 'wind/data/sails.tsv': strToU8('id\tsize\nbig\t9\n'), 'wind/a.txt': strToU8('x') })
	);
	await page.waitForURL(/\/p\/windmill\/first/);
	await page.goto(`${use.server.address}/p/windmill/setup`);
	await page.getByText('data/sails.tsv', { exact: true }).waitFor();
});

test('what cannot be brought in gets a clear message, and nothing is half there', async () => {
	const before = [await count('projects'), await count('layers')];
	const long = `${'d'.repeat(100)}/${'e'.repeat(100)}/${'f'.repeat(98)}`;
	const traversal = zipSync({ 'xx/secret.tsv': strToU8('id\n') });
	const text = Buffer.from(traversal).toString('latin1').replaceAll('xx/secret', '../secret');
	const whole = zipSync({ 'a.tsv': strToU8('id\n'.repeat(5000)) });

	for (const [bytes, message] of [
		[new Uint8Array(0), /empty/],
		[strToU8('no archive at all'), /not a ZIP file/],
		[whole.slice(0, whole.length - 30), /damaged or not a ZIP/],
		[Buffer.from(text, 'latin1'), /leaves its folder/],
		[zipSync({ [long]: strToU8('x'), 'a.txt': strToU8('x') }), /300 characters; the limit is 255/]
	] as const) {
		await bringZip('bad.zip', bytes);
		expect(await fault()).toMatch(message);
	}
	for (const [folder, message] of [
		[forbidden, /outside the folders that may be read/],
		[join(allowed, '../../etc'), /outside the folders that may be read/],
		[join(allowed, 'nowhere'), /There is no folder/],
		[join(allowed, 'x'.repeat(300)), /longer than this machine allows/]
	] as const) {
		await bringFolder(folder);
		expect(await fault()).toMatch(message);
	}
	symlinkSync(forbidden, join(allowed, 'way-out'));
	await bringFolder(join(allowed, 'way-out'));
	expect(await fault()).toMatch(/outside/);
	mkdirSync(join(allowed, 'nothing'));
	await bringFolder(join(allowed, 'nothing'));
	expect(await fault()).toMatch(/There are no files in it/);
	expect([await count('projects'), await count('layers')]).toEqual(before);
});

test('a 200 MB file is known by its digest, with a word on why it is not opened; the rest is read', async () => {
	const folder = game('huge', { 'small.tsv': 'id\tx\na\t1\n', 'big.tsv': 'id\tx\n' });
	truncateSync(join(folder, 'big.tsv'), 200 * 2 ** 20);
	await bringFolder(folder);
	await page.waitForURL(/\/p\/huge\/first/, { timeout: 60_000 });
	await page.goto(`${use.server.address}/p/huge/setup`);
	expect(await page.getByRole('row').filter({ hasText: 'big.tsv' }).innerText()).toMatch(
		/too large to open.*200\.0 MB/s
	);
	await page.goto(`${use.server.address}/p/huge/tables`);
	await page.getByRole('group', { name: 'Tables' }).getByRole('link').first().waitFor();
});

test('a server killed in the middle of an import takes it up again, whole', async () => {
	const files = Object.fromEntries(
		Array.from({ length: 400 }, (_, at) => [
			`data/t${at}.tsv`,
			`id\tx\n${Array.from({ length: 60 }, (_, row) => `r${row}\t${at}`).join('\n')}\n`
		])
	);
	const folder = game('many', files);
	const { id } = await post(use.server, '/api/import', { title: 'Many', folder });
	await until(use.server, id, underWay);
	await use.server.kill();
	expect(await count("layers where project = 'many'")).toBe(0);
	await use.server.start();
	await until(use.server, id, done);
	expect(await count("layer_files f join layers l on l.id = f.layer where l.project = 'many'")).toBe(400);
});

test('layers come in on top of the game in one go, win in their order, and can change places', async () => {
	const folder = game('coast', { 'boats.csv': 'id,speed\ntern,10\nauk,12\n' });
	const first = game('faster', { 'boats.csv': 'id,speed\ntern,20\nauk,12\n' });
	const second = game('slower', { 'boats.csv': 'id,speed\ntern,5\nauk,12\n' });
	await page.goto(`${use.server.address}/?all`);
	await page.getByLabel('Folder that holds').fill(folder);
	for (const [nth, path] of [first, second].entries()) {
		await page.getByRole('button', { name: 'Another layer' }).click();
		await page.getByLabel(`Layer ${nth + 1} on top of it`).fill(path);
	}
	await page.getByRole('button', { name: 'Import', exact: true }).click();
	await page.waitForURL(/\/p\/coast\/first/);
	await page.goto(`${use.server.address}/p/coast/setup`);
	const order = async () => (await page.getByRole('heading', { level: 2 }).allInnerTexts()).slice(0, 4);
	expect(await order()).toEqual(['1. Base', '2. faster', '3. slower', '4. My mod']);
	const speed = async () => {
		await page.goto(`${use.server.address}/p/coast/tables/boats?ticket=boats%2Ftern`);
		return page.locator('[data-field=speed] [data-value]').getAttribute('data-value');
	};
	expect(await speed()).toBe('5');
	await page.getByText('From slower.').first().waitFor();
	await page.goto(`${use.server.address}/p/coast/setup`);
	await page.getByRole('button', { name: 'Load slower earlier' }).click();
	await page.getByRole('row', { name: /speed/ }).first().waitFor();
	await page.getByRole('button', { name: 'Apply' }).click();
	await page.getByRole('heading', { name: '3. faster' }).waitFor();
	expect(await speed()).toBe('20');
	// The same record side by side, from each layer.
	await page.goto(`${use.server.address}/p/coast/compare?with=boats%2Ftern`);
	await page.getByRole('link', { name: 'tern, slower' }).click();
	const row = page.getByRole('row').filter({ has: page.getByRole('rowheader', { name: 'speed' }) });
	await row.getByRole('button', { name: '5', exact: true }).waitFor();
	await row.getByRole('button', { name: '20', exact: true }).waitFor();
});

test('records that are made from others show what they take over, in the table and in the ticket, and may say it themselves', async () => {
	const boats = [
		...Array.from({ length: 9 }, (_, nth) => ({
			id: `boat_${nth}`,
			seats: 10 + nth,
			load: 100 * nth,
			home: 'cove'
		})),
		...Array.from({ length: 4 }, (_, nth) => ({ id: `small_${nth}`, made_from: `boat_${nth}`, seats: nth }))
	];
	await bringFolder(game('made', { 'boats.json': JSON.stringify(boats, null, '\t') }));
	await page.waitForURL(/\/p\/made\/first/);
	await page.goto(`${use.server.address}/p/made/setup`);
	await page.goto(`${use.server.address}/p/made/tables/boats?ticket=boats%2Fsmall_3`);
	const cell = page
		.getByRole('row')
		.filter({ hasText: 'small_3' })
		.getByTitle('Inherited from another record: 300');
	await cell.waitFor();
	const load = page.locator('[data-field=load]');
	expect(await load.getByTestId('taken-over').innerText()).toMatch(/Inherits 300 from\s+boat_3/);
	await load.locator('[data-edit]').first().click();
	await load.getByRole('textbox').fill('7');
	await page.keyboard.press('Enter');
	await cell.waitFor({ state: 'detached' });
	expect(await load.getByTestId('taken-over').count()).toBe(0);
	// The game's other records still are in the file that my mod got.
	expect(await page.getByRole('row').filter({ hasText: 'boat_3' }).count()).toBeGreaterThan(0);
});

test('a layer whose source is gone cannot be compared with it, and says so', async () => {
	const folder = game('gone', { 'a.csv': 'id,x\nq,1\n' });
	await bringFolder(folder);
	await page.waitForURL(/\/p\/gone\/first/);
	await page.goto(`${use.server.address}/p/gone/setup`);
	rmSync(folder, { recursive: true });
	await page.getByRole('button', { name: 'Verify' }).click();
	await page.getByTestId('message').filter({ hasText: 'does not exist or cannot be read' }).waitFor();
	await page.getByRole('button', { name: 'Another version' }).click();
	await page.getByRole('button', { name: 'Import as another version' }).click();
	await page
		.getByTestId('message')
		.filter({ hasText: /There is no folder or file/ })
		.waitFor();
});

test('a project that takes long to open says how far it is, and then shows what was asked for', async () => {
	await bringFolder(game('slow', { 'boats.csv': 'id,speed\ntern,9\n' }));
	await page.waitForURL(/\/p\/slow\/first/);
	await page.goto(`${use.server.address}/p/slow/setup`);
	const asked = '/p/slow/tables/boats?ticket=boats%2Ftern';
	const address = (to: string, slug = 'slow') =>
		`${use.server.address}/opening/${slug}?to=${encodeURIComponent(to)}`;
	const visitor = await openPage(use.browser);
	const states = [
		{ open: false, step: 'files', done: 12, total: 40 },
		{ open: false, step: 'meaning', done: 40, total: 40 }
	];
	// Each is told when the one before was seen.
	const gates = [...states, null].map(() => {
		let open = () => {};
		return { seen: new Promise<void>((done) => (open = done)), open: () => open() };
	});
	gates[0]!.open();
	let nth = 0;
	await visitor.route('**/opening/slow/state', async (route) => {
		const at = nth++;
		await gates[at]?.seen;
		if (states[at]) await route.fulfill({ json: states[at] });
		else await route.continue();
	});
	const opened = visitor.goto(address(asked));
	const seen = (text: RegExp) => visitor.getByRole('status').filter({ hasText: text }).waitFor();
	await seen(/12 of 40 files/);
	gates[1]!.open();
	await seen(/Loading files: done.*40 of 40 files/s);
	gates[2]!.open();
	await opened;
	expect(new URL(visitor.url()).pathname).toBe('/p/slow/tables/boats');
	await visitor.getByTestId('ticket').filter({ hasText: 'tern' }).waitFor();
	// Only pages of the project are gone on to; what cannot be opened says so, with a way out.
	await visitor.goto(address('//elsewhere.invalid/p/slow/x'));
	expect(visitor.url()).toBe(`${use.server.address}/p/slow/find`);
	await visitor.evaluate((to) => void (location.href = to), address('', 'nowhere'));
	await visitor.getByRole('alert').filter({ hasText: 'There is no project “nowhere”.' }).waitFor();
	await visitor.getByRole('link', { name: 'All projects' }).click();
	await visitor.getByRole('link', { name: /^slow/ }).waitFor();
	await visitor.close();
});

test('a project is removed by its name, with what only it needs; another of the same files stays whole', async () => {
	const shared = { 'boats.csv': 'id,speed\ntern,9\n', 'notes.txt': 'the same in both\n' };
	await bringFolder(game('birch', { ...shared, 'own.csv': 'id,x\nb,1\n' }));
	await page.waitForURL(/\/p\/birch\/first/);
	await page.goto(`${use.server.address}/p/birch/setup`);
	const before = await count('blobs');
	await bringFolder(game('alder', { ...shared, 'more.csv': 'id,x\na,1\n' }));
	await page.waitForURL(/\/p\/alder\/first/);
	await page.goto(`${use.server.address}/p/alder/setup`);
	const post = async (path: string, body: unknown) => {
		const answer = await fetch(`${use.server.address}/p/${path}`, {
			method: 'POST',
			headers: { 'content-type': 'application/json', origin: use.server.address },
			body: JSON.stringify(body)
		});
		return { status: answer.status, ...((await answer.json()) as { message?: string }) };
	};
	const faster = { do: 'set', kind: 'boats', id: 'tern', field: 'speed', value: '12' };
	expect((await post('alder/api/apply', { intention: faster })).status).toBe(200);
	// In the other project the same bytes are only in the ledger: the step is undone.
	expect((await post('birch/api/apply', { intention: faster })).status).toBe(200);
	expect((await post('birch/api/undo', {})).status).toBe(200);
	expect(await post('alder/api/project', { do: 'remove', name: 'Alder' })).toMatchObject({
		status: 422,
		message: expect.stringContaining('Its name is “alder”')
	});
	const other = await openPage(use.browser);
	await other.goto(`${use.server.address}/p/alder/find`);

	await page.goto(`${use.server.address}/?all`);
	await page.getByRole('button', { name: 'Remove alder' }).click();
	const dialog = page.getByRole('dialog');
	expect(await dialog.innerText()).toContain('Your mod, its 1 step, notes and pocket are deleted');
	expect(await dialog.getByRole('button', { name: 'Remove it' }).isDisabled()).toBe(true);
	await dialog.getByLabel('Its name').fill('alder');
	await page.keyboard.press('Enter');
	await page.getByTestId('message').filter({ hasText: 'alder is removed' }).waitFor();
	expect(await page.getByRole('link', { name: /^alder/ }).count()).toBe(0);
	// Who had it open in another window is told, and its address says that it is gone.
	await other.waitForURL(/\?all$/);
	await other.close();
	expect((await fetch(`${use.server.address}/p/alder/find`)).status).toBe(404);
	// Only the file that the other project does not have is gone: its step can be done again, from the database alone.
	await expect.poll(() => count('blobs')).toBe(before + 1);
	await use.server.end();
	rmSync(join(use.server.home, 'cache'), { recursive: true });
	await use.server.start();
	expect((await post('birch/api/redo', {})).status).toBe(200);
	const ticket = await fetch(`${use.server.address}/p/birch/api/ticket/boats/tern`);
	expect(JSON.stringify(await ticket.json())).toContain('"12"');
});
