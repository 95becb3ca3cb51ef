import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { translatedBefore } from '$lib/server/views/languages';

/** How sentences like a text were translated before. */
export const GET = ({ params, url }) =>
	answer(async () => translatedBefore(await modelOf(params.project), url.searchParams.get('key') ?? ''));
