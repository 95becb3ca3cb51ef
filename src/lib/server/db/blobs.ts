import type pg from 'pg';
import { readRows } from './copy';
import { db, transaction, type Queries } from './pool';

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

/** PostgreSQL's code for a lock that somebody else holds. */
const LOCKED = '55P03';

/**
 * Takes out those of some bytes that nothing names any more: no file of any layer, and no step of any ledger, which may
 * need them to be undone or done again. Where somebody writes files just now or an import runs, all stay: they do
 * no harm. Returns how many went; null where all stayed for that.
 */
export async function sweepBlobs(digests: readonly string[]): Promise<number | null> {
	try {
		return await transaction(async (client) => {
			// Nobody may come to name them between the look and the deed; and nobody is kept waiting for that.
			await client.query('lock table blobs, layer_files, ledger, imports in share row exclusive mode nowait');
			const running = await client.query("select from imports where state in ('waiting', 'working') limit 1");
			if (running.rowCount !== 0) return null;
			const { rowCount } = await client.query(
				`with named as (select sha256 from layer_files union select unnest(digests) from ledger)
				delete from blobs b where sha256 = any($1) and not exists (select from named n where n.sha256 = b.sha256)`,
				[digests]
			);
			return rowCount ?? 0;
		});
	} catch (error) {
		if ((error as { code?: string }).code === LOCKED) return null;
		throw error;
	}
}
