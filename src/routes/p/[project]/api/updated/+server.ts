import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { updatedPage } from '$lib/server/views/updated';

/** What a version beside the base changed; with `mine=yes` what of it concerns my mod. */
export const GET = ({ params, url }) =>
	answer(async () =>
		updatedPage(
			await modelOf(params.project),
			url.searchParams.get('to') ?? '',
			url.searchParams.get('mine') === 'yes'
		)
	);
