import { show } from '$lib/server/answers';
import { readArrangements } from '$lib/server/db/arrangements';
import { db } from '$lib/server/db/pool';
import { modelOf } from '$lib/server/model';
import { roots } from '$lib/server/settings';
import { orderView } from '$lib/server/views/clashes';
import { setupOf } from '$lib/server/views/setup';

export const load = ({ params, url }) =>
	show(async () => {
		const model = await modelOf(params.project);
		return {
			...(await setupOf(model, (url.searchParams.get('files') ?? '').slice(0, 200))),
			order: orderView(model),
			arrangements: await readArrangements(db(), params.project),
			roots: roots()
		};
	});
