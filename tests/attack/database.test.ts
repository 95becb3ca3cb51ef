// The database is killed and started again under the server, its password is lost, its cluster is damaged: no edit that
// was acknowledged is lost, nothing is deleted, and all of it comes back by itself.
import { chmodSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { startPostgres } from '../../scripts/postgres.mjs';
import { ask, randomFrom, times, withOwnDatabase } from './helpers';

const random = randomFrom(5);
let own: Awaited<ReturnType<typeof withOwnDatabase>>;

beforeAll(async () => {
	own = await withOwnDatabase();
});
afterAll(() => own.stop());

const post = (path: string, body: unknown) => own.post(path, body);
const edit = (id: string, value: string) =>
	post('/p/gannet-sound/api/apply', { intention: { do: 'set', kind: 'vessel', id, field: 'seats', value } });

test(`PostgreSQL killed ${times(4, 100)} times under edits: each is done or refused with words, and all goes on`, async () => {
	const last = new Map<string, string[]>();
	let refused = 0;
	for (let kill = 0; kill < times(4, 100); kill++) {
		let going = true;
		const clients = ['tug_01', 'tug_02', 'tug_03', 'tug_04'].map(async (id) => {
			for (let value = 2; going; value = (value % 40) + 1) {
				const answer = await edit(id, String(value));
				if (answer.ok) last.set(id, [String(value)]);
				else {
					const { message } = (await answer.json()) as { message: string };
					// Whether a commit whose answer was cut off was done, nobody can say; all else is refused with words.
					if (answer.status === 503) {
						refused++;
						expect(message).toMatch(/database cannot be reached|still running/);
						last.set(id, [...(last.get(id) ?? []), String(value)]);
						await new Promise((done) => setTimeout(done, 50));
					} else expect([answer.status, message]).toEqual([422, expect.stringContaining('already')]);
				}
			}
		});
		await new Promise((done) => setTimeout(done, 200 + random() * 300));
		const signal = kill % 2 === 0 ? 'SIGKILL' : 'SIGQUIT';
		process.kill(own.database.pid()!, signal);
		await new Promise((done) => setTimeout(done, 400));
		// It comes back without anybody's doing.
		for (let tries = 0; ; tries++) {
			const answer = await edit('tug_05', String((kill % 30) + 1));
			if (answer.ok || answer.status === 422) break;
			expect(tries).toBeLessThan(600);
			await new Promise((done) => setTimeout(done, 100));
		}
		going = false;
		await Promise.all(clients);
	}
	expect(refused).toBeGreaterThan(0);
	for (const [id, values] of last) {
		const [step] = await ask<{ intention: string }>(
			own.database.url,
			"select intention from ledger where state = 'applied' and intention like $1 order by id desc limit 1",
			[`%"id":"${id}"%`]
		);
		expect(values).toContain((JSON.parse(step!.intention) as { value: string }).value);
	}
	// Pages that listened are told of changes again.
	const events = await fetch(`${own.address}/p/gannet-sound/api/events`);
	const reader = events.body!.getReader();
	const first = new TextDecoder().decode((await reader.read()).value);
	const version = Number(/data: (\d+)/.exec(first)![1]);
	for (let tries = 0; ; tries++) {
		expect((await edit('tug_06', String(10 + (tries % 9)))).status).toBe(200);
		const next = await Promise.race([
			reader.read(),
			new Promise<null>((done) => setTimeout(done, 1500, null))
		]);
		if (next && Number(/data: (\d+)/.exec(new TextDecoder().decode(next.value))?.[1] ?? 0) > version) break;
		expect(tries).toBeLessThan(10);
	}
	await reader.cancel();
});

test('twelve edits that wait for one lock do not starve the one that holds it', async () => {
	const answers = await Promise.all(
		Array.from({ length: 24 }, (_, nth) => edit(`launch_0${1 + (nth % 9)}`, String(3 + nth)))
	);
	for (const answer of answers) expect([200, 422]).toContain(answer.status);
	expect(answers.filter(({ status }) => status === 200).length).toBeGreaterThan(12);
	const notes = await Promise.all(
		Array.from({ length: 30 }, (_, nth) =>
			nth % 2 === 0
				? edit('launch_01', String(2 + nth))
				: post('/p/gannet-sound/api/notes', {
						on: { kind: 'vessel', record: 'tug_01' },
						nickname: `n${nth}`,
						note: ''
					})
		)
	);
	for (const answer of notes) expect([200, 422]).toContain(answer.status);
	expect(notes.filter(({ status }) => status === 200).length).toBeGreaterThan(12);
});

test('a cluster is never deleted: without its password it gets a new one, damaged it is left as it is', async () => {
	const other = mkdtempSync(join(tmpdir(), 'kettle-lost-'));
	// The user that PostgreSQL runs as must get to it.
	chmodSync(other, 0o755);
	try {
		let lost = await startPostgres(other, { throwaway: true });
		await ask(lost.url, 'create table kept (a int)');
		await ask(lost.url, 'insert into kept values (7)');
		await lost.stop();
		rmSync(join(other, 'postgres.secret'));
		lost = await startPostgres(other, { throwaway: true });
		expect(await ask(lost.url, 'select a from kept')).toEqual([{ a: 7 }]);
		await lost.stop();
		writeFileSync(join(other, 'postgres.secret'), 'not the password');
		await expect(startPostgres(other, { throwaway: true })).rejects.toThrow(/is not that of the database/);
		rmSync(join(other, 'postgres.secret'));
		const data = join(other, 'postgres/data');
		const files = readdirSync(data).length;
		rmSync(join(data, 'PG_VERSION'));
		await expect(startPostgres(other, { throwaway: true })).rejects.toThrow(/is not whole/);
		expect(readdirSync(data)).toHaveLength(files - 1);
	} finally {
		rmSync(other, { recursive: true, force: true });
	}
});
