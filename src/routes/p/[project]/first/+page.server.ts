import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { firstOf } from '$lib/server/views/first';

export const load = ({ params }) => show(async () => ({ first: firstOf(await modelOf(params.project)) }));
