import * as z from 'zod';
import { answer, bodyOf } from '$lib/server/answers';
import { tryCarried } from '$lib/server/carry';
import { modelOf } from '$lib/server/model';

/** Tries my mod in the folder of the new version as it is to be there; nothing of the project changes. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const { to } = await bodyOf(request, z.object({ to: z.string().regex(/^\d+$/) }));
		return tryCarried(await modelOf(params.project), to, request.signal);
	});
