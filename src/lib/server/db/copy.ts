// Bulk loads: COPY in its binary form, as PostgreSQL's manual describes it.
import { once } from 'node:events';
import type pg from 'pg';
import { from as copyFrom, to as copyTo } from 'pg-copy-streams';

/** A cell: bytes as they are, texts in UTF-8, null for nothing. */
export type Cell = Uint8Array | string | null;

const HEAD = Buffer.concat([Buffer.from('PGCOPY\n\xff\r\n\0', 'latin1'), Buffer.alloc(8)]);

function rowBytes(cells: readonly Cell[]): Uint8Array[] {
	const count = Buffer.alloc(2);
	count.writeInt16BE(cells.length);
	const parts: Uint8Array[] = [count];
	for (const cell of cells) {
		const length = Buffer.alloc(4);
		const bytes =
			cell === null
				? null
				: typeof cell === 'string'
					? Buffer.from(cell)
					: Buffer.from(cell.buffer, cell.byteOffset, cell.byteLength);
		length.writeInt32BE(bytes ? bytes.length : -1);
		parts.push(length);
		if (bytes) parts.push(bytes);
	}
	return parts;
}

/** Copies rows of text and bytea columns into a table. @throws when one of them is there already */
export async function copyRows(
	client: pg.ClientBase,
	table: string,
	columns: readonly string[],
	rows: Iterable<readonly Cell[]>
): Promise<void> {
	const stream = client.query(
		copyFrom(`copy ${table} (${columns.join(', ')}) from stdin with (format binary)`)
	);
	const done: Promise<void> = new Promise((resolve, reject) =>
		stream.once('finish', () => resolve()).once('error', reject)
	);
	// A fault is waited for at the end; without this it would end the process before.
	done.catch(() => undefined);
	stream.write(HEAD);
	for (const row of rows)
		for (const part of rowBytes(row))
			if (!stream.write(part)) await Promise.race([once(stream, 'drain'), done]);
	stream.end(Buffer.from([0xff, 0xff]));
	await done;
}

const TAKEN = '23505';

/** The same in a transaction, passing over rows whose key another one put there at the same time. */
export async function copyNew(
	client: pg.ClientBase,
	table: string,
	columns: readonly string[],
	rows: readonly (readonly Cell[])[]
): Promise<void> {
	await client.query('savepoint copying');
	try {
		await copyRows(client, table, columns, rows);
	} catch (fault) {
		if ((fault as { code?: string }).code !== TAKEN) throw fault;
		await client.query('rollback to savepoint copying');
		await client.query(`create temp table coming (like ${table}) on commit drop`);
		await copyRows(client, 'coming', columns, rows);
		await client.query(`insert into ${table} select * from coming on conflict do nothing`);
		await client.query('drop table coming');
	}
}

/** Bytes before the first row: signature, flags, length of an extension (none is sent). */
const HEAD_LENGTH = 19;

/** The rows of a query without parameters, as bytes. Each cell is a copy of its own. */
export async function* readRows(client: pg.ClientBase, text: string): AsyncGenerator<(Uint8Array | null)[]> {
	const stream = client.query(copyTo(`copy (${text}) to stdout with (format binary)`));
	const chunks: Buffer[] = [];
	for await (const chunk of stream) chunks.push(chunk as Buffer);
	const all = Buffer.concat(chunks);
	for (let at = HEAD_LENGTH; ;) {
		const count = all.readInt16BE(at);
		if (count < 0) return;
		at += 2;
		const cells: (Uint8Array | null)[] = [];
		for (let cell = 0; cell < count; cell++) {
			const length = all.readInt32BE(at);
			at += 4;
			cells.push(length < 0 ? null : new Uint8Array(all.subarray(at, at + length)));
			at += Math.max(0, length);
		}
		yield cells;
	}
}
