import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { insidePage } from '$lib/server/views/inside';

export const load = ({ params }) => show(async () => insidePage(await modelOf(params.project), params.path));
