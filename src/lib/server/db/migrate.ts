import { createHash } from 'node:crypto';
import { transaction, type Queries } from './pool';

const files = import.meta.glob<string>('./migrations/*.sql', {
	query: '?raw',
	import: 'default',
	eager: true
});

/** The database is not one that this version can work with; says what to do. */
export class MigrationFault extends Error {}

/** A migration by its name, in order. */
interface Migration {
	name: string;
	sql: string;
	/** SHA-256 of its text. */
	sum: string;
}

const MIGRATIONS: readonly Migration[] = Object.keys(files)
	.sort()
	.map((path) => ({
		name: path.slice(path.lastIndexOf('/') + 1),
		sql: files[path]!,
		sum: createHash('sha256').update(files[path]!).digest('hex')
	}));

/**
 * Which migrations are still to be done.
 * @param done those that a database has, with their sums; null where they were done before sums were kept
 * @throws MigrationFault where a newer version wrote the database, or a migration is not the one that was done
 */
export function openMigrations(
	known: readonly Migration[],
	done: ReadonlyMap<string, string | null>
): Migration[] {
	const names = new Set(known.map(({ name }) => name));
	const newer = [...done.keys()].filter((name) => !names.has(name));
	if (newer.length > 0)
		throw new MigrationFault(
			`The database was written by a newer version of Kettle Dial (${newer.join(', ')}). Nothing has changed. Start that version, or restore the copy of the database from before it was updated.`
		);
	for (const { name, sum } of known) {
		const then = done.get(name);
		if (then !== undefined && then !== null && then !== sum)
			throw new MigrationFault(
				`The migration ${name} is not the one that the database was brought up to date with. Nothing has changed. Restore the file as it was released; a later change of the database needs a migration of its own.`
			);
	}
	return known.filter(({ name }) => !done.has(name));
}

async function doneIn(q: Queries): Promise<Map<string, string | null>> {
	await q.query(
		'create table if not exists migrations (name text primary key, at timestamptz not null default now())'
	);
	await q.query('alter table migrations add column if not exists sum text');
	const { rows } = await q.query<{ name: string; sum: string | null }>('select name, sum from migrations');
	return new Map(rows.map(({ name, sum }) => [name, sum]));
}

/**
 * Brings the database to the newest version: each numbered file once, in order, in one transaction.
 * @throws MigrationFault
 */
export async function migrate(): Promise<void> {
	await transaction(async (client) => {
		await client.query('select pg_advisory_xact_lock(727301)');
		const done = await doneIn(client);
		const open = openMigrations(MIGRATIONS, done);
		for (const { name, sql, sum } of open) {
			await client.query(sql);
			await client.query('insert into migrations (name, sum) values ($1, $2)', [name, sum]);
		}
		// Those that were done before sums were kept are held to them from now on.
		for (const { name, sum } of MIGRATIONS)
			if (done.get(name) === null)
				await client.query('update migrations set sum = $2 where name = $1', [name, sum]);
	});
}
