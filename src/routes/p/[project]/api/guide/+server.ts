import { answer, bodyOf, show } from '$lib/server/answers';
import { changeGuide, guideChange, guideFile } from '$lib/server/guides';
import { modelOf } from '$lib/server/model';

/**
 * The field guide as a file to share, with the nicknames and notes of people in it: what is written, comments too; with
 * `?found` all that was found as well, each with how sure it is.
 */
export const GET = ({ params, url }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const { project } = model;
		const text = await guideFile(model, url.searchParams.has('found'));
		return new Response(text, {
			headers: {
				'content-type': 'application/yaml; charset=utf-8',
				'content-disposition': `attachment; filename="${project.slug}.guide.yaml"`
			}
		});
	});

/** Changes the guide in one step. */
export const POST = ({ params, request }) =>
	answer(async () => changeGuide(params.project, await bodyOf(request, guideChange)));
