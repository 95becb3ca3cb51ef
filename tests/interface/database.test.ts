// Bytes in bulk: COPY in and out gives back what went in, also when two put the same there at once.
import { createHash } from 'node:crypto';
import fc from 'fast-check';
import pg from 'pg';
import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { knownBlobs, readBlobs } from '../../src/lib/server/db/blobs';
import { copyNew, copyRows, readRows } from '../../src/lib/server/db/copy';
import { MigrationFault, openMigrations } from '../../src/lib/server/db/migrate';

let client: pg.Client;
let other: pg.Client;

beforeAll(async () => {
	const admin = new pg.Client({ connectionString: inject('database') });
	await admin.connect();
	await admin.query(`create database copies_${process.pid}`);
	await admin.end();
	const url = new URL(inject('database'));
	url.pathname = `/copies_${process.pid}`;
	process.env.DATABASE_URL = url.href;
	client = new pg.Client({ connectionString: url.href });
	other = new pg.Client({ connectionString: url.href });
	await client.connect();
	await other.connect();
	await client.query(
		'create table blobs (sha256 text primary key, size bigint not null, bytes bytea not null)'
	);
	await client.query('create table pairs (name text, bytes bytea)');
});
afterAll(async () => {
	await client.end();
	await other.end();
	const { db } = await import('../../src/lib/server/db/pool');
	await db().end();
});

const digest = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
const rowOf = (bytes: Uint8Array) => {
	const size = Buffer.alloc(8);
	size.writeBigInt64BE(BigInt(bytes.length));
	return [digest(bytes), size, bytes] as const;
};

test('any rows come back as they were, nothing and empty ones too', async () => {
	const text = fc.string({ unit: 'grapheme' }).filter((name) => !name.includes('\0'));
	await fc.assert(
		fc.asyncProperty(
			fc.array(fc.tuple(fc.option(text), fc.option(fc.uint8Array({ maxLength: 300 }))), { maxLength: 12 }),
			async (rows) => {
				await client.query('truncate pairs');
				await copyRows(client, 'pairs', ['name', 'bytes'], rows);
				const back: [string | null, Uint8Array | null][] = [];
				for await (const [name, bytes] of readRows(client, 'select name, bytes from pairs'))
					back.push([name ? Buffer.from(name).toString('utf8') : null, bytes ?? null]);
				expect(back).toEqual(rows.map(([name, bytes]) => [name, bytes]));
			}
		),
		{ numRuns: 40 }
	);
});

test('a large piece comes back whole, by its digest, and what nobody has is not there', async () => {
	const large = new Uint8Array(9 * 2 ** 20).map((_, at) => (at * 31) % 251);
	const small = new Uint8Array([0, 255, 10]);
	await copyRows(client, 'blobs', ['sha256', 'size', 'bytes'], [rowOf(large), rowOf(small)]);
	const nobody = digest(new Uint8Array([1]));
	const found = await readBlobs(client, [digest(large), nobody, digest(small), "'; drop table blobs; --"]);
	expect([...found.keys()].sort()).toEqual([digest(large), digest(small)].sort());
	expect(Buffer.compare(found.get(digest(large))!, large)).toBe(0);
	expect(await knownBlobs(client, [digest(small), nobody])).toEqual(new Set([digest(small)]));
});

test('two that put the same bytes there at once both get through, and the bytes are there once', async () => {
	const same = rowOf(new Uint8Array([7, 7, 7]));
	const mine = rowOf(new Uint8Array([8]));
	const theirs = rowOf(new Uint8Array([9]));
	const columns = ['sha256', 'size', 'bytes'];
	await client.query('begin');
	await other.query('begin');
	await copyNew(client, 'blobs', columns, [same, mine]);
	// The second waits for the first to end, finds the key taken, and goes another way.
	const second = copyNew(other, 'blobs', columns, [theirs, same]);
	await new Promise((done) => setTimeout(done, 100));
	await client.query('commit');
	await second;
	await other.query('commit');
	const { rows } = await client.query('select sha256 from blobs where size in (1, 3) and sha256 = any($1)', [
		[same[0], mine[0], theirs[0]]
	]);
	expect(rows).toHaveLength(3);
	// Any other fault is told.
	await other.query('begin');
	await expect(copyNew(other, 'no_such_table', columns, [same])).rejects.toThrow(/no_such_table/);
	await other.query('rollback');
});

test('migrations are done once, held to what they were, and those of a newer version are refused', () => {
	const known = ['001_a.sql', '002_b.sql'].map((name) => ({ name, sql: '', sum: `sum of ${name}` }));
	const open = (done: [string, string | null][]) =>
		openMigrations(known, new Map(done)).map(({ name }) => name);
	expect(open([])).toEqual(['001_a.sql', '002_b.sql']);
	expect(open([['001_a.sql', 'sum of 001_a.sql']])).toEqual(['002_b.sql']);
	// Done before sums were kept.
	expect(open([['001_a.sql', null]])).toEqual(['002_b.sql']);
	expect(() => open([['001_a.sql', 'another']])).toThrow(MigrationFault);
	expect(() => open([['001_a.sql', 'another']])).toThrow(/001_a\.sql is not the one/);
	expect(() => open([['003_c.sql', 'new']])).toThrow(/newer version of Kettle Dial \(003_c\.sql\)/);
});
