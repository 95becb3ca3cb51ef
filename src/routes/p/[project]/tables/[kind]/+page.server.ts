import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { kindsOf, tableOf } from '$lib/server/views/table';

export const load = ({ params }) =>
	show(async () => {
		const model = await modelOf(params.project);
		return { table: tableOf(model, params.kind), kinds: kindsOf(model) };
	});
