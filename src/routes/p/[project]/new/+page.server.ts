import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { newFilePage } from '$lib/server/views/text';

export const load = ({ params, url }) =>
	show(async () => newFilePage(await modelOf(params.project), url.searchParams));
