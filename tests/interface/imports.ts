import type { Server } from './helpers';

/** How far an import is, as the server tells it. */
export interface State {
	state: string;
	files_done: number;
	files_total: number;
	message: string | null;
	project: string | null;
}

/** Sends a request as the pages do; its answer. */
export async function post(
	server: Server,
	path: string,
	body: unknown
): Promise<{ id: string; message?: string }> {
	const answer = await fetch(server.address + path, {
		method: 'POST',
		headers: { 'content-type': 'application/json', origin: server.address },
		body: JSON.stringify(body)
	});
	return answer.json();
}

/** The state of an import; empty while the server is away. */
export async function stateOf(server: Server, id: string): Promise<State> {
	const answer = await fetch(`${server.address}/imports/${id}`).catch(() => null);
	return ((await answer?.json().catch(() => null)) ?? {}) as State;
}

/** Waits until an import is where a test wants it. @throws where it failed or was cancelled, with its message */
export async function until(server: Server, id: string, there: (now: State) => boolean): Promise<State> {
	let now = await stateOf(server, id);
	for (let tries = 0; tries < 6000; tries++) {
		if (there(now)) return now;
		if (['failed', 'cancelled'].includes(now.state)) throw new Error(`${now.state}: ${now.message}`);
		await new Promise((done) => setTimeout(done, 20));
		now = await stateOf(server, id);
	}
	throw new Error(`The import did not get there: ${JSON.stringify(now)}`);
}

/** Some of it is done, and some is left. */
export const underWay = (now: State): boolean => now.files_done > 40 && now.files_done < now.files_total - 40;

/** It is brought in. */
export const done = (now: State): boolean => now.state === 'done';
