import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { tablesOf } from '$lib/server/views/tables';

export const load = ({ params, url }) =>
	show(async () => tablesOf(await modelOf(params.project), url.searchParams));
