// Undo across restarts, two windows on one value, many edits at once.
import { readdirSync, readFileSync } from 'node:fs';
import pg from 'pg';
import type { Page } from 'playwright-core';
import { expect, test } from 'vitest';
import { ledgerAgrees } from '../attack/helpers';
import { AT_LENGTH } from '../runs';
import { dialSays, openPage, useServer } from './helpers';
import { query } from './query';

const use = useServer();

const ticket = (id: string) => `${use.server.address}/p/gannet-sound/tables/vessel?ticket=vessel%2F${id}`;
const editor = (page: Page, field: string) => page.locator(`[data-field=${field}] [data-edit]`);

async function edit(page: Page, field: string, value: string) {
	await editor(page, field).click();
	await page.locator(`[data-field=${field}] input`).fill(value);
	await page.keyboard.press('Enter');
}

/** Digests of my mod's files, straight from the database. */
async function myFiles(): Promise<Record<string, string>> {
	const client = new pg.Client({ connectionString: use.server.url });
	await client.connect();
	const { rows } = await client.query(
		"select f.path, f.sha256 from layer_files f join layers l on l.id = f.layer where l.owner = 'me' order by 1"
	);
	await client.end();
	return Object.fromEntries(rows.map((row) => [row.path, row.sha256]));
}

const post = (path: string, body: unknown, headers: Record<string, string> = {}) =>
	fetch(`${use.server.address}/p/gannet-sound/api/${path}`, {
		method: 'POST',
		headers: { 'content-type': 'application/json', origin: use.server.address, ...headers },
		body: JSON.stringify(body)
	});

test('undo and redo over several steps, also after a restart, give back the same bytes', async () => {
	const page = await openPage(use.browser);
	const before = await myFiles();
	await page.goto(ticket('cutter_05'));
	await edit(page, 'speed', '26');
	await page.getByTestId('message').filter({ hasText: 'Set speed' }).waitFor();
	await edit(page, 'draft', '1.85');
	await page.getByTestId('message').filter({ hasText: 'Set draft' }).waitFor();
	const after = await myFiles();
	expect(after).not.toEqual(before);

	await use.server.kill();
	await use.server.start();
	await page.goto(ticket('cutter_05'));
	await editor(page, 'speed').filter({ hasText: '26' }).waitFor();
	for (const said of ['Undone: Set draft', 'Undone: Set speed']) {
		await page.keyboard.press('Control+z');
		await page.getByTestId('message').filter({ hasText: said }).waitFor();
	}
	expect(await myFiles()).toEqual(before);
	for (const said of ['Redone: Set speed', 'Redone: Set draft']) {
		await page.keyboard.press('Control+Shift+Z');
		await page.getByTestId('message').filter({ hasText: said }).waitFor();
	}
	expect(await myFiles()).toEqual(after);
	await page.goto(`${use.server.address}/p/gannet-sound/ledger`);
	expect(await page.locator('summary').allInnerTexts()).toHaveLength(2);
	await page.close();
});

test('a change is saved although its page is left at once', async () => {
	const page = await openPage(use.browser);
	for (const value of ['2.31', '2.32']) {
		await page.goto(ticket('cutter_07'));
		await editor(page, 'draft').click();
		const input = page.locator('[data-field=draft] input');
		await input.fill(value);
		await input.evaluate((element) => {
			element.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
			window.stop();
		});
		await page.goto(ticket('cutter_07'));
		await editor(page, 'draft').filter({ hasText: value }).waitFor({ timeout: 2_000 });
		await post('undo', {});
	}
	await page.close();
});

test('a change elsewhere does not cut short the way to the page whose link was followed', async () => {
	const page = await openPage(use.browser);
	await page.goto(ticket('tug_05'));
	await editor(page, 'tow').waitFor();
	let heard = 0;
	await page.route('**/__data.json*', async (route) => {
		const asked = new URL(route.request().url()).pathname;
		if (!asked.includes('/ledger/') || heard++ > 0) return route.continue();
		// While the page is on its way, another process changes the project, and this one hears of it.
		const answer = await post('apply', {
			intention: { do: 'set', kind: 'vessel', id: 'tug_05', field: 'tow', value: '63' }
		});
		expect(answer.status).toBe(200);
		// The page has heard of it when another listener has.
		await page.evaluate(
			(seen) =>
				new Promise<void>((resolve) => {
					const events = new EventSource('/p/gannet-sound/api/events');
					events.onmessage = (event) => {
						if (Number(event.data) < seen) return;
						events.close();
						resolve();
					};
				}),
			((await answer.json()) as { version: number }).version
		);
		await route.continue();
	});
	await page.getByRole('link', { name: 'Ledger', exact: true }).click();
	await page.waitForURL(/\/ledger$/);
	await page.locator('summary').filter({ hasText: 'tow' }).first().waitFor();
	expect(heard).toBeGreaterThan(0);
	await page.close();
	await post('undo', {});
});

test('of two windows that edit the same value the second is told, and nothing is overwritten unseen', async () => {
	const one = await openPage(use.browser);
	const two = await openPage(use.browser);
	// The second window hears of nothing, as when its connection hangs.
	await two.route('**/api/events', (route) => route.abort());
	await one.goto(ticket('tug_05'));
	await two.goto(ticket('tug_05'));
	const was = await editor(two, 'tow').innerText();
	await edit(one, 'tow', '61');
	await one.getByTestId('message').filter({ hasText: 'Set tow' }).waitFor();
	await edit(two, 'tow', '62');
	await two
		.getByRole('alert')
		.filter({ hasText: `changed from “${was}” to “61”. Nothing was overwritten` })
		.waitFor();
	await editor(two, 'tow').filter({ hasText: '61' }).waitFor();
	await one.close();
	await two.close();
});

test('a change in one window shows in the other by itself, the dial too', async () => {
	const one = await openPage(use.browser);
	const two = await openPage(use.browser);
	await two.goto(ticket('tug_06'));
	await one.goto(ticket('tug_06'));
	await dialSays(two, '3 block');
	await edit(one, 'tow', '999');
	await dialSays(two, '4 block');
	await editor(two, 'tow').filter({ hasText: '999' }).waitFor();
	await one.keyboard.press('Control+z');
	await dialSays(two, '3 block');
	await one.close();
	await two.close();
});

test('one edit loads its own page anew once, whichever comes first, its answer or the news of it', async () => {
	const one = await openPage(use.browser);
	const two = await openPage(use.browser);
	await one.goto(ticket('barge_05'));
	await two.goto(ticket('barge_05'));
	let loads = 0;
	await one.route('**/tables/vessel/__data.json*', async (route) => {
		loads++;
		await route.continue();
	});
	// The answer comes late, so that the news is there before it.
	await one.route('**/api/apply', async (route) => {
		const answer = await route.fetch();
		await editor(two, 'seats').filter({ hasText: '17' }).waitFor();
		await route.fulfill({ response: answer });
	});
	await edit(one, 'seats', '17');
	await one.getByTestId('message').filter({ hasText: 'Set seats' }).waitFor();
	await edit(two, 'seats', '18');
	await editor(one, 'seats').filter({ hasText: '18' }).waitFor();
	expect(loads).toBe(2);
	await one.close();
	await two.close();
});

test('a plan that was looked at and is stale is refused whole', async () => {
	const intention = { do: 'set', kind: 'vessel', id: 'ice_01', field: 'seats', value: '9' };
	const { version } = await (await post('plan', { intention })).json();
	await post('apply', { intention: { ...intention, field: 'tow', value: '30' } });
	const late = await post('apply', { intention, version });
	expect([late.status, (await late.json()).message]).toEqual([
		409,
		expect.stringContaining('has changed in the meantime')
	]);
});

test('going back to a step takes back all since or nothing, and nothing that was not seen', async () => {
	const set = (value: string) =>
		post('apply', { intention: { do: 'set', kind: 'vessel', id: 'ice_04', field: 'tow', value } });
	const steps = async () => {
		const client = new pg.Client({ connectionString: use.server.url });
		await client.connect();
		const { rows } = await client.query("select id::int from ledger where state = 'applied' order by id");
		await client.end();
		return rows.map((row) => row.id as number);
	};
	await set('31');
	const there = await myFiles();
	const here = (await steps()).at(-1)!;
	for (const value of ['32', '33', '34']) await set(value);
	const seen = (await steps()).at(-1)!;
	await set('35');
	const all = await myFiles();
	const unseen = await post('ledger', { do: 'back', step: here, last: seen });
	expect([unseen.status, (await unseen.json()).message]).toEqual([
		422,
		expect.stringContaining('Nothing was undone')
	]);
	expect(await myFiles()).toEqual(all);
	const back = await post('ledger', { do: 'back', step: here, last: (await steps()).at(-1) });
	expect((await back.json()).said).toBe('Undid 4 steps.');
	expect(await myFiles()).toEqual(there);
	for (let nth = 0; nth < 4; nth++) await post('redo', {});
	expect(await myFiles()).toEqual(all);
});

test('a file that a record is named by moves with its name; undo, redo and a reversal bring it there and back', async () => {
	const before = await myFiles();
	const [first] = readdirSync('demo/base/data/stations').sort();
	const id = first!.replace('.toml', '');
	const copied = await post('apply', {
		intention: { do: 'copy', kind: 'station', id, newId: 'far_skerry', names: {} }
	});
	expect(copied.status, await copied.clone().text()).toBe(200);
	const there = await myFiles();
	expect(there).toHaveProperty('data/stations/far_skerry.toml');
	const renamed = await post('apply', {
		intention: { do: 'rename', kind: 'station', id: 'far_skerry', newId: 'far_holm' }
	});
	expect(renamed.status, await renamed.clone().text()).toBe(200);
	const moved = await myFiles();
	expect(moved).toHaveProperty('data/stations/far_holm.toml');
	expect(moved).not.toHaveProperty('data/stations/far_skerry.toml');
	const [step] = await query<{ id: string; plan: string }>(
		use.server.url,
		"select id, plan from ledger where state = 'applied' order by id desc limit 1"
	);
	const { changes } = JSON.parse(step!.plan) as { changes: { path: string; movedFrom?: string }[] };
	expect(changes.find(({ path }) => path === 'data/stations/far_holm.toml')?.movedFrom).toBe(
		'data/stations/far_skerry.toml'
	);
	await ledgerAgrees(use.server.url, 'gannet-sound');
	expect((await post('undo', {})).status).toBe(200);
	expect(await myFiles()).toEqual(there);
	expect((await post('redo', {})).status).toBe(200);
	expect(await myFiles()).toEqual(moved);
	const reversed = await post('apply', { intention: { do: 'reverse', step: Number(step!.id) } });
	expect(reversed.status, await reversed.clone().text()).toBe(200);
	expect(await myFiles()).toEqual(there);
	for (let nth = 0; nth < 3; nth++) expect((await post('undo', {})).status).toBe(200);
	expect(await myFiles()).toEqual(before);
});

test('what another process changes in the database is seen, and what it did not change is still known', async () => {
	const client = new pg.Client({ connectionString: use.server.url });
	await client.connect();
	const isMine = async () => {
		const ticket = (await (
			await fetch(`${use.server.address}/p/gannet-sound/api/ticket/vessel/cutter_04`)
		).json()) as { inMine: boolean };
		return ticket.inMine;
	};
	const revisions = async () =>
		Object.fromEntries(
			(
				await client.query<{ owner: string; revision: string }>('select owner, revision from layers')
			).rows.map(({ owner, revision }) => [owner, Number(revision)])
		);
	expect(await isMine()).toBe(true);
	const before = await revisions();
	const { rows } = await client.query(
		"delete from layer_files f using layers l where l.id = f.layer and l.owner = 'me' and f.path = 'data/vessels.tsv' returning f.*"
	);
	const tell = async () => {
		await client.query("update projects set version = version + 1 where slug = 'gannet-sound'");
		await client.query("select pg_notify('kettle', 'gannet-sound')");
	};
	await tell();
	expect(await isMine()).toBe(false);
	expect(await revisions()).toEqual({ ...before, me: before.me! + 1 });
	const [row] = rows as Record<string, unknown>[];
	await client.query(
		`insert into layer_files (${Object.keys(row!).join(', ')}) values (${Object.keys(row!)
			.map((_, at) => `$${at + 1}`)
			.join(', ')})`,
		Object.values(row!)
	);
	await tell();
	expect(await isMine()).toBe(true);
	await client.end();
});

const EDITS = AT_LENGTH ? 200 : 40;

test(`${EDITS} edits from two sides at once: none is lost, and the ledger agrees with the bytes`, async () => {
	const applied = async () =>
		(
			await query<{ n: number }>(
				use.server.url,
				"select count(*)::int as n from ledger where state = 'applied'"
			)
		)[0]!.n;
	const before = await applied();
	const outcomes = await Promise.all(
		Array.from({ length: EDITS }, async (_, at) => {
			const answer = await post('apply', {
				intention: {
					do: 'set',
					kind: 'vessel',
					id: at % 2 ? 'ice_02' : 'ice_03',
					field: 'tow',
					value: String(20 + (at % 60))
				}
			});
			return answer.status;
		})
	);
	expect(outcomes.every((status) => status === 200 || status === 422)).toBe(true);
	// What is refused is a value that was so already; most are not.
	const done = outcomes.filter((status) => status === 200).length;
	expect(done).toBeGreaterThan(EDITS * 0.75);
	expect((await applied()) - before).toBe(done);
	await ledgerAgrees(use.server.url, 'gannet-sound');
});

test('two people in two windows, moves in any order: what one has not seen is never overwritten', async () => {
	const fields = ['tow', 'seats', 'hull'] as const;
	const records = ['barge_03', 'barge_04', 'tug_07'];
	const places = records.flatMap((id) => fields.map((field) => ({ id, field, key: `${id} ${field}` })));
	const read = async (): Promise<Map<string, string>> => {
		const query = `where=id+is+${records.join('%2C+')}`;
		const answer = await fetch(`${use.server.address}/p/gannet-sound/api/rows/vessel?${query}`);
		const { rows } = (await answer.json()) as { rows: { id: string; cells: string[] }[] };
		return new Map(
			rows.flatMap(({ id, cells }) =>
				fields.map((field) => [`${id} ${field}`, cells[columns.indexOf(field)]!])
			)
		);
	};
	const columns = readFileSync('demo/base.guide.yaml', 'utf8')
		.match(/\n {2}vessel:[\s\S]*?\n {4}fields:([\s\S]*?)\n {2}engine:/)![1]!
		.match(/^ {6}(\w+):/gm)!
		.map((name) => name.trim().slice(0, -1));
	// One of them waits for nothing, the other's pages are of any age.
	const seen = [await read(), await read()];
	const truth = await read();
	let seed = 20;
	const next = (below: number) => {
		seed = (seed * 1103515245 + 12345) % 2147483648;
		return Math.floor((seed / 2147483648) * below);
	};
	let [written, refused] = [0, 0];
	for (let move = 0; move < (AT_LENGTH ? 500 : 150); move++) {
		const who = next(2);
		if (next(4) === 0) {
			seen[who] = await read();
			expect([...seen[who]!]).toEqual([...truth]);
			continue;
		}
		const { id, field, key } = places[next(places.length)]!;
		const expected = seen[who]!.get(key)!;
		const value = String(1 + next(40));
		if (value === truth.get(key)) continue;
		const answer = await post('apply', {
			intention: { do: 'set', kind: 'vessel', id, field, value, expected }
		});
		if (expected === truth.get(key)) {
			expect([answer.status, key, value]).toEqual([200, key, value]);
			truth.set(key, value);
			seen[who]!.set(key, value);
			written++;
		} else {
			expect(answer.status).toBe(409);
			refused++;
		}
	}
	expect([...(await read())]).toEqual([...truth]);
	expect(written).toBeGreaterThan(15);
	expect(refused).toBeGreaterThan(15);
});

test('only pages of this server may change something, under a name of this machine', async () => {
	const intention = { do: 'set', kind: 'vessel', id: 'ice_01', field: 'seats', value: '11' };
	expect((await post('apply', { intention }, { origin: 'http://elsewhere.example' })).status).toBe(403);
	const { request } = await import('node:http');
	const status = await new Promise((done) => {
		const url = new URL(use.server.address);
		request(
			{ host: url.hostname, port: url.port, path: '/ready', headers: { host: 'elsewhere.example' } },
			(answer) => done(answer.statusCode)
		).end();
	});
	expect(status).toBe(403);
	const wrong = await post('apply', { intention: { do: 'sett' } });
	expect([wrong.status, (await wrong.json()).message]).toEqual([
		422,
		expect.stringContaining('Invalid request')
	]);
});
