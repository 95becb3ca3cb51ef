import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { layerIn, modelAsOf } from '$lib/server/views/as-of';
import { queryIn, idsFor, moreRows } from '$lib/server/views/table';

const whole = (text: string | null, otherwise: number): number => {
	const number = Number(text ?? otherwise);
	return Number.isInteger(number) && number >= 0 ? number : otherwise;
};

/** Rows of a table from a place on; with `ids` the ids of all that pass. */
export const GET = ({ params, url }) =>
	answer(async () => {
		const model = modelAsOf(await modelOf(params.project), layerIn(url));
		const asked = queryIn(url);
		if (url.searchParams.has('ids')) return { ids: idsFor(model, params.kind, asked) };
		const from = whole(url.searchParams.get('from'), 0);
		const count = whole(url.searchParams.get('count'), 120);
		return { rows: moreRows(model, params.kind, asked, from, count), version: model.project.version };
	});
