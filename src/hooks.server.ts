import type { Handle, HandleServerError, ServerInit } from '@sveltejs/kit';
import { migrate } from '$lib/server/db/migrate';
import { db } from '$lib/server/db/pool';
import { startEvents, stopEvents } from '$lib/server/events';
import { onSend, startJobs, stopJobs } from '$lib/server/jobs';
import { afterStep, startLinks, stopLinks } from '$lib/server/linked';
import { onStep } from '$lib/server/plans';
import { NotThere } from '$lib/server/model';
import { stopReaders } from '$lib/server/readers';
import { seedDemo } from '$lib/server/seed';
import { startWorker, stopWorker, wakeWorker } from '$lib/server/worker/keeper';

/** Brings the database up to date, seeds the demo when asked to, and starts the process for long work. */
export const init: ServerInit = async () => {
	await migrate();
	await startEvents();
	await startJobs();
	if (process.env.KETTLE_DEMO) await seedDemo();
	startWorker();
	onSend(wakeWorker);
	onStep((slug) => void afterStep(slug));
	await startLinks();
	process.once('sveltekit:shutdown' as 'exit', () => {
		void Promise.allSettled([
			stopLinks(),
			stopWorker(),
			stopJobs(),
			stopEvents(),
			stopReaders(),
			db().end()
		]).then(() => process.exit(0));
	});
};

const LOCAL = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

const refuse = (message: string) =>
	new Response(JSON.stringify({ message }), { status: 403, headers: { 'content-type': 'application/json' } });

/**
 * Only this machine's own pages may talk to the server: the Host must be a loopback name (against names that are
 * pointed here from outside), and whatever changes something must come from a page of the same host.
 */
export const handle: Handle = async ({ event, resolve }) => {
	const host = event.request.headers.get('host') ?? '';
	if (!LOCAL.test(host)) return refuse('This server answers only to its own address on this machine.');
	const origin = event.request.headers.get('origin');
	const changes = !['GET', 'HEAD', 'OPTIONS'].includes(event.request.method);
	if (changes && origin !== `http://${host}`)
		return refuse('This call did not come from a page of this server.');
	const response = await resolve(event);
	response.headers.set('x-content-type-options', 'nosniff');
	response.headers.set('x-frame-options', 'DENY');
	response.headers.set('referrer-policy', 'same-origin');
	return response;
};

/** What people see of a fault: what is not there, or that something went wrong; never a stack. */
export const handleError: HandleServerError = ({ error, status, message }) => {
	if (error instanceof NotThere) return { message: error.message };
	if (status !== 404) console.error(error);
	return status === 404
		? { message: 'There is no page at this address.', advice: 'Go on from one of the stages above.' }
		: {
				message: message === 'Internal Error' ? 'The server could not do this. Nothing was changed.' : message
			};
};
