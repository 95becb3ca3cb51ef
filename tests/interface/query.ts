import pg from 'pg';

/** Runs one statement on a database. */
export async function query<T extends object>(
	url: string,
	text: string,
	values: unknown[] = []
): Promise<T[]> {
	const client = new pg.Client({ connectionString: url });
	await client.connect();
	try {
		return (await client.query<T>(text, values)).rows;
	} finally {
		await client.end();
	}
}
