import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { choicesFor } from '$lib/server/views/ticket';

/** The records that fit a reference field. */
export const GET = ({ params, url }) =>
	answer(async () =>
		choicesFor(
			await modelOf(params.project),
			url.searchParams.get('kind') ?? '',
			url.searchParams.get('field') ?? ''
		)
	);
