import { heldAgainst, lessonFromTaken, lessonsFrom, type Lesson } from '$core/checks';
import { fieldOf } from '$core/guide';
import { bareLine } from '$core/narrow';
import { show } from '$lib/server/answers';
import { readTrials } from '$lib/server/db/trials';
import { db } from '$lib/server/db/pool';
import { modelOf } from '$lib/server/model';
import { readLog, type LogLine } from '$lib/server/game';
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
		const titled = (lesson: Lesson) => {
			const { kinds } = model.stack.guide;
			return {
				...lesson,
				other:
					'notBefore' in lesson.rule
						? (fieldOf(kinds[lesson.kind], lesson.rule.notBefore)?.title ?? lesson.rule.notBefore)
						: null,
				title: fieldOf(kinds[lesson.kind], lesson.field)?.title ?? lesson.field,
				kinds: ('kinds' in lesson.rule ? lesson.rule.kinds : []).map((one) =>
					(kinds[one]?.plural ?? kinds[one]?.title ?? one).toLowerCase()
				)
			};
		};
		/** A refusal without what differs from record to record and from start to start. */
		const sortOf = ({ kind, record, text }: LogLine) =>
			`${kind} ${bareLine(record === null ? text : text.replaceAll(record, '@').replace(/"[^"]*"|“[^”]*”/g, '""'))}`;
		const sortsBy = new Map<number, Set<string>>();
		const sortsOf = (trial: (typeof trials)[number]) => {
			let sorts = sortsBy.get(trial.id);
			if (!sorts) {
				const lines = readLog(model, trial.log).filter(({ refusal }) => refusal);
				sortsBy.set(trial.id, (sorts = new Set(lines.map(sortOf))));
			}
			return sorts;
		};
		/** In how many of the trials the game refused the same. */
		const seenIn = (line: LogLine) => trials.filter((trial) => sortsOf(trial).has(sortOf(line))).length;
		/** What a refusal that no snag foretold would have the guide say; of the newest trial only, whose state is at hand. */
		const lessonsOf = (line: LogLine) => {
			const { kind, record, text, refusal } = line;
			if (!refusal || !held || held.by[refused.indexOf(line)] || kind === null || record === null) return [];
			if (shown !== trials[0]) return [];
			const of = new Set(refused.flatMap((one) => (one.kind === kind && one.record ? [one.record] : [])));
			return lessonsFrom(model.stack, { kind, record, line: text }, of)
				.slice(0, 2)
				.map((lesson) => ({ ...titled(lesson), seen: seenIn(line) }));
		};
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
						took: shown.took,
						backup: shown.backup,
						files: shown.files.length,
						lines: lines.map((line) => ({
							...line,
							lessons: lessonsOf(line),
							foretold: !line.refusal || !held ? null : held.by[refused.indexOf(line)] !== null
						})),
						held: held && {
							foretold: held.by.filter((snag) => snag !== null).length,
							unseen: held.unseen.map((snag) => {
								const lesson = shown === trials[0] ? lessonFromTaken(model.stack, snag) : null;
								const { kind, record, message } = snag;
								return { kind, record, message, lesson: lesson && { ...titled(lesson), seen: 0 } };
							})
						}
					}
				: null
		};
	});
