import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { mustNotBeBorrowed } from '$lib/server/borrowed';
import { runTrial } from '$lib/server/trial';

/** Installs the pack after a backup and starts the game. */
export const POST = ({ params, request }) =>
	answer(async () => {
		mustNotBeBorrowed(params.project);
		return { trial: await runTrial(await modelOf(params.project), request.signal) };
	});
