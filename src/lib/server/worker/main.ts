// The process that carries out long work. The server starts it, and starts another when it ends; it ends with the server.
import { randomUUID } from 'node:crypto';
import { releaseImports } from '../db/imports';
import { db } from '../db/pool';
import { runImport } from '../imports';
import { look, workOn } from '../jobs';

/** Milliseconds for which it may take to say that it has ended. */
const LAST_WORD = 1000;

/** What it is called in the queue; whoever starts it may say. */
const name = process.argv[2] ?? randomUUID();

/**
 * Ends in the middle of whatever it does, once it has let go of that: what is done is written down, and the rest is
 * taken up by the next. Ending things one by one would make the work that runs look like a failure.
 */
function stop(): void {
	setTimeout(() => process.exit(0), LAST_WORD);
	void releaseImports(db(), name)
		.catch(() => undefined)
		.then(() => process.exit(0));
}

process.on('message', look);
process.once('disconnect', stop);
process.once('SIGTERM', stop);
// Ctrl-C goes to the whole group; the server says when to end.
process.on('SIGINT', () => undefined);
// A channel that closed before anybody listened.
if (!process.connected) stop();

await workOn(name, runImport);
stop();
