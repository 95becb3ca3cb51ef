// The start command itself: one address, and after Ctrl-C nothing is left running.
import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { freePort } from '../../scripts/postgres.mjs';

/** Command lines of all processes of this machine that name a folder. */
const running = (folder: string) =>
	readdirSync('/proc')
		.filter((name) => /^\d+$/.test(name))
		.map((pid) => {
			try {
				const read = (file: string) => readFileSync(`/proc/${pid}/${file}`, 'utf8').replaceAll('\0', ' ');
				return `${read('cmdline')} ${read('environ')}`;
			} catch {
				// It ended meanwhile, or belongs to somebody else.
				return '';
			}
		})
		.filter((line) => line.includes(folder));

test('serve prints one address that works; a second start says where the first one is; Ctrl-C ends all', async () => {
	const home = mkdtempSync(join(tmpdir(), 'kettle-serve-'));
	chmodSync(home, 0o755);
	const port = await freePort();
	const env = { ...process.env, KETTLE_HOME: home, PORT: String(port) };
	const child = spawn('./kettle', ['serve'], { env, stdio: ['ignore', 'pipe', 'pipe'] });
	let said = '';
	const ended = new Promise<number | null>((done) => child.once('exit', done));
	try {
		const address = await new Promise<string>((done, failed) => {
			child.stdout.on('data', (chunk) => {
				said += chunk;
				const match = /ready: (http:\S+)/.exec(said);
				if (match) done(match[1]!);
			});
			child.once('exit', () => failed(new Error(said)));
		});
		expect(address).toBe(`http://127.0.0.1:${port}/`);
		expect(await (await fetch(address)).text()).toContain('Import your game');
		expect(running(home).length).toBeGreaterThan(0);
		const second = spawn('./kettle', ['serve'], { env, stdio: ['ignore', 'ignore', 'pipe'] });
		let complaint = '';
		second.stderr.on('data', (chunk) => (complaint += chunk));
		expect(await new Promise((done) => second.once('exit', done))).toBe(2);
		expect(complaint).toContain(address);
	} finally {
		child.kill('SIGINT');
	}
	expect(await ended).toBe(0);
	expect(running(home)).toEqual([]);
	await expect(fetch(`http://127.0.0.1:${port}/ready`)).rejects.toThrow();
	rmSync(home, { recursive: true, force: true });
});
