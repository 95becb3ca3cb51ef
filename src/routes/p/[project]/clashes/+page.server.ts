import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { clashesPage } from '$lib/server/views/clashes';

export const load = ({ params, url }) =>
	show(async () => clashesPage(await modelOf(params.project), url.searchParams));
