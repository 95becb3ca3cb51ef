import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { guideIndex } from '$lib/server/views/guide';

export const load = ({ params, url }) =>
	show(async () => {
		const sort = url.searchParams.get('sort');
		const order = sort === 'name' || sort === 'records' ? sort : 'unsure';
		const filter = url.searchParams.get('kinds') ?? '';
		return { index: await guideIndex(await modelOf(params.project), { order, filter }) };
	});
