import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { textPage } from '$lib/server/views/text';

export const load = ({ params, url }) =>
	show(async () => textPage(await modelOf(params.project), params.path, url.searchParams));
