// The worker is killed at marked places of an import: nothing is half there, and the next one brings in the same.
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { startServer, type Server } from '../interface/helpers';
import { ask, caller, times } from './helpers';

const work = mkdtempSync(join(tmpdir(), 'kettle-imports-'));
let server: Server;
let post: ReturnType<typeof caller>;
let undisturbed: Awaited<ReturnType<typeof brought>>;

beforeAll(async () => {
	// Enough files for several batches on the way at a time.
	for (let nth = 0; nth < 400; nth++) {
		mkdirSync(join(work, `data/${nth % 7}`), { recursive: true });
		writeFileSync(
			join(work, `data/${nth % 7}/buoy_${nth}.json`),
			JSON.stringify({ id: `buoy_${nth}`, light: nth % 40, next: `buoy_${(nth + 1) % 400}` })
		);
	}
	server = await startServer({ demo: false, roots: work });
	post = caller(server.address);
	await over(await begin());
	undisturbed = await brought();
	expect(undisturbed).toHaveLength(400);
});
afterAll(async () => {
	await server.stop();
	rmSync(work, { recursive: true });
});

async function begin(): Promise<string> {
	const answer = await post('/api/import', { title: 'buoys', folder: work });
	expect(answer.status, await answer.clone().text()).toBe(200);
	return ((await answer.json()) as { id: string }).id;
}
const stateOf = async (id: string) =>
	(
		await ask<{ state: string; message: string | null; worker: string | null }>(
			server.url,
			'select state, message, worker from imports where id = $1',
			[id]
		)
	)[0]!;

/** Waits until something is so. */
async function until(so: () => Promise<boolean>): Promise<void> {
	for (const since = Date.now(); !(await so()); await new Promise((done) => setTimeout(done, 30)))
		if (Date.now() - since > 60_000) throw new Error('It did not come to that within a minute.');
}
const over = (id: string) =>
	until(async () => {
		const { state, message } = await stateOf(id);
		expect([state, message]).not.toEqual(['failed', expect.anything()]);
		return state === 'done';
	});

/** What an import put in place, and whether its bytes are there. */
const brought = () =>
	ask<{ path: string; sha256: string; whole: boolean }>(
		server.url,
		'select path, f.sha256, octet_length(b.bytes) = f.size as whole from layer_files f join layers l on l.id = f.layer left join blobs b on b.sha256 = f.sha256 where l.owner = \'game\' order by path collate "C"'
	);
/** The worker process of the server; empty where there is none. */
const worker = () =>
	spawnSync('ps', ['--ppid', String(server.pid()), '-o', 'pid='], { encoding: 'utf8' }).stdout.trim();

const PLACES = ['batch-kept', 'before-import-commit', 'batch-read', 'import-committed'].slice(0, times(2, 4));

test(`the worker killed at ${PLACES.length} places of an import, ${times(1, 10)} times each: all of it is there, or none`, async () => {
	for (let round = 0; round < times(1, 10); round++)
		for (const place of PLACES) {
			await ask(server.url, 'delete from projects');
			await ask(server.url, 'delete from blobs');
			await server.end();
			rmSync(join(server.home, 'cache'), { recursive: true, force: true });
			process.env.KETTLE_FAIL = `${place}:${1 + (round % 3) * (place.startsWith('batch') ? 1 : 0)}`;
			await server.start().finally(() => delete process.env.KETTLE_FAIL);
			const id = await begin();
			// A worker took it, and died: the next one comes when it has been silent for a while.
			await until(async () => (await stateOf(id)).worker !== null);
			const first = worker();
			await until(async () => first === '' || worker() !== first);
			const there = await brought();
			const { state } = await stateOf(id);
			// One that goes on behind what was done may get to the end although it dies on the way again and again.
			if (there.length > 0) expect([there, state]).toEqual([undisturbed, 'done']);
			else expect(state).toBe('working');
			if (place === 'batch-read' || place === 'before-import-commit') expect(there, place).toEqual([]);
			await server.kill();
			await server.start();
			await over(id);
			expect(await brought(), place).toEqual(undisturbed);
			expect(await ask(server.url, 'select 1 from import_files')).toEqual([]);
			expect(await ask(server.url, 'select 1 from projects')).toHaveLength(1);
		}
});
