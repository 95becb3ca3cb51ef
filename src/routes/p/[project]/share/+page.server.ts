import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';

export const load = ({ params }) =>
	show(async () => {
		const { project } = await modelOf(params.project);
		return { slug: project.slug, version: project.version };
	});
