import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { alikeOf } from '$lib/server/views/relations';

/** The records most like one. */
export const GET = ({ params }) =>
	answer(async () => alikeOf(await modelOf(params.project), params.kind, params.id));
