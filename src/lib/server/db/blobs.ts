import type pg from 'pg';
import { readRows } from './copy';
import { db, type Queries } from './pool';

/** Keeps bytes under their digest; once only. */
export async function keepBlob(q: Queries, sha256: string, bytes: Uint8Array): Promise<void> {
	await q.query('insert into blobs (sha256, size, bytes) values ($1, $2, $3) on conflict do nothing', [
		sha256,
		bytes.length,
		Buffer.from(bytes)
	]);
}

/** Keys asked for at a time. */
const AT_ONCE = 200;

const HEX = /^[0-9a-f]{64}$/;

/** Bytes by key (both SHA-256 in hex), read by COPY: as the text of a query they would take many times the time. */
async function readBytes(
	q: Queries,
	table: 'blobs' | 'facts',
	column: 'sha256' | 'key',
	keys: string[]
): Promise<Map<string, Uint8Array>> {
	const found = new Map<string, Uint8Array>();
	const asked = keys.filter((key) => HEX.test(key));
	if (asked.length === 0) return found;
	const own = 'release' in q ? null : await db().connect();
	try {
		for (let at = 0; at < asked.length; at += AT_ONCE) {
			const list = asked.slice(at, at + AT_ONCE).map((key) => `'${key}'`);
			const rows = readRows(
				own ?? (q as pg.PoolClient),
				`select ${column}, bytes from ${table} where ${column} in (${list.join(', ')})`
			);
			for await (const [key, bytes] of rows) found.set(Buffer.from(key!).toString('latin1'), bytes!);
		}
	} finally {
		own?.release();
	}
	return found;
}

/** The bytes of each digest that is kept. */
export const readBlobs = (q: Queries, digests: string[]): Promise<Map<string, Uint8Array>> =>
	readBytes(q, 'blobs', 'sha256', digests);

/** What is kept of what files say, by key. */
export const readPackedFacts = (q: Queries, keys: string[]): Promise<Map<string, Uint8Array>> =>
	readBytes(q, 'facts', 'key', keys);

/** Those of some keys that are kept already. */
export async function knownKeys(q: Queries, table: 'blobs' | 'facts', keys: string[]): Promise<Set<string>> {
	const column = table === 'blobs' ? 'sha256' : 'key';
	const { rows } = await q.query<{ key: string }>(
		`select ${column} as key from ${table} where ${column} = any($1)`,
		[keys]
	);
	return new Set(rows.map(({ key }) => key));
}

/** Keeps what files say. */
export async function keepFacts(q: Queries, facts: ReadonlyMap<string, Uint8Array>): Promise<void> {
	for (const [key, bytes] of facts)
		await q.query('insert into facts (key, bytes) values ($1, $2) on conflict do nothing', [
			key,
			Buffer.from(bytes)
		]);
}
