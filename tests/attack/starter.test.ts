// The start command is killed at any moment: the rest goes with it or is taken over, and the next start has all that was
// acknowledged.
import { spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from 'vitest';
import { freePort } from '../../scripts/postgres.mjs';
import { caller, randomFrom, times } from './helpers';

const home = mkdtempSync(join(tmpdir(), 'kettle-starter-'));
// The user that PostgreSQL runs as must get to it.
chmodSync(home, 0o755);
const random = randomFrom(Number(process.env.ATTACK_SEED ?? 3));
let child: ChildProcess | null = null;

/** Starts the demo with the start command. @returns its address */
function begin(port: number): Promise<string> {
	const started = spawn('./kettle', ['demo'], {
		env: { ...process.env, KETTLE_HOME: home, PORT: String(port) },
		stdio: ['ignore', 'pipe', 'pipe']
	});
	child = started;
	return new Promise((done, failed) => {
		let said = '';
		for (const stream of [started.stdout, started.stderr])
			stream.on('data', (chunk) => {
				said += chunk;
				const ready = /ready: (http:\S+)\//.exec(said);
				if (ready) done(ready[1]!);
			});
		started.once('exit', () => failed(new Error(said)));
	});
}

async function end(signal: NodeJS.Signals): Promise<void> {
	if (!child || child.exitCode !== null || child.signalCode !== null) return;
	const ended = new Promise((done) => child!.once('exit', done));
	child.kill(signal);
	await ended;
}

/** Processes of this machine that name the folder, by what they are called with. */
const running = () =>
	readdirSync('/proc')
		.filter((name) => /^\d+$/.test(name))
		.flatMap((pid) => {
			try {
				const line = readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ').trim();
				return line.includes(home) ? [line] : [];
			} catch {
				return [];
			}
		});

afterAll(async () => {
	await end('SIGINT');
	rmSync(home, { recursive: true, force: true });
});

test(`the start command killed ${times(2, 20)} times under edits: nothing acknowledged is lost, no process stays`, async () => {
	const port = await freePort();
	const acknowledged = new Map<string, string>();
	/** What was asked and not answered: it may have been done or not. */
	const open = new Map<string, string>();
	for (let kill = 0; kill < times(2, 20); kill++) {
		const address = await begin(port);
		expect(address).toBe(`http://127.0.0.1:${port}`);
		const post = caller(address);
		// The first look loads the game; the kill is to fall into edits.
		expect((await fetch(`${address}/p/gannet-sound/api/ticket/vessel/launch_01`)).status).toBe(200);
		for (const [id, value] of acknowledged) {
			const ticket = (await (await fetch(`${address}/p/gannet-sound/api/ticket/vessel/${id}`)).json()) as {
				groups: { rows: { path: string; value: string }[] }[];
			};
			const now = ticket.groups.flatMap(({ rows }) => rows).find(({ path }) => path === 'seats')?.value;
			expect([value, open.get(id)], id).toContain(now);
			acknowledged.set(id, now!);
		}
		open.clear();
		let answered = 0;
		const clients = ['launch_01', 'launch_02', 'cutter_03'].map(async (id) => {
			for (let value = 2; ; value = (value % 30) + 1) {
				open.set(id, String(value));
				const answer = await post('/p/gannet-sound/api/apply', {
					intention: { do: 'set', kind: 'vessel', id, field: 'seats', value: String(value) }
				}).catch(() => null);
				if (answer === null) return;
				answered++;
				if (answer.ok) acknowledged.set(id, String(value));
				if (answer.status === 503) return;
			}
		});
		// At some moment in or between edits, however slow the machine is.
		const most = 3 + Math.floor(random() * 12);
		for (const since = Date.now(); answered < most; await new Promise((done) => setTimeout(done, 5)))
			expect(Date.now() - since).toBeLessThan(60_000);
		await new Promise((done) => setTimeout(done, random() * 150));
		await end('SIGKILL');
		await Promise.all(clients);
		// Half of the time the next start comes at once and finds the others still ending.
		if (kill % 2 === 0) continue;
		for (const since = Date.now(); running().length > 0; await new Promise((done) => setTimeout(done, 100)))
			if (Date.now() - since > 20_000) expect(running()).toEqual([]);
	}
	expect(acknowledged.size).toBeGreaterThan(0);
});
