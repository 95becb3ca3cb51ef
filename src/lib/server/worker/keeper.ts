import { fork, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { codeFolder } from '../settings';

/** Milliseconds after which the worker process starts where nothing was sent: the first pages go before. */
const LATE = 1500;

let child: ChildProcess | null = null;
let starting: NodeJS.Timeout | null = null;
let stopping = false;

/** Starts the worker process soon, for work that was left by others; what is sent starts it at once. */
export function startWorker(): void {
	starting = setTimeout(startNow, LATE);
}

/** Starts the worker process, and another whenever it ends by itself. */
function startNow(): void {
	if (starting) clearTimeout(starting);
	starting = null;
	const started = fork(join(codeFolder(), 'build/worker.js'), {
		stdio: ['ignore', 'inherit', 'inherit', 'ipc']
	});
	child = started;
	started.once('exit', () => {
		if (!stopping) setTimeout(startNow, 300);
	});
}

/** Tells the worker process that there is work. */
export function wakeWorker(): void {
	if (starting) startNow();
	else if (child?.connected) child.send('look', () => undefined);
}

/** Ends the worker process; what it was doing is taken up at the next start. */
export async function stopWorker(): Promise<void> {
	stopping = true;
	if (starting) clearTimeout(starting);
	if (!child || child.exitCode !== null || child.signalCode !== null) return;
	const ended = new Promise((done) => child!.once('exit', done));
	child.disconnect();
	const late = setTimeout(() => child?.kill('SIGKILL'), 2000);
	await ended;
	clearTimeout(late);
}
