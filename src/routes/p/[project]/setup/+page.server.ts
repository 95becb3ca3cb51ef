import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { setupOf } from '$lib/server/views/setup';

export const load = ({ params }) => show(async () => setupOf(await modelOf(params.project)));
