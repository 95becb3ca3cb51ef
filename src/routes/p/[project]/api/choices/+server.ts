import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { choicesFor } from '$lib/server/views/ticket';

/** The records that fit a reference field; of many, those that answer the words typed. */
export const GET = ({ params, url }) =>
	answer(async () => {
		const said = (name: string) => (url.searchParams.get(name) ?? '').slice(0, 500);
		return choicesFor(await modelOf(params.project), said('kind'), said('field'), said('q'), said('like'));
	});
