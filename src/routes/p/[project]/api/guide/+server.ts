import { guideWithNotes } from '$core/guide';
import { db } from '$lib/server/db/pool';
import { readNotes } from '$lib/server/db/notes';
import { modelOf } from '$lib/server/model';

/** The field guide as a file to share, with the nicknames and notes of people in it. */
export const GET = async ({ params }) => {
	const { project } = await modelOf(params.project);
	const text = guideWithNotes(project.guide, await readNotes(db(), project.slug));
	return new Response(text, {
		headers: {
			'content-type': 'application/yaml; charset=utf-8',
			'content-disposition': `attachment; filename="${project.slug}.guide.yaml"`
		}
	});
};
