import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { tablePageOf } from '$lib/server/views/table-page';

export const load = ({ params, url }) =>
	show(async () => tablePageOf(await modelOf(params.project), params.kind, url));
