import { identitySchema } from '$core/stack';
import { answer, bodyOf } from '$lib/server/answers';
import { identify } from '$lib/server/identity';

/** Says who my mod is. */
export const POST = ({ params, request }) =>
	answer(async () => ({ said: await identify(params.project, await bodyOf(request, identitySchema)) }));
