// Long work as jobs in PostgreSQL, so that what a killed worker began is taken up again.
import PgBoss from 'pg-boss';

let boss: PgBoss | null = null;
let worker: string | null = null;
let afterSending: () => void = () => undefined;

/** Opens the queue, for sending. With `run` it is worked on, too. */
export async function startJobs(run?: (id: string) => Promise<void>): Promise<void> {
	boss = new PgBoss({ connectionString: process.env.DATABASE_URL!, schema: 'jobs', max: 4 });
	boss.on('error', (error) => console.error(`jobs: ${error.message}`));
	await boss.start();
	await boss.createQueue('import');
	if (!run) return;
	worker = await boss.work<{ id: string }>('import', { pollingIntervalSeconds: 0.5 }, async (jobs) => {
		for (const job of jobs) await run(job.data.id);
	});
}

/** Puts a job into the queue. */
export async function send(queue: 'import', id: string): Promise<void> {
	if (!boss) throw new Error('the job queue is not started');
	await boss.send(queue, { id });
	afterSending();
}

/** Has `then` called whenever something was put into the queue. */
export function onSend(then: () => void): void {
	afterSending = then;
}

/** Looks into the queue at once. */
export function lookNow(): void {
	if (worker) boss?.notifyWorker(worker);
}

export async function stopJobs(): Promise<void> {
	const last = boss;
	boss = null;
	worker = null;
	await last?.stop({ graceful: false }).catch(() => undefined);
}
