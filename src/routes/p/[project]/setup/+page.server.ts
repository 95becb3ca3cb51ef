import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { roots } from '$lib/server/settings';
import { setupOf } from '$lib/server/views/setup';

export const load = ({ params, url }) =>
	show(async () => ({
		...(await setupOf(await modelOf(params.project), (url.searchParams.get('files') ?? '').slice(0, 200))),
		roots: roots()
	}));
