import { answer, bodyOf, show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { patchOfMine, patchSchema, patchView } from '$lib/server/views/patch';

/** What a patch would do; nothing is written. */
export const POST = ({ params, request }) =>
	answer(async () => patchView(await modelOf(params.project), await bodyOf(request, patchSchema)));

/** What my mod changes in files of others, or in one of them (`path`), as a patch to be kept. */
export const GET = ({ params, url }) =>
	show(async () => {
		const path = url.searchParams.get('path');
		const text = patchOfMine(await modelOf(params.project), path);
		const name = (path ?? params.project).replace(/^.*\//, '').replace(/[^\w.-]+/g, '_');
		return new Response(text, {
			headers: {
				'content-type': 'text/plain; charset=utf-8',
				'content-disposition': `attachment; filename="${name}.patch"`
			}
		});
	});
