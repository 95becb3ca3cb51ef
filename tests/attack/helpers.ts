// What the attacks share: how long they go on, a server that can be told where to die, and what must be true after it.
export { randomBy as randomFrom } from '../random';
import { createHash } from 'node:crypto';
import { chmodSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'vitest';
import { readPlan } from '$core/change';
import { freePort, startPostgres } from '../../scripts/postgres.mjs';
import { startApp, untilReady } from '../../scripts/serve.mjs';
import { query as ask } from '../interface/query';

/** Whether the attacks run at length (`npm run attack`) or bounded (`./kettle test`). */
export const LONG = process.env.ATTACK === 'long';

/** A count: bounded, and at length. */
export const times = (bounded: number, long: number): number => (LONG ? long : bounded);

/** Posts JSON to a server as its own page would. */
export function caller(address: string) {
	return (path: string, body: unknown): Promise<Response> =>
		fetch(address + path, {
			method: 'POST',
			headers: { 'content-type': 'application/json', origin: address },
			body: JSON.stringify(body)
		});
}

/** The digest of every file below a folder, by its path. */
export function digestsBelow(folder: string): Record<string, string> {
	const found: Record<string, string> = {};
	for (const entry of readdirSync(folder, { recursive: true }).map(String).sort()) {
		const path = join(folder, entry);
		if (statSync(path).isFile()) found[entry] = createHash('sha256').update(readFileSync(path)).digest('hex');
	}
	return found;
}

export { query as ask } from '../interface/query';

/** The files of my mod in the database, by path. */
export async function mineOf(url: string, slug: string): Promise<Record<string, string>> {
	const rows = await ask<{ path: string; sha256: string }>(
		url,
		"select path, sha256 from layer_files f join layers l on l.id = f.layer where l.project = $1 and l.owner = 'me' and l.beside_of is null order by path",
		[slug]
	);
	return Object.fromEntries(rows.map(({ path, sha256 }) => [path, sha256]));
}

/** The demo on a PostgreSQL of its own, which a test may kill. */
export async function withOwnDatabase() {
	const home = mkdtempSync(join(tmpdir(), 'kettle-cluster-'));
	// The user that PostgreSQL runs as must get to it.
	chmodSync(home, 0o755);
	const database = await startPostgres(home);
	const port = await freePort();
	const address = `http://127.0.0.1:${port}`;
	const app = startApp({ url: database.url, home, port, demo: true });
	await untilReady(port, app);
	return {
		database,
		app,
		address,
		post: caller(address),
		async stop(): Promise<void> {
			const ended = new Promise((done) => app.once('exit', done));
			app.kill('SIGTERM');
			await ended;
			await database.stop();
			rmSync(home, { recursive: true, force: true });
		}
	};
}

/**
 * Each applied step of a project begins where the one before it ended, and my mod's files are what the last of them left.
 * @param url of its database
 */
export async function ledgerAgrees(url: string, slug: string): Promise<void> {
	const rows = await ask<{ plan: string }>(
		url,
		"select plan from ledger where project = $1 and state = 'applied' order by id",
		[slug]
	);
	const last: Record<string, string | null> = {};
	for (const { plan } of rows)
		for (const { path, movedFrom = path, before, after } of readPlan(JSON.parse(plan)).changes) {
			if (movedFrom in last) expect(before).toBe(last[movedFrom]);
			if (movedFrom !== path) last[movedFrom] = null;
			last[path] = after;
		}
	const now = await mineOf(url, slug);
	for (const [path, digest] of Object.entries(last)) expect(now[path] ?? null).toBe(digest);
}
