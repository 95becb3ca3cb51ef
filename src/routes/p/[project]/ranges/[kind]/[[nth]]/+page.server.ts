import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { rangesOf } from '$lib/server/views/ranges';

export const load = ({ params }) =>
	show(async () => ({
		ranges: rangesOf(await modelOf(params.project), params.kind, Number(params.nth ?? 0))
	}));
