import pg from 'pg';

/** Connections: some for reading, some for transactions. */
const READERS = 8;
const WRITERS = 8;

/**
 * Connections for reading that stay open. To make one takes several exchanges with the server, and each of them waits for
 * whatever long work has the thread.
 */
const KEPT = 4;

/** Milliseconds after which a wait is given up: for a connection, for a lock, for one statement, in a transaction. */
const WAITS = { connection: 15_000, lock: 30_000, statement: 180_000, idle: 180_000 };

const pools = new Map<'readers' | 'writers', pg.Pool>();

const broken = (error: Error) => console.error(`database: ${error.message}`);

/** The address of the database. @throws where none is set */
export function databaseUrl(): string {
	const url = process.env.DATABASE_URL;
	if (!url) throw new Error('DATABASE_URL is not set; start with ./kettle demo or ./kettle serve.');
	return url;
}

function poolOf(name: 'readers' | 'writers'): pg.Pool {
	let pool = pools.get(name);
	if (!pool) {
		pool = new pg.Pool({
			connectionString: databaseUrl(),
			max: name === 'readers' ? READERS : WRITERS,
			min: name === 'readers' ? KEPT : 0,
			connectionTimeoutMillis: WAITS.connection,
			statement_timeout: WAITS.statement,
			lock_timeout: WAITS.lock,
			idle_in_transaction_session_timeout: WAITS.idle
		});
		// A connection that breaks is replaced by the pool; it must not end the server, idle or in use.
		pool.on('error', broken);
		pool.on('connect', (client) => client.on('error', broken));
		pools.set(name, pool);
	}
	return pool;
}

/**
 * The connections for reading and for single statements. Transactions have others: however many of them wait for one
 * lock, whoever holds it can still read.
 */
export const db = (): pg.Pool => poolOf('readers');

/** Makes the connections that stay open, before anybody waits for one. Where one fails, whoever asks for it is told. */
export async function connectAhead(): Promise<void> {
	const made = await Promise.allSettled(Array.from({ length: KEPT }, () => db().connect()));
	for (const one of made) if (one.status === 'fulfilled') one.value.release();
}

/** Runs `work` in one transaction: all of it is kept, or nothing. */
export async function transaction<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
	const client = await poolOf('writers').connect();
	let fault: Error | undefined;
	try {
		await client.query('begin');
		const result = await work(client);
		await client.query('commit');
		return result;
	} catch (error) {
		await client.query('rollback').catch((lost: Error) => (fault = lost));
		throw error;
	} finally {
		// A connection that cannot even roll back is not used again.
		client.release(fault);
	}
}

/** Closes all connections. */
export async function closeDatabase(): Promise<void> {
	await Promise.allSettled([...pools.values()].map((pool) => pool.end()));
	pools.clear();
}

/** Codes of PostgreSQL and of the system for a server that is going, gone or coming. */
const AWAY = /^(?:57P0[1-4]|08\w{3}|53300|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|ENOTFOUND|25P03)$/;
const AWAY_WORDS =
	/Connection terminated|timeout exceeded when trying to connect|Client has encountered a connection error|not queryable|Connection ended unexpectedly/i;

/** Whether a fault means that the database cannot be reached at the moment. */
export function isAway(fault: unknown): boolean {
	if (!(fault instanceof Error)) return false;
	const { code } = fault as { code?: string };
	if ((code !== undefined && AWAY.test(code)) || AWAY_WORDS.test(fault.message)) return true;
	// Several addresses of one name were tried.
	return fault instanceof AggregateError && fault.errors.some(isAway);
}

/** Whether somebody else held something for too long, or a statement took too long. */
export const isBusy = (fault: unknown): boolean =>
	['55P03', '57014', '40001', '40P01'].includes((fault as { code?: string })?.code ?? '');

/** Anything that can run a query: the pool or one connection of it. */
export type Queries = Pick<pg.PoolClient, 'query'>;
