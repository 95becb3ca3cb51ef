import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { findIn, queryOf } from '$lib/server/views/find';
import { kindsOf } from '$lib/server/views/table';

export const load = ({ params, url }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const query = queryOf(url.searchParams);
		return {
			query,
			found: query.q.trim() === '' ? null : await findIn(model, query),
			tries: model.project.tries ?? [],
			kinds: kindsOf(model)
		};
	});
