import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { readingOf } from '$lib/server/views/reading';

export const load = ({ params }) =>
	show(async () => ({ reading: readingOf(await modelOf(params.project), params.layer, params.path) }));
