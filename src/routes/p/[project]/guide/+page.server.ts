import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { guideIndex } from '$lib/server/views/guide';

export const load = ({ params }) =>
	show(async () => ({ index: await guideIndex(await modelOf(params.project)) }));
