import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { mapViewOf } from '$lib/server/views/map';

/** Everything that stands on a map. */
export const GET = ({ params }) =>
	answer(async () => mapViewOf(await modelOf(params.project), params.kind, params.id));
