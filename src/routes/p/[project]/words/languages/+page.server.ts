import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { languagesView } from '$lib/server/views/languages';

export const load = ({ params }) =>
	show(async () => {
		const model = await modelOf(params.project);
		return { slug: model.project.slug, view: languagesView(model) };
	});
