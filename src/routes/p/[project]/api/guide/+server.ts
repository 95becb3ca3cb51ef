import { guideToYaml, guideWithNotes, mergeGuides } from '$core/guide';
import { answer, bodyOf, show } from '$lib/server/answers';
import { db } from '$lib/server/db/pool';
import { readNotes } from '$lib/server/db/notes';
import { changeGuide, guideChange } from '$lib/server/guides';
import { modelOf } from '$lib/server/model';

/**
 * The field guide as a file to share, with the nicknames and notes of people in it: what is written, comments too; with
 * `?found` all that was found as well, each with how sure it is.
 */
export const GET = ({ params, url }) =>
	show(async () => {
		const { project, stack } = await modelOf(params.project);
		const { guide, ownGuide } = project;
		const written =
			guide !== null && ownGuide !== null ? mergeGuides(guide, ownGuide, 'there').yaml : (guide ?? ownGuide);
		const text = guideWithNotes(
			url.searchParams.has('found') ? guideToYaml({ ...stack.guide, notes: [] }, true) : written,
			await readNotes(db(), project.slug)
		);
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
