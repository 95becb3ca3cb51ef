import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { optionsPage } from '$lib/server/options';

export const load = ({ params }) => show(async () => optionsPage(await modelOf(params.project)));
