import { answer, bodyOf } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { throwSchema, tryOn } from '$lib/server/throws';

/** Tries a function of the scripts, with my mod and without; nothing is written. */
export const POST = ({ params, request }) =>
	answer(async () => tryOn(await modelOf(params.project), await bodyOf(request, throwSchema)));
