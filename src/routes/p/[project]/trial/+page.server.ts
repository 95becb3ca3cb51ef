import { show } from '$lib/server/answers';
import { readTrials } from '$lib/server/db/trials';
import { db } from '$lib/server/db/pool';
import { modelOf } from '$lib/server/model';
import { readLog } from '$lib/server/game';
import { installedNow } from '$lib/server/trial';

export const load = ({ params, url }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const trials = await readTrials(db(), params.project);
		const wanted = Number(url.searchParams.get('trial'));
		const shown = trials.find((trial) => trial.id === wanted) ?? trials[0];
		const installed = await installedNow(params.project);
		return {
			installed: installed && { mod: installed.mod, backup: installed.backup },
			ready: model.project.launcher !== null && model.guide.install !== undefined,
			folder: model.project.launcher?.folder ?? null,
			trials: trials.map((trial) => {
				const lines = readLog(model, trial.log);
				return {
					id: trial.id,
					at: trial.at,
					status: trial.status,
					milliseconds: trial.milliseconds,
					refused: lines.filter((line) => line.refusal).length
				};
			}),
			shown: shown
				? {
						id: shown.id,
						at: shown.at,
						status: shown.status,
						milliseconds: shown.milliseconds,
						backup: shown.backup,
						files: shown.files.length,
						lines: readLog(model, shown.log)
					}
				: null
		};
	});
