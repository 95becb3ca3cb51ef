import pg from 'pg';

let pool: pg.Pool | null = null;

/** The connections to the database named by `DATABASE_URL`. */
export function db(): pg.Pool {
	const url = process.env.DATABASE_URL;
	if (!url) throw new Error('DATABASE_URL is not set; start with ./kettle demo or ./kettle serve.');
	if (!pool) {
		pool = new pg.Pool({ connectionString: url, max: 12 });
		// A connection that breaks while idle is replaced by the pool; it must not end the server.
		pool.on('error', (error) => console.error(`database: ${error.message}`));
	}
	return pool;
}

/** Runs `work` in one transaction: all of it is kept, or nothing. */
export async function transaction<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
	const client = await db().connect();
	try {
		await client.query('begin');
		const result = await work(client);
		await client.query('commit');
		return result;
	} catch (error) {
		await client.query('rollback').catch(() => undefined);
		throw error;
	} finally {
		client.release();
	}
}

/** Anything that can run a query: the pool or one connection of it. */
export type Queries = Pick<pg.PoolClient, 'query'>;
