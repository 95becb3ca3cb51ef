import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { compareOf, MOST_COMPARED } from '$lib/server/views/compare';

export const load = ({ params, url }) =>
	show(async () => ({
		comparison: await compareOf(await modelOf(params.project), url.searchParams.getAll('with')),
		most: MOST_COMPARED
	}));
