// Tells open pages that a project changed, whichever process changed it.
import { EventEmitter } from 'node:events';
import pg from 'pg';
import { databaseUrl } from './db/pool';

const emitter = new EventEmitter().setMaxListeners(0);
let client: pg.Client | null = null;
let stopped = false;
/** Projects that somebody in this process listens for. */
const heard = new Map<string, number>();

/** Milliseconds between two tries to reach the database again. */
const AGAIN = 500;

async function connect(): Promise<void> {
	const next = new pg.Client({ connectionString: databaseUrl(), connectionTimeoutMillis: 5000 });
	const lost = () => {
		if (client !== next) return;
		client = null;
		void reconnect();
	};
	next.on('error', lost);
	next.on('end', lost);
	next.on('notification', ({ payload }) => payload && emitter.emit(payload));
	try {
		await next.connect();
		await next.query('listen kettle');
	} catch (fault) {
		await next.end().catch(() => undefined);
		throw fault;
	}
	client = next;
}

/** Listens again as soon as the database is back. What changed meanwhile was not told: every page looks for itself. */
async function reconnect(): Promise<void> {
	while (!stopped && !client) {
		await new Promise((done) => setTimeout(done, AGAIN).unref());
		await connect().catch(() => undefined);
	}
	for (const slug of heard.keys()) emitter.emit(slug);
}

/** Listens to what other processes tell of projects. */
export const startEvents = connect;

export async function stopEvents(): Promise<void> {
	stopped = true;
	const last = client;
	client = null;
	await last?.end().catch(() => undefined);
}

/** Tells open pages of this process that something beside the project changed: its linked folder. */
export const tellOutside = (slug: string): boolean => emitter.emit(`${slug} outside`);

/** Calls back whenever the linked folder of a project changed, until the returned function is called. */
export function onOutside(slug: string, callback: () => void): () => void {
	emitter.on(`${slug} outside`, callback);
	return () => emitter.off(`${slug} outside`, callback);
}

/** Calls back whenever the project changes, until the returned function is called. */
export function onChange(slug: string, callback: () => void): () => void {
	emitter.on(slug, callback);
	heard.set(slug, (heard.get(slug) ?? 0) + 1);
	return () => {
		emitter.off(slug, callback);
		const left = heard.get(slug)! - 1;
		if (left > 0) heard.set(slug, left);
		else heard.delete(slug);
	};
}
