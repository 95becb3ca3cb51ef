import { keptPlan, netChanges } from '$core/change';
import { spoiledBy } from '$core/guide';
import { modelOf } from '$lib/server/model';
import { readLedger } from '$lib/server/db/ledger';
import { show } from '$lib/server/answers';
import { db } from '$lib/server/db/pool';

/** Values of large steps that are sent; the plan says how many there are. */
const MOST_VALUES = 200;

export const load = ({ params, url }) =>
	show(async () => {
		const { stack } = await modelOf(params.project);
		const entries = await readLedger(db(), params.project);
		const [from, to] = ['from', 'to'].map((name) => Number(url.searchParams.get(name) ?? NaN));
		const between =
			Number.isFinite(from) && Number.isFinite(to)
				? netChanges(
						entries
							.filter(
								({ id, state }) =>
									state === 'applied' && id > Math.min(from!, to!) && id <= Math.max(from!, to!)
							)
							.reverse()
							.map(({ plan }) => plan)
					)
				: null;
		return {
			entries: entries.map((entry) => ({
				...entry,
				// What was asked for may be long, and the page does not show it.
				intention: entry.intention?.do ?? null,
				plan: { ...keptPlan(entry.plan), values: entry.plan.values.slice(0, MOST_VALUES) },
				count: entry.plan.values.length,
				spoiled: spoiledBy(
					stack.guide,
					entry.plan.changes.map(({ path }) => path)
				)
			})),
			between: between && {
				values: between.slice(0, 500),
				count: between.length,
				from: Math.min(from!, to!),
				to: Math.max(from!, to!)
			}
		};
	});
