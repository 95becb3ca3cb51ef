import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { mustNotNarrow } from '$lib/server/narrow';
import { runTrial } from '$lib/server/trial';

/** Installs the pack after a backup and starts the game. */
export const POST = ({ params, request }) =>
	answer(async () => {
		mustNotNarrow(params.project);
		return { trial: await runTrial(await modelOf(params.project), request.signal) };
	});
