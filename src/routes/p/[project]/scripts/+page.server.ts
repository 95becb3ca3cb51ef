import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { scriptsPage } from '$lib/server/views/scripts';

export const load = ({ params }) => show(async () => scriptsPage(await modelOf(params.project)));
