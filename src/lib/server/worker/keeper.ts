import { fork, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { codeFolder } from '../settings';

let child: ChildProcess | null = null;
let stopping = false;

/** Starts the worker process, and another whenever it ends by itself. */
export function startWorker(): void {
	const started = fork(join(codeFolder(), 'build/worker.js'), {
		stdio: ['ignore', 'inherit', 'inherit', 'ipc']
	});
	child = started;
	started.once('exit', () => {
		if (!stopping) setTimeout(startWorker, 300);
	});
}

/** Tells the worker process that there is work. */
export function wakeWorker(): void {
	if (child?.connected) child.send('look', () => undefined);
}

/** Ends the worker process; what it was doing is taken up at the next start. */
export async function stopWorker(): Promise<void> {
	stopping = true;
	if (!child || child.exitCode !== null || child.signalCode !== null) return;
	const ended = new Promise((done) => child!.once('exit', done));
	child.disconnect();
	const late = setTimeout(() => child?.kill('SIGKILL'), 2000);
	await ended;
	clearTimeout(late);
}
