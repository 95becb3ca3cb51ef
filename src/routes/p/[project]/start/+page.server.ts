import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { startPage } from '$lib/server/start';

export const load = ({ params }) => show(async () => startPage(await modelOf(params.project)));
