import { fork, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { importWaits, releaseImports } from '../db/imports';
import { db } from '../db/pool';
import { codeFolder } from '../settings';
import { giveWay } from './polite';

/** Milliseconds between two looks for work that nobody of this server asked for, while it has no worker process. */
const LOOK = 500;

/** Milliseconds within which a second worker that dies is not followed at once: the work itself may be what ends it. */
const AGAIN = 20_000;

let died = -Infinity;
let child: ChildProcess | null = null;
let looking: NodeJS.Timeout | null = null;

/**
 * Looks after the worker process: it is started when there is work, also such as was left by others, and again when it
 * ended in the middle of it. Without work there is none.
 */
export function startWorker(): void {
	looking = setTimeout(() => {
		void Promise.resolve(child !== null || importWaits(db()))
			// A database that is away comes back.
			.catch(() => false)
			.then((is) => {
				if (looking === null) return;
				if (is && child === null) startNow();
				startWorker();
			});
	}, LOOK);
}

function startNow(): void {
	const name = randomUUID();
	const started = fork(join(codeFolder(), 'build/worker.js'), [name], {
		stdio: ['ignore', 'inherit', 'inherit', 'ipc']
	});
	child = started;
	if (started.pid !== undefined) giveWay(started.pid);
	const over = () => {
		if (child === started) child = null;
	};
	// One that could not be started is tried again with the next look.
	started.once('exit', (code) => {
		over();
		if (code !== 0) follow(name);
	});
	started.once('error', (fault) => {
		console.error(`The worker process: ${fault.message}`);
		over();
	});
}

/** Frees what a worker that died was at, and starts the next one; where one dies after the other, that takes its time. */
function follow(name: string): void {
	const [now, before] = [performance.now(), died];
	died = now;
	if (looking === null || now - before < AGAIN) return;
	releaseImports(db(), name).then(wakeWorker, () => undefined);
}

/** Tells the worker process that there is work. */
export function wakeWorker(): void {
	if (looking === null) return;
	if (child === null) startNow();
	else if (child.connected) child.send('look', () => undefined);
}

/** Ends the worker process; what it was doing is taken up at the next start. */
export async function stopWorker(): Promise<void> {
	if (looking) clearTimeout(looking);
	looking = null;
	const last = child;
	if (last === null || last.exitCode !== null || last.signalCode !== null) return;
	const ended = new Promise((done) => last.once('exit', done));
	if (last.connected) last.disconnect();
	const late = setTimeout(() => last.kill('SIGKILL'), 2000);
	await ended;
	clearTimeout(late);
}
