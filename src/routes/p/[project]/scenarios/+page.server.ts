import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { scenariosPage } from '$lib/server/scenarios';

export const load = ({ params }) => show(async () => scenariosPage(await modelOf(params.project)));
