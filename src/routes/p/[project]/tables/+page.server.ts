import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { kindsOf } from '$lib/server/views/table';

export const load = ({ params }) => show(async () => ({ kinds: kindsOf(await modelOf(params.project)) }));
