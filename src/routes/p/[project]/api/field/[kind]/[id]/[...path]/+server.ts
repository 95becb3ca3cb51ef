import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { fieldIn } from '$lib/server/views/ticket';

/** One field of a record, as its ticket shows it. */
export const GET = ({ params }) =>
	answer(async () => fieldIn(await modelOf(params.project), params.kind, params.id, params.path));
