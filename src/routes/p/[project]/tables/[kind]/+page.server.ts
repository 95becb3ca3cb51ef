import { show } from '$lib/server/answers';
import { db } from '$lib/server/db/pool';
import { readViews } from '$lib/server/db/views';
import { besideRows, modelOf } from '$lib/server/model';
import { asOfView, layerIn, modelAsOf } from '$lib/server/views/as-of';
import { queryIn, kindsOf, placeIn, tableOf } from '$lib/server/views/table';

export const load = ({ params, url }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const asked = queryIn(url);
		const asOf = asOfView(model, layerIn(url));
		const shown = modelAsOf(model, layerIn(url));
		const [kind, id] = (url.searchParams.get('ticket') ?? '').split(/\/(.*)/);
		return {
			table: tableOf(shown, params.kind, asked),
			asOf,
			/** Where the record of the open ticket stands. */
			at: kind === params.kind && id ? placeIn(shown, params.kind, asked, id) : -1,
			kinds: kindsOf(shown),
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
