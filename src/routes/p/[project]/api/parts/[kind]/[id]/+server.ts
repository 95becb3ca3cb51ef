import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { partsFor } from '$lib/server/views/ticket';

/** What would come with a copy of a record, and what is wrong with an id for one. */
export const GET = ({ params, url }) =>
	answer(async () =>
		partsFor(await modelOf(params.project), params.kind, params.id, url.searchParams.get('new') ?? '')
	);
