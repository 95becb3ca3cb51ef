// A page that shows the rows of a kind.
import type { TablePageView } from '$core/views';
import { db } from '../db/pool';
import { readViews } from '../db/views';
import { besideRows, type Model } from '../model';
import { asOfView, layerIn, modelAsOf } from './as-of';
import { queryIn, kindsOf, placeIn, tableOf } from './table';

/** What an address asks of the rows of a kind, with all that is chosen among beside them. @throws NotThere */
export async function tablePageOf(model: Model, kind: string, url: URL): Promise<TablePageView> {
	const asked = queryIn(url);
	const shown = modelAsOf(model, layerIn(url));
	const [other, id] = (url.searchParams.get('ticket') ?? '').split(/\/(.*)/);
	return {
		table: tableOf(shown, kind, asked),
		asOf: asOfView(model, layerIn(url)),
		at: other === kind && id ? placeIn(shown, kind, asked, id) : -1,
		kinds: kindsOf(shown),
		views: await readViews(db(), model.project.slug, kind),
		layers: [
			...model.layers.filter(({ owner }) => owner !== 'me').map(({ id, title }) => ({ id, title })),
			...(await besideRows(model)).map(({ id, title, version }) => ({
				id,
				title: `${title}, ${version || 'kept beside'}`
			}))
		]
	};
}
