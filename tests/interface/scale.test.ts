// Imports that are disturbed: a killed worker, a killed server, somebody who cancels. What comes of them is what an
// undisturbed import gives, row for row; what was read before is not read again.
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import pg from 'pg';
import { strToU8, zipSync } from 'fflate';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { gameFiles, gameGuide, makeGame } from '../../bench/game';
import { startServer, type Server } from './helpers';
import { done, post, stateOf, underWay, until } from './imports';

const work = mkdtempSync(join(tmpdir(), 'kettle-scale-'));
const folder = join(work, 'skerry');
const game = makeGame({ records: 800, files: 160, seed: 3 });
let disturbed: Server;
let calm: Server;

beforeAll(async () => {
	for (const { path, text } of gameFiles(game)) {
		mkdirSync(dirname(join(folder, path)), { recursive: true });
		writeFileSync(join(folder, path), text);
	}
	writeFileSync(`${folder}.guide.yaml`, gameGuide());
	[disturbed, calm] = [
		await startServer({ demo: false, roots: work }),
		await startServer({ demo: false, roots: work })
	];
});
afterAll(async () => {
	await disturbed?.stop();
	await calm?.stop();
	rmSync(work, { recursive: true });
});

const get = async (server: Server, path: string) => (await fetch(server.address + path)).text();
const begin = async (server: Server, title: string) =>
	(await post(server, '/api/import', { title, folder })).id;

async function query<T extends pg.QueryResultRow>(server: Server, text: string, values: unknown[] = []) {
	const client = new pg.Client({ connectionString: server.url });
	await client.connect();
	const { rows } = await client.query<T>(text, values);
	await client.end();
	return rows;
}

/** Everything that an import puts in place, and what of it is shown. */
async function all(server: Server, slug: string) {
	const files = await query(
		server,
		'select l.owner, l.title, f.path, f.sha256, f.size, f.kept from layer_files f join layers l on l.id = f.layer where l.project = $1 order by 1, 3',
		[slug]
	);
	const tables: string[] = [];
	for (const kind of [...Object.keys(game.things), 'text'])
		tables.push(await get(server, `/p/${slug}/api/rows/${kind}?from=0&count=5000`));
	const found: unknown[] = [];
	for (const asked of ['cutter', '47', 'raise_call', game.things.vessel[5]!.names.de!]) {
		const { total, records } = JSON.parse(
			await get(server, `/p/${slug}/api/find?q=${encodeURIComponent(asked)}`)
		);
		found.push(
			total,
			records.map(({ kind, record, file, line }: Record<string, unknown>) => [kind, record, file, line])
		);
	}
	return { files, tables, found };
}

/** The worker process of a server. */
const workerOf = (server: Server) =>
	Number(
		execFileSync('ps', ['--ppid', String(server.pid()), '-o', 'pid='], { encoding: 'utf8' })
			.trim()
			.split(/\s+/)[0]
	);

/** Takes away what was imported. Ended meanwhile: what it goes on with behind an import would be written again. */
async function asNew(server: Server): Promise<void> {
	await server.end();
	rmSync(join(server.home, 'cache'), { recursive: true });
	await query(server, "delete from projects where slug = 'skerry'");
	await query(server, 'delete from blobs');
	await server.start();
}

/** An import that is under way: one that is done before it was seen to be is begun anew. */
async function halfway(server: Server): Promise<string> {
	for (let tries = 0; tries < 10; tries++) {
		const id = await begin(server, 'skerry');
		if (underWay(await until(server, id, (now) => underWay(now) || done(now)))) return id;
		await asNew(server);
	}
	throw new Error('Each import was done before it was seen under way.');
}

/** What is kept of many files together: what they tell of the game. */
const findings = ({ home }: Server): string[] => {
	const shelf = join(home, 'cache/made');
	return readdirSync(shelf, { recursive: true, encoding: 'utf8' })
		.filter((name) => /[0-9a-f]{64}$/.test(name))
		.filter((name) =>
			readFileSync(join(shelf, name))
				.subarray(0, 32)
				.every((byte) => byte === 0)
		)
		.sort();
};

let undisturbed: Awaited<ReturnType<typeof all>>;

test('a worker that is killed in the middle is followed by another, which goes on behind what was done', async () => {
	const quiet = await begin(calm, 'skerry');
	await until(calm, quiet, done);
	// What the files tell was found out by the worker; the server, which opens the game now, takes it from there.
	const found = findings(calm);
	expect(found.length).toBeGreaterThan(0);
	undisturbed = await all(calm, 'skerry');
	expect(findings(calm)).toEqual(found);
	expect(undisturbed.files.length).toBeGreaterThan(140);

	const id = await halfway(disturbed);
	const killed = workerOf(disturbed);
	process.kill(killed, 'SIGKILL');
	const [{ count: before }] = (await query<{ count: string }>(
		disturbed,
		'select count(*) from import_files where import = $1',
		[id]
	)) as [{ count: string }];
	expect(Number(before)).toBeGreaterThan(0);
	expect(await query(disturbed, 'select 1 from projects')).toEqual([]);
	const taken = await until(
		disturbed,
		id,
		(now) => done(now) || (now.state === 'working' && now.files_done >= Number(before))
	);
	expect(taken.files_done).toBeGreaterThanOrEqual(Number(before));
	await until(disturbed, id, done);
	expect(workerOf(disturbed)).not.toBe(killed);
	expect(await all(disturbed, 'skerry')).toEqual(undisturbed);
	expect(await query(disturbed, 'select 1 from import_files')).toEqual([]);
});

test('a server that is killed in the middle goes on when it is back', async () => {
	await asNew(disturbed);
	const id = await halfway(disturbed);
	await disturbed.kill();
	await disturbed.start();
	await until(disturbed, id, done);
	expect(await all(disturbed, 'skerry')).toEqual(undisturbed);
});

test('a server that is ended in good order in the middle goes on as well', async () => {
	await asNew(disturbed);
	const id = await halfway(disturbed);
	const worker = workerOf(disturbed);
	await disturbed.end();
	// The worker ends with it, and has not called its work a failure.
	for (let tries = 0; tries < 100; tries++) {
		try {
			process.kill(worker, 0);
		} catch {
			break;
		}
		await new Promise((next) => setTimeout(next, 20));
	}
	expect(() => process.kill(worker, 0)).toThrow();
	expect(await query(disturbed, 'select state, worker from imports where id = $1', [id])).toEqual([
		// It let go of it, so that nobody waits until it has been silent for long enough.
		{ state: 'working', worker: null }
	]);
	await disturbed.start();
	await until(disturbed, id, done);
	expect(await all(disturbed, 'skerry')).toEqual(undisturbed);
});

test('an import that is cancelled leaves nothing', async () => {
	// One of which nothing was read before, so that it takes its time.
	const fresh = join(work, 'fresh');
	for (const { path, text } of gameFiles(makeGame({ records: 1500, files: 300, seed: 8 }))) {
		mkdirSync(dirname(join(fresh, path)), { recursive: true });
		writeFileSync(join(fresh, path), text);
	}
	const { id } = await post(disturbed, '/api/import', { title: 'once more', folder: fresh });
	await until(disturbed, id, (now) => now.state === 'working');
	await fetch(`${disturbed.address}/imports/${id}`, {
		method: 'DELETE',
		headers: { origin: disturbed.address }
	});
	expect((await stateOf(disturbed, id)).state).toBe('cancelled');
	// The worker hears of it with its next report, and takes away what it had done.
	await expect.poll(() => query(disturbed, 'select 1 from import_files')).toEqual([]);
	expect(await query(disturbed, "select slug from projects where slug <> 'skerry'")).toEqual([]);
});

test('another version comes in beside, only what changed is read, and it can take the place of the first', async () => {
	const [layer] = await query<{ id: string }>(calm, "select id from layers where owner = 'game'");
	const facts = () =>
		Number(execFileSync('sh', ['-c', `find ${calm.home}/cache -type f | wc -l`], { encoding: 'utf8' }));
	const before = facts();
	const changed = join(folder, 'data/engine/0001.ini');
	const text = readFileSync(changed, 'utf8');
	writeFileSync(changed, text.replace(/cost = \d+/, 'cost = 77777'));
	const { id } = await post(calm, '/p/skerry/api/layers', { do: 'version', layer: layer!.id });
	await until(calm, id, done);
	// The bytes of one file and what it says; nothing else is new.
	expect(facts() - before).toBe(2);
	const count = async () => JSON.parse(await get(calm, '/p/skerry/api/find?q=77777')).total;
	expect(await count()).toBe(0);
	const [other] = JSON.parse(await get(calm, '/p/skerry/api/layers')) as { id: string }[];
	await post(calm, '/p/skerry/api/layers', { do: 'use', layer: other!.id });
	expect(await count()).toBe(1);
	await post(calm, '/p/skerry/api/layers', { do: 'use', layer: layer!.id });
	expect(await count()).toBe(0);

	// Compared with its source, the base says what differs, and since when it is known.
	const verify = async () => {
		const work = await post(calm, '/p/skerry/api/layers', { do: 'verify', layer: layer!.id });
		await until(calm, work.id, done);
		const [row] = await query<{ differs: { path: string; what: string; since: string }[] }>(
			calm,
			'select differs from verifications where layer = $1 order by id desc limit 1',
			[layer!.id]
		);
		return row!.differs;
	};
	const first = await verify();
	expect(first).toMatchObject([{ path: 'data/engine/0001.ini', what: 'changed' }]);
	rmSync(join(folder, 'read-me.md'));
	const second = await verify();
	expect(second.map(({ path, what }) => [path, what])).toEqual([
		['data/engine/0001.ini', 'changed'],
		['read-me.md', 'missing']
	]);
	expect(second[0]!.since).toBe(first[0]!.since);
	expect(second[1]!.since > first[0]!.since).toBe(true);
	writeFileSync(changed, text);
	writeFileSync(join(folder, 'read-me.md'), '# Skerry Watch\n\nA made-up game for measurements.\n');
	expect(await verify()).toEqual([]);
});

test('archives in archives are looked into, three levels deep; deeper ones are files', async () => {
	const deep = (levels: number): Uint8Array =>
		zipSync({
			[`at-${levels}.csv`]: strToU8(`id,load\ncart_${levels},${levels}\n`),
			...(levels < 5 ? { 'inner.zip': deep(levels + 1) } : {})
		});
	const nest = join(work, 'nest');
	mkdirSync(nest);
	writeFileSync(join(nest, 'outer.zip'), deep(1));
	writeFileSync(join(nest, 'broken.zip'), 'no archive');
	const { id } = await post(calm, '/api/import', { title: 'nest', folder: nest });
	const { project } = await until(calm, id, done);
	const rows = await query<{ path: string }>(
		calm,
		'select f.path from layer_files f join layers l on l.id = f.layer where l.project = $1 order by 1',
		[project]
	);
	expect(rows.map(({ path }) => path)).toEqual([
		'broken.zip',
		'outer.zip/at-1.csv',
		'outer.zip/inner.zip/at-2.csv',
		'outer.zip/inner.zip/inner.zip/at-3.csv',
		'outer.zip/inner.zip/inner.zip/inner.zip'
	]);
	expect(JSON.parse(await get(calm, `/p/${project}/api/find?q=cart_3`)).records[0]).toMatchObject({
		record: 'cart_3',
		file: 'outer.zip/inner.zip/inner.zip/at-3.csv'
	});
});
