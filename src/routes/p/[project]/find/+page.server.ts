import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { findIn, queryOf } from '$lib/server/views/find';
import { kindsOf } from '$lib/server/views/table';

export const load = ({ params, url }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const query = queryOf(url.searchParams);
		const found = query.q.trim() === '' ? null : await findIn(model, query);
		return {
			query,
			found,
			tries: found ? [] : (model.project.tries ?? []),
			kinds: found ? [] : kindsOf(model)
		};
	});
