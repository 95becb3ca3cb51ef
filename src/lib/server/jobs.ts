// Long work, of which the rows of `imports` are the queue: any worker of any server takes the next one, writes down that
// it is alive, and loses it to another when it has ended or falls silent.
import { claimImport } from './db/imports';
import { db, isAway } from './db/pool';

let afterSending: () => void = () => undefined;

/** Tells the worker of this server that something was put into the queue. */
export const tellWorker = (): void => afterSending();

/** Has `then` called whenever something was put into the queue. */
export function onSend(then: () => void): void {
	afterSending = then;
}

/** Milliseconds between two looks into the queue: what other servers put there is found by looking. */
const LOOK = 500;

/** Milliseconds without work after which a worker ends: the server starts another when there is some. */
const IDLE = 60_000;

let lookNow: () => void = () => undefined;

/** Looks into the queue at once. */
export const look = (): void => lookNow();

/**
 * Takes work from the queue, one after the other, until there has been none for a while.
 * @param worker under which name
 */
export async function workOn(
	worker: string,
	run: (id: string, worker: string) => Promise<void>
): Promise<void> {
	for (let last = Date.now(); Date.now() - last < IDLE;) {
		const woken = new Promise<void>((done) => {
			lookNow = done;
			setTimeout(done, LOOK);
		});
		try {
			const id = await claimImport(db(), worker);
			if (id !== null) {
				await run(id, worker);
				last = Date.now();
				continue;
			}
		} catch (fault) {
			// A database that is away comes back; any other fault must not end the work of others.
			if (!isAway(fault)) console.error(`imports: ${fault instanceof Error ? fault.message : fault}`);
		}
		await woken;
	}
}
