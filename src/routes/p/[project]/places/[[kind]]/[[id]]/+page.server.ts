import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { mapPageOf } from '$lib/server/views/map';

export const load = ({ params }) =>
	show(async () => ({ page: mapPageOf(await modelOf(params.project), params.kind, params.id) }));
