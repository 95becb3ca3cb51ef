import { show } from '$lib/server/answers';
import { identityPage } from '$lib/server/identity';
import { modelOf } from '$lib/server/model';

export const load = ({ params }) => show(async () => identityPage(await modelOf(params.project)));
