// The server is killed at marked places and at any moment: nothing that was acknowledged is lost, nothing is half there.
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { startServer, type Server } from '../interface/helpers';
import { ask, caller, digestsBelow, ledgerAgrees, LONG, mineOf, randomFrom, times } from './helpers';

const SLUG = 'gannet-sound';
const work = mkdtempSync(join(tmpdir(), 'kettle-kills-'));
const linked = join(work, 'mod');
let server: Server;
let post: ReturnType<typeof caller>;
/** The last value of each vessel that the server said it has. */
const acknowledged = new Map<string, string>();
let start: Record<string, string>;
let game: Record<string, string>;
const random = randomFrom(Number(process.env.ATTACK_SEED ?? 7));

const gameFolder = () => join(server.home, 'games', SLUG);
const edit = (id: string, value: string) =>
	post(`/p/${SLUG}/api/apply`, { intention: { do: 'set', kind: 'vessel', id, field: 'seats', value } });

beforeAll(async () => {
	mkdirSync(linked);
	process.env.KETTLE_FAIL_FILE = wish;
	server = await startServer({ roots: work });
	post = caller(server.address);
	start = await mineOf(server.url, SLUG);
	game = digestsBelow(gameFolder());
	expect((await post(`/p/${SLUG}/api/linked`, { do: 'link', folder: linked, atOnce: false })).status).toBe(
		200
	);
});
afterAll(async () => {
	await server.stop();
	delete process.env.KETTLE_FAIL_FILE;
	rmSync(work, { recursive: true });
});

const wish = join(work, 'die-at');

/** Has the server die at a place when it comes there next. */
const dieAt = (place: string): void => writeFileSync(wish, place);

/** The server is dead by now; the next one is to live. */
async function died(): Promise<void> {
	await server.kill();
	rmSync(wish);
}

/** What is true after any kill: what was acknowledged is there, and each step's bytes are those of its files. */
async function allIsWell(): Promise<void> {
	for (const [id, value] of acknowledged) {
		const ticket = (await (await fetch(`${server.address}/p/${SLUG}/api/ticket/vessel/${id}`)).json()) as {
			groups: { rows: { path: string; value: string }[] }[];
		};
		const now = ticket.groups.flatMap(({ rows }) => rows).find(({ path }) => path === 'seats')?.value;
		expect([id, now]).toEqual([id, value]);
	}
	const [last] = await ask<{ plan: string }>(
		server.url,
		"select plan from ledger where project = $1 and state = 'applied' order by id desc limit 1",
		[SLUG]
	);
	const mine = await mineOf(server.url, SLUG);
	for (const { path, after } of last
		? (JSON.parse(last.plan) as { changes: { path: string; after: string }[] }).changes
		: [])
		expect(mine[path] ?? null).toBe(after);
	const lost = await ask(
		server.url,
		"select f.path from layer_files f join layers l on l.id = f.layer where l.owner = 'me' and not exists (select from blobs b where b.sha256 = f.sha256)"
	);
	expect(lost).toEqual([]);
}

/** What other hands own in the game's folder is as it was; the mod is there whole, or not at all. */
function gameIsWhole(): void {
	const now = digestsBelow(gameFolder());
	const own = (path: string) =>
		path.startsWith('mods/longline/') || path === 'load-order.json' || path === 'game.log';
	for (const [path, digest] of Object.entries(game))
		if (!own(path)) expect([path, now[path]]).toEqual([path, digest]);
	expect(Object.keys(now).filter((path) => !(path in game) && !own(path))).toEqual([]);
	const order = JSON.parse(readFileSync(join(gameFolder(), 'load-order.json'), 'utf8')) as { mods: string[] };
	expect(order.mods.filter((mod) => mod !== 'longline')).toEqual(['ice_season', 'quiet_harbours']);
	expect(order.mods.includes('longline')).toBe(existsSync(join(gameFolder(), 'mods/longline')));
}

const EDITS = LONG
	? ['after-blob', 'after-file', 'after-ledger', 'before-commit', 'after-commit']
	: ['after-ledger', 'before-commit', 'after-commit'];

test(`killed at each place of an edit, ${times(1, 20)} times: it is done or it is not, and nothing else changes`, async () => {
	for (let round = 0; round < times(1, 20); round++)
		for (const place of EDITS) {
			dieAt(place);
			const id = `cutter_0${1 + Math.floor(random() * 6)}`;
			const other = (...not: (string | undefined)[]) => {
				for (;;) {
					const value = String(30 + Math.floor(random() * 16));
					if (!not.includes(value)) return value;
				}
			};
			const value = other(acknowledged.get(id));
			const before = await mineOf(server.url, SLUG);
			const answer = await edit(id, value).catch(() => null);
			expect(answer?.ok ?? false, place).toBe(false);
			await died();
			await server.start();
			const now = await mineOf(server.url, SLUG);
			if (place === 'after-commit') acknowledged.set(id, value);
			else expect(now, place).toEqual(before);
			// Done or not, it can be done now.
			const next = other(value, acknowledged.get(id));
			const again = await edit(id, next);
			expect(again.status, await again.clone().text()).toBe(200);
			acknowledged.set(id, next);
			await allIsWell();
		}
});

/** Until all is written down nothing has happened; from then on it is finished. */
const BEFORE = LONG ? ['before-backup', 'after-backup'] : ['after-backup'];
const BEHIND = LONG ? ['written-down', 'moved:2', 'all-moved', 'before-note', 'after-note'] : ['moved:2'];

test(`killed at each place of a trial and of a removal, ${times(1, 6)} times: the next start finishes it or goes back`, async () => {
	const isThere = () => existsSync(join(gameFolder(), 'mods/longline'));
	const killedAt = async (place: string, call: 'trial' | 'restore') => {
		dieAt(place);
		await post(`/p/${SLUG}/api/${call}`, {}).catch(() => null);
		await died();
		await server.start();
		gameIsWhole();
	};
	for (let round = 0; round < times(1, 6); round++)
		for (const place of [...BEFORE, ...BEHIND]) {
			await killedAt(place, 'trial');
			expect(isThere(), place).toBe(BEHIND.includes(place));
			const trial = await post(`/p/${SLUG}/api/trial`, {});
			expect(trial.status, await trial.clone().text()).toBe(200);
			gameIsWhole();
			await killedAt(place, 'restore');
			expect(isThere(), place).toBe(BEFORE.includes(place));
			if (isThere()) expect((await post(`/p/${SLUG}/api/restore`, {})).status).toBe(200);
		}
	const now = digestsBelow(gameFolder());
	delete now['game.log'];
	expect(now).toEqual(game);
});

const LINKED = ['before-rename', ...(LONG ? ['after-announce', 'after-linked-write'] : [])];

test(`killed while the linked folder is written, ${times(1, 6)} times: what is there is known to be ours`, async () => {
	for (let round = 0; round < times(1, 6); round++)
		for (const place of LINKED) {
			const value = String(1 + ((Number(acknowledged.get('cutter_06') ?? 5) + 3) % 30));
			expect((await edit('cutter_06', value)).status).toBe(200);
			acknowledged.set('cutter_06', value);
			dieAt(place);
			await post(`/p/${SLUG}/api/linked`, { do: 'write' }).catch(() => null);
			await died();
			await server.start();
			// Nothing counts as changed by somebody else, and what is missing is written now.
			expect(await (await fetch(`${server.address}/p/${SLUG}/api/linked`)).json(), place).toBeNull();
			expect((await post(`/p/${SLUG}/api/linked`, { do: 'write' })).status).toBe(200);
			expect(digestsBelow(linked)).toEqual(await mineOf(server.url, SLUG));
		}
});

test(`killed at any moment, ${times(2, 60)} times, while edits go on: none that was acknowledged is lost`, async () => {
	for (let kill = 0; kill < times(2, 60); kill++) {
		let going = true;
		const clients = ['launch_01', 'launch_02', 'launch_03'].map(async (id) => {
			for (let value = 2; going; value = (value % 30) + 1) {
				const answer = await edit(id, String(value)).catch(() => null);
				if (answer?.ok) acknowledged.set(id, String(value));
				else if (answer === null) return;
			}
		});
		await new Promise((done) => setTimeout(done, 150 + random() * 500));
		await server.kill();
		going = false;
		await Promise.all(clients);
		// An edit may have been done without its answer; then its value is the one of now.
		await server.start();
		for (const id of acknowledged.keys()) {
			const [step] = await ask<{ intention: string }>(
				server.url,
				"select intention from ledger where project = $1 and state = 'applied' and intention like $2 order by id desc limit 1",
				[SLUG, `%"id":"${id}"%`]
			);
			const said = JSON.parse(step!.intention) as { value: string };
			const steps = await ask<{ intention: string }>(
				server.url,
				"select intention from ledger where project = $1 and state = 'applied' and intention like $2 order by id desc limit 2",
				[SLUG, `%"id":"${id}"%`]
			);
			expect(steps.map(({ intention }) => (JSON.parse(intention) as { value: string }).value)).toContain(
				acknowledged.get(id)
			);
			acknowledged.set(id, said.value);
		}
		await allIsWell();
	}
});

test(`killed at random moments of ${times(8, 200)} plans of all sorts: the old state or the new one, and the ledger agrees`, async () => {
	const applied = async () =>
		(
			await ask<{ n: number }>(server.url, "select count(*)::int as n from ledger where state = 'applied'")
		)[0]!.n;
	const start = await applied();
	const next = (below: number) => Math.floor(random() * below);
	let round = 0;
	for (; round < times(14, 120) && (await applied()) - start < times(8, 200); round++) {
		const plans = Array.from({ length: 24 }, (_, at): object => {
			const id = ['barge_02', 'barge_05', 'tug_08', 'ice_04'][next(4)]!;
			const value = String(1 + ((round * 24 + at) % 58));
			return [
				{ do: 'set', kind: 'vessel', id, field: 'seats', value },
				{
					do: 'change',
					kind: 'vessel',
					ids: ['ice_01', 'ice_02', id],
					field: 'tow',
					how: { by: 'set', value }
				},
				{ do: 'copy', kind: 'vessel', id, newId: `k${round}_${at}`, names: {} },
				{ do: 'write', texts: [{ key: 'vessel.tug_01.about', language: 'en', text: `About ${value}` }] }
			][next(8) < 5 ? 0 : 1 + next(3)]!;
		});
		let answered = 0;
		const edits = plans.map((intention) =>
			post(`/p/${SLUG}/api/apply`, { intention })
				.then(() => answered++)
				.catch(() => null)
		);
		// At some moment in or between steps, however fast the machine is; now and then before the first.
		const most = round % 5 === 0 ? 0 : 1 + next(12);
		const late = Date.now() + 20_000;
		while (answered < most && Date.now() < late) await new Promise((done) => setTimeout(done, 5));
		await new Promise((done) => setTimeout(done, next(most === 0 ? 900 : 150)));
		await server.kill();
		await Promise.all(edits);
		await server.start();
		await ledgerAgrees(server.url, SLUG);
		expect(
			await ask(
				server.url,
				'select path from layer_files f left join blobs b using (sha256) where f.kept and b.sha256 is null'
			)
		).toEqual([]);
		expect((await fetch(`${server.address}/p/gannet-sound/snags`)).status).toBe(200);
	}
	expect((await applied()) - start).toBeGreaterThanOrEqual(times(8, 200));
	// What the others knew of these vessels holds no more.
	acknowledged.clear();
});

test('all of it can be undone, to the very bytes of the start', async () => {
	for (;;) {
		const answer = await post(`/p/${SLUG}/api/undo`, {});
		expect(answer.status).toBe(200);
		if (((await answer.json()) as { title: string | null }).title === null) break;
	}
	expect(await mineOf(server.url, SLUG)).toEqual(start);
});
