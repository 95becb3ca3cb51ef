import type { HandleServerError, ServerInit } from '@sveltejs/kit';
import { clearExports, keepEveryDay } from '$lib/server/archive';
import { migrate, MigrationFault } from '$lib/server/db/migrate';
import { closeDatabase, connectAhead } from '$lib/server/db/pool';
import { startEvents, stopEvents } from '$lib/server/events';
import { onSend } from '$lib/server/jobs';
import { afterStep, startLinks, stopLinks } from '$lib/server/linked';
import { boundMemory } from '$lib/server/memory';
import { settleBorrowed } from '$lib/server/borrowed';
import { settlePlays, stopPlays } from '$lib/server/scenarios';
import { settleNarrowings, stopNarrowings } from '$lib/server/narrow';
import { onStep } from '$lib/server/plans';
import { NotThere } from '$lib/server/faults';
import { stopReaders } from '$lib/server/model';
import { emptyCache } from '$lib/server/projects';
import { seedDemo } from '$lib/server/seed';
import { settleGames } from '$lib/server/trial';
import { startWorker, stopWorker, wakeWorker } from '$lib/server/worker/keeper';

/** Brings the database up to date, seeds the demo when asked to, and starts the process for long work. */
export const init: ServerInit = async () => {
	await migrate().catch((fault: unknown) => {
		if (!(fault instanceof MigrationFault)) throw fault;
		console.error(fault.message);
		process.exit(1);
	});
	await startEvents();
	await settleGames();
	await settleBorrowed();
	await settleNarrowings();
	await settlePlays();
	await clearExports();
	if (process.env.KETTLE_DEMO) await seedDemo();
	void connectAhead();
	startWorker();
	onSend(wakeWorker);
	onStep((slug) => void afterStep(slug));
	await startLinks();
	emptyCache();
	keepEveryDay();
	boundMemory();
	process.once('sveltekit:shutdown' as 'exit', () => {
		void Promise.allSettled([stopNarrowings(), stopPlays()])
			.then(() =>
				Promise.allSettled([stopLinks(), stopWorker(), stopEvents(), stopReaders(), closeDatabase()])
			)
			.then(() => process.exit(0));
	});
};

/** What people see of a fault: what is not there, or that something went wrong; never a stack. */
export const handleError: HandleServerError = ({ error, status, message }) => {
	if (error instanceof NotThere) return { message: error.message };
	if (status !== 404) console.error(error);
	return status === 404
		? {
				message: 'There is no page at this address.',
				advice: 'Check the address for typos, or choose a project.'
			}
		: {
				message: message === 'Internal Error' ? 'The server could not do this. Nothing has changed.' : message
			};
};
