// The process that carries out long work. The server starts it, and starts another when it ends; it ends with the server.
import { runImport, takeUpOrphans } from '../imports';
import { lookNow, startJobs, stopJobs } from '../jobs';
import { stopReaders } from '../readers';
import { db } from '../db/pool';

async function stop(): Promise<never> {
	await Promise.allSettled([stopJobs(), stopReaders(), db().end()]);
	process.exit(0);
}

process.on('message', lookNow);
process.once('disconnect', () => void stop());
process.once('SIGTERM', () => void stop());
// Ctrl-C goes to the whole group; the server says when to end.
process.on('SIGINT', () => undefined);
// A channel that closed before anybody listened.
if (!process.connected) await stop();

await startJobs(runImport);
await takeUpOrphans();
setInterval(
	() => void takeUpOrphans().catch((error: Error) => console.error(`imports: ${error.message}`)),
	2000
);
