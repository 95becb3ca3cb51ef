import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { mustNotBeBorrowed } from '$lib/server/borrowed';
import { readLog } from '$lib/server/game';
import { runTrial } from '$lib/server/trial';

/** Installs the pack after a backup and starts the game. */
export const POST = ({ params, request }) =>
	answer(async () => {
		mustNotBeBorrowed(params.project);
		const model = await modelOf(params.project);
		const { trial, status, log, milliseconds, took } = await runTrial(model, request.signal);
		const refused = readLog(model, log).filter(({ refusal }) => refusal);
		return {
			trial,
			status,
			clean: status === 0 && refused.length === 0,
			took: { ...took, start: milliseconds },
			refusals: refused.map(({ kind, record, text }) => ({ kind, record, text }))
		};
	});
