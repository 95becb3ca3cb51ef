// Two servers and three workers on one database: the work is shared, and each import is carried out once.
import { fork, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { freePort } from '../../scripts/postgres.mjs';
import { startApp, untilReady } from '../../scripts/serve.mjs';
import { startServer, type Server } from './helpers';
import { query } from './query';

const work = mkdtempSync(join(tmpdir(), 'kettle-workers-'));
let first: Server;
let second: { address: string; child: ReturnType<typeof startApp> };
let third: ChildProcess;

beforeAll(async () => {
	for (let nth = 0; nth < 600; nth++) {
		mkdirSync(join(work, `data/${nth % 9}`), { recursive: true });
		writeFileSync(join(work, `data/${nth % 9}/mark_${nth}.json`), JSON.stringify({ id: `mark_${nth}`, nth }));
	}
	first = await startServer({ demo: false, roots: work });
	const port = await freePort();
	const child = startApp({ url: first.url, home: first.home, port, demo: false, roots: work });
	await untilReady(port, child);
	second = { address: `http://127.0.0.1:${port}`, child };
	third = fork('build/worker.js', {
		stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
		env: { ...process.env, DATABASE_URL: first.url, KETTLE_HOME: first.home }
	});
});
afterAll(async () => {
	third.kill('SIGKILL');
	const ended = new Promise((done) => second.child.once('exit', done));
	second.child.kill('SIGTERM');
	await ended;
	await first.stop();
	rmSync(work, { recursive: true });
});

test('imports asked of two servers are shared by three workers, each done once, under names of their own', async () => {
	const begin = async (address: string, nth: number) => {
		const answer = await fetch(`${address}/api/import`, {
			method: 'POST',
			headers: { 'content-type': 'application/json', origin: address },
			body: JSON.stringify({ title: 'Marks', folder: work })
		});
		expect(answer.status, `import ${nth}: ${await answer.clone().text()}`).toBe(200);
	};
	const COUNT = 18;
	await Promise.all(
		Array.from({ length: COUNT }, (_, nth) => begin(nth % 2 ? second.address : first.address, nth))
	);
	const rows = () =>
		query<{ state: string; worker: string; project: string }>(
			first.url,
			'select state, worker, project from imports'
		);
	await expect
		.poll(async () => (await rows()).map(({ state }) => state), { timeout: 120_000 })
		.toEqual(Array.from({ length: COUNT }, () => 'done'));
	const done = await rows();
	// All asked for the same title: each got a project of its own.
	expect(new Set(done.map(({ project }) => project)).size).toBe(COUNT);
	expect(await query(first.url, 'select 1 from projects')).toHaveLength(COUNT);
	expect(new Set(done.map(({ worker }) => worker)).size).toBe(3);
	const files = await query<{ count: string }>(
		first.url,
		'select count(*) from layer_files group by layer order by 1'
	);
	expect(new Set(files.map(({ count }) => Number(count)))).toEqual(new Set([600]));
});
