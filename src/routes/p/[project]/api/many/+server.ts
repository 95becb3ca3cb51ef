import { answer, bodyOf } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { manyOf, manySchema } from '$lib/server/views/many';

/** What one change would make of many records. Nothing is written. */
export const POST = ({ params, request }) =>
	answer(async () => manyOf(await modelOf(params.project), await bodyOf(request, manySchema)));
