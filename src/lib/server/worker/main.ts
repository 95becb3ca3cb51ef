// The process that carries out long work. The server starts it, and starts another when it ends; it ends with the server.
import { runImport } from '../imports';
import { look, workOn } from '../jobs';

/**
 * Ends at once, in the middle of whatever it does: what is done is written down, and the rest is taken up by the next.
 * Ending things one by one would make the work that runs look like a failure.
 */
const stop = () => process.exit(0);

process.on('message', look);
process.once('disconnect', stop);
process.once('SIGTERM', stop);
// Ctrl-C goes to the whole group; the server says when to end.
process.on('SIGINT', () => undefined);
// A channel that closed before anybody listened.
if (!process.connected) stop();

await workOn(runImport);
stop();
