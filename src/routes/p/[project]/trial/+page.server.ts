import { heldAgainst } from '$core/checks';
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
		const lines = shown ? readLog(model, shown.log) : [];
		const refused = lines.filter(({ refusal }) => refusal);
		const held = shown?.foretold ? heldAgainst(refused, shown.foretold) : null;
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
						lines: lines.map((line) => ({
							...line,
							foretold: !line.refusal || !held ? null : held.by[refused.indexOf(line)] !== null
						})),
						held: held && {
							foretold: held.by.filter((snag) => snag !== null).length,
							unseen: held.unseen.map(({ kind, record, message }) => ({ kind, record, message }))
						}
					}
				: null
		};
	});
