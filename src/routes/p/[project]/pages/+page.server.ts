import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { pagesPage } from '$lib/server/views/pages';

export const load = ({ params }) => show(async () => pagesPage(await modelOf(params.project)));
