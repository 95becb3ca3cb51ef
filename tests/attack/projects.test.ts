// A project as one file: on an empty server it is the same project, its history included. A cache that was cut is not
// believed. What came along with copies from another version is told.
import { mkdirSync, mkdtempSync, readdirSync, rmSync, statSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { startServer, type Server } from '../interface/helpers';
import { ask, caller, mineOf } from './helpers';

let here: Server;
let there: Server;
let post: ReturnType<typeof caller>;
const SLUG = 'gannet-sound';
const work = mkdtempSync(join(tmpdir(), 'kettle-projects-'));

beforeAll(async () => {
	here = await startServer({ roots: work });
	there = await startServer({ demo: false });
	post = caller(here.address);
});
afterAll(async () => {
	await here.stop();
	await there.stop();
	rmSync(work, { recursive: true });
});

const edit = async (intention: object) => {
	const answer = await post(`/p/${SLUG}/api/apply`, { intention });
	expect([answer.status, await answer.text()]).toEqual([200, expect.anything()]);
};
const LEDGER =
	'select title, intention, plan, digests, encodings, state, applied_at, mark from ledger where project = $1 order by id';
const files = (server: Server, slug: string) =>
	ask(
		server.url,
		'select l.owner, l.position, f.path, f.sha256, f.kept from layer_files f join layers l on l.id = f.layer where l.project = $1 order by l.position, f.path',
		[slug]
	);

test('exported and imported it gives the same bytes and the same ledger, and undoes to the same start', async () => {
	const start = await mineOf(here.url, SLUG);
	await edit({ do: 'set', kind: 'vessel', id: 'tug_08', field: 'seats', value: '6' });
	await edit({ do: 'copy', kind: 'omen', id: 'white_gull', newId: 'grey_gull', names: { en: 'Grey gull' } });
	await edit({ do: 'rename', kind: 'vessel', id: 'cutter_04', newId: 'cutter_44' });
	const [first] = await ask<{ id: string }>(here.url, 'select id from ledger order by id limit 1');
	await edit({ do: 'reverse', step: Number(first!.id) });
	await post(`/p/${SLUG}/api/notes`, {
		on: { kind: 'vessel', record: 'tug_01' },
		nickname: 'Old Tom',
		note: 'a note'
	});
	const exported = await fetch(`${here.address}/p/${SLUG}/api/export?layers=yes`);
	const bytes = Buffer.from(await exported.arrayBuffer());
	const sent = await fetch(`${there.address}/api/import/project`, {
		method: 'POST',
		headers: { 'content-type': 'application/zip', origin: there.address },
		body: bytes
	});
	expect(await sent.json()).toEqual({ slug: SLUG, missing: 0 });
	expect(await files(there, SLUG)).toEqual(await files(here, SLUG));
	const ledger = await ask<{ intention: string }>(there.url, LEDGER, [SLUG]);
	const withoutNumbers = (rows: { intention: string }[]) =>
		rows.map((row) => ({ ...row, intention: row.intention.replace(/"step":\d+/, '"step":0') }));
	expect(withoutNumbers(ledger)).toEqual(withoutNumbers(await ask(here.url, LEDGER, [SLUG])));
	// The pack is the same, byte for byte, and the steps are told by their titles.
	const packed = async ({ address }: { address: string }) =>
		Buffer.from(await (await fetch(`${address}/p/${SLUG}/api/pack?with=readme&with=changes`)).arrayBuffer());
	expect((await packed(there)).equals(await packed(here))).toBe(true);
	const titles = await (await fetch(`${there.address}/p/${SLUG}/ledger`)).text();
	for (const title of ['Set seats', 'Grey gull', 'cutter_44']) expect(titles).toContain(title);
	const far = caller(there.address);
	for (let steps = 0; ; steps++) {
		const answer = await far(`/p/${SLUG}/api/undo`, {});
		const said = (await answer.json()) as { title?: string | null; message?: string };
		expect([answer.status, said.message]).toEqual([200, undefined]);
		if (said.title !== null) continue;
		expect(steps).toBe(4);
		break;
	}
	expect(await mineOf(there.url, SLUG)).toEqual(start);
	expect((await far(`/p/${SLUG}/api/redo`, {})).status).toBe(200);
	// Damaged on the way, it is refused and leaves nothing.
	const broken = Buffer.from(bytes);
	broken.fill(0, 100, 3000);
	const refused = await fetch(`${there.address}/api/import/project`, {
		method: 'POST',
		headers: { 'content-type': 'application/zip', origin: there.address },
		body: broken
	});
	expect(refused.status).toBe(422);
	expect(await ask(there.url, 'select slug from projects')).toHaveLength(1);
});

/** Cuts every file below a folder to a share of its bytes; what goes meanwhile, as a file that is just written does, is left. */
function cutAll(folder: string, share: number): void {
	for (const entry of readdirSync(folder, { recursive: true }).map(String)) {
		const path = join(folder, entry);
		const about = statSync(path, { throwIfNoEntry: false });
		if (!about?.isFile()) continue;
		try {
			truncateSync(path, Math.floor(about.size * share));
		} catch (error) {
			if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
		}
	}
}

test('bytes that were cut in the cache are fetched again: the next edit loses no record', async () => {
	await here.end();
	const shelf = join(here.home, 'cache');
	cutAll(shelf, 0.7);
	await here.start();
	const before = await (await fetch(`${here.address}/p/${SLUG}/api/rows/vessel?from=0&count=200`)).json();
	await edit({ do: 'set', kind: 'vessel', id: 'tug_07', field: 'seats', value: '7' });
	// Cut again while the server has the project in memory and reads bytes only when it needs them.
	cutAll(join(shelf, 'bytes'), 0.5);
	await edit({ do: 'set', kind: 'vessel', id: 'tug_06', field: 'seats', value: '8' });
	const after = (await (
		await fetch(`${here.address}/p/${SLUG}/api/rows/vessel?from=0&count=200`)
	).json()) as typeof before;
	expect((after as { rows: unknown[] }).rows).toHaveLength((before as { rows: unknown[] }).rows.length);
	await post(`/p/${SLUG}/api/undo`, {});
	await post(`/p/${SLUG}/api/undo`, {});
});

test('after another version is used, a value that only came along with a copy is a snag, with the way back', async () => {
	const game = join(work, 'mill');
	mkdirSync(game);
	const rows = (speed: number) =>
		`id\tspeed\tload\n${Array.from({ length: 12 }, (_, at) => `cart_${at}\t${at === 3 ? speed : 10 + at}\t${20 + at}`).join('\n')}\n`;
	writeFileSync(join(game, 'carts.tsv'), rows(13));
	const { id } = (await (await post('/api/import', { title: 'Mill', folder: game })).json()) as {
		id: string;
	};
	const ended = async (job: string) => {
		for (;;) {
			const { state, message } = (await (await fetch(`${here.address}/imports/${job}`)).json()) as {
				state: string;
				message: string;
			};
			if (state === 'done') return;
			expect(['waiting', 'working'], message).toContain(state);
			await new Promise((done) => setTimeout(done, 100));
		}
	};
	await ended(id);
	const mill = (path: string, sent: unknown) => post(`/p/mill/api/${path}`, sent);
	expect(
		(
			await mill('apply', {
				intention: { do: 'set', kind: 'carts', id: 'cart_3', field: 'load', value: '50' }
			})
		).status
	).toBe(200);
	writeFileSync(join(game, 'carts.tsv'), rows(31));
	const [base] = await ask<{ id: string }>(
		here.url,
		"select id from layers where project = 'mill' and owner = 'game'"
	);
	const next = (await (await mill('layers', { do: 'version', layer: base!.id, folder: '' })).json()) as {
		id: string;
	};
	await ended(next.id);
	const [beside] = await ask<{ id: string }>(
		here.url,
		"select id from layers where project = 'mill' and beside_of is not null"
	);
	expect((await mill('layers', { do: 'use', layer: beside!.id })).status).toBe(200);
	const page = await (await fetch(`${here.address}/p/mill/snags`)).text();
	expect(page).toContain('as in the version used before');
	const plan = (await (
		await mill('plan', { intention: { do: 'set', kind: 'carts', id: 'cart_3', field: 'speed', value: '31' } })
	).json()) as { removed: { rule: string }[] };
	expect(plan.removed.map(({ rule }) => rule)).toContain('stale-copy');
});
