import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { guideOfKind } from '$lib/server/views/guide';

export const load = ({ params }) =>
	show(async () => ({ about: guideOfKind(await modelOf(params.project), params.kind) }));
