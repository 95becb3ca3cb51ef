import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { kindsOf, tableOf } from '$lib/server/views/table';

export const load = ({ params, url }) =>
	show(async () => {
		const model = await modelOf(params.project);
		return {
			table: tableOf(model, params.kind, {
				filter: url.searchParams.get('filter') ?? '',
				sort: url.searchParams.get('sort') ?? '',
				only: url.searchParams.get('only') === 'mine'
			}),
			kinds: kindsOf(model)
		};
	});
