import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { aroundOf } from '$lib/server/views/relations';

export const load = ({ params, url }) =>
	show(async () => {
		const depth = Math.min(4, Math.max(1, Number(url.searchParams.get('depth') ?? 1) || 1));
		return { around: aroundOf(await modelOf(params.project), params.kind, params.id, depth), depth };
	});
