// Tells open pages that a project changed, whichever process changed it.
import { EventEmitter } from 'node:events';
import pg from 'pg';

const emitter = new EventEmitter().setMaxListeners(0);
let client: pg.Client | null = null;

async function listen(): Promise<void> {
	const next = new pg.Client({ connectionString: process.env.DATABASE_URL! });
	next.on('error', () => {
		client = null;
		setTimeout(() => void listen().catch(() => undefined), 1000).unref();
	});
	next.on('notification', ({ payload }) => payload && emitter.emit(payload));
	await next.connect();
	await next.query('listen kettle');
	client = next;
}

export const startEvents = listen;

export async function stopEvents(): Promise<void> {
	await client?.end().catch(() => undefined);
	client = null;
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
	return () => emitter.off(slug, callback);
}
