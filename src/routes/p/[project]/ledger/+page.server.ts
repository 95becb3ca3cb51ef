import { netChanges } from '$core/change';
import { readLedger } from '$lib/server/db/ledger';
import { db } from '$lib/server/db/pool';

/** Values of large steps that are sent; the plan says how many there are. */
const MOST_VALUES = 200;

export const load = async ({ params, url }) => {
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
			intention: entry.intention.do,
			plan: { ...entry.plan, values: entry.plan.values.slice(0, MOST_VALUES) },
			count: entry.plan.values.length
		})),
		between: between && {
			values: between.slice(0, 500),
			count: between.length,
			from: Math.min(from!, to!),
			to: Math.max(from!, to!)
		}
	};
};
