import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { chainsOf } from '$lib/server/views/chains';

export const load = ({ params }) =>
	show(async () => ({ chains: chainsOf(await modelOf(params.project), params.kind, params.field) }));
