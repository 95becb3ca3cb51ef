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

/** The bytes of each digest that is kept, read by COPY: as the text of a query they would take many times the time. */
export async function readBlobs(q: Queries, digests: string[]): Promise<Map<string, Uint8Array>> {
	const found = new Map<string, Uint8Array>();
	const asked = digests.filter((digest) => HEX.test(digest));
	if (asked.length === 0) return found;
	const own = 'release' in q ? null : await db().connect();
	try {
		for (let at = 0; at < asked.length; at += AT_ONCE) {
			const list = asked.slice(at, at + AT_ONCE).map((digest) => `'${digest}'`);
			const rows = readRows(
				own ?? (q as pg.PoolClient),
				`select sha256, bytes from blobs where sha256 in (${list.join(', ')})`
			);
			for await (const [digest, bytes] of rows) found.set(Buffer.from(digest!).toString('latin1'), bytes!);
		}
	} finally {
		own?.release();
	}
	return found;
}

/** Those of some digests whose bytes are kept already. */
export async function knownBlobs(q: Queries, digests: string[]): Promise<Set<string>> {
	const { rows } = await q.query<{ sha256: string }>('select sha256 from blobs where sha256 = any($1)', [
		digests
	]);
	return new Set(rows.map(({ sha256 }) => sha256));
}
