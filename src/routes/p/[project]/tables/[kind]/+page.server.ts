import { show } from '$lib/server/answers';
import { db } from '$lib/server/db/pool';
import { readViews } from '$lib/server/db/views';
import { besideRows, modelOf } from '$lib/server/model';
import { queryIn, kindsOf, placeIn, tableOf } from '$lib/server/views/table';

export const load = ({ params, url }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const asked = queryIn(url);
		const [kind, id] = (url.searchParams.get('ticket') ?? '').split(/\/(.*)/);
		return {
			table: tableOf(model, params.kind, asked),
			/** Where the record of the open ticket stands. */
			at: kind === params.kind && id ? placeIn(model, params.kind, asked, id) : -1,
			kinds: kindsOf(model),
			views: await readViews(db(), params.project, params.kind),
			layers: [
				...model.layers.filter(({ owner }) => owner !== 'me').map(({ id, title }) => ({ id, title })),
				...(await besideRows(model)).map(({ id, title, version }) => ({
					id,
					title: `${title}, ${version || 'kept beside'}`
				}))
			]
		};
	});
