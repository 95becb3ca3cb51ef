import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { findIn, queryOf } from '$lib/server/views/find';

/** The best records for a query, for boxes that ask for one. */
export const GET = ({ params, url }) =>
	answer(async () => {
		const found = await findIn(await modelOf(params.project), {
			...queryOf(url.searchParams),
			group: 'record'
		});
		return {
			total: found.total,
			milliseconds: found.milliseconds,
			records: found.hits.slice(0, 20).map(({ kind, record, name, layer, file, line }) => ({
				kind,
				record,
				name,
				layer,
				file,
				line,
				kindTitle: found.titles[kind!] ?? kind
			}))
		};
	});
