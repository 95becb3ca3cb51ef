import { transaction } from './pool';

const files = import.meta.glob<string>('./migrations/*.sql', {
	query: '?raw',
	import: 'default',
	eager: true
});

/** Brings the database to the newest version: each numbered file once, in order, in one transaction. */
export async function migrate(): Promise<void> {
	await transaction(async (client) => {
		await client.query('select pg_advisory_xact_lock(727301)');
		await client.query(
			'create table if not exists migrations (name text primary key, at timestamptz not null default now())'
		);
		const { rows } = await client.query<{ name: string }>('select name from migrations');
		const done = new Set(rows.map((row) => row.name));
		for (const path of Object.keys(files).sort()) {
			const name = path.slice(path.lastIndexOf('/') + 1);
			if (done.has(name)) continue;
			await client.query(files[path]!);
			await client.query('insert into migrations (name) values ($1)', [name]);
		}
	});
}
