import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { narrowPage } from '$lib/server/narrow';

export const load = ({ params, url }) =>
	show(async () => ({
		...(await narrowPage(await modelOf(params.project))),
		line: url.searchParams.get('line')
	}));
