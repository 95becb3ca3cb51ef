import type { Queries } from './pool';

/** Keeps bytes under their digest; once only. */
export async function keepBlob(q: Queries, sha256: string, bytes: Uint8Array): Promise<void> {
	await q.query('insert into blobs (sha256, size, bytes) values ($1, $2, $3) on conflict do nothing', [
		sha256,
		bytes.length,
		Buffer.from(bytes)
	]);
}

/** The bytes of each digest that is kept. */
export async function readBlobs(q: Queries, digests: string[]): Promise<Map<string, Uint8Array>> {
	const { rows } = await q.query<{ sha256: string; bytes: Buffer }>(
		'select sha256, bytes from blobs where sha256 = any($1)',
		[digests]
	);
	return new Map(rows.map((row) => [row.sha256, new Uint8Array(row.bytes)]));
}
