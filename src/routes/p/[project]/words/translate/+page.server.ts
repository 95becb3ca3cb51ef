import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { giveView } from '$lib/server/views/translate';

export const load = ({ params, url }) =>
	show(async () => {
		const model = await modelOf(params.project);
		return { slug: model.project.slug, give: await giveView(model, url) };
	});
