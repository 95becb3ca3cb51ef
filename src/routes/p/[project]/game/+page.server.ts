import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { inGamePage } from '$lib/server/views/in-game';

export const load = ({ params }) => show(async () => inGamePage(await modelOf(params.project)));
