import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { tryPage } from '$lib/server/throws';

export const load = ({ params }) => show(async () => tryPage(await modelOf(params.project), params.name));
