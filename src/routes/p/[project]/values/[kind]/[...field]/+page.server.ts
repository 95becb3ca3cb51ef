import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { takenOf } from '$lib/server/views/relations';

export const load = ({ params, url }) =>
	show(async () => ({
		taken: takenOf(await modelOf(params.project), params.kind, params.field, {
			filter: url.searchParams.get('only') ?? '',
			withMine: url.searchParams.get('with') === 'mine'
		})
	}));
