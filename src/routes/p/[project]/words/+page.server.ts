import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { layerIn, modelAsOf } from '$lib/server/views/as-of';
import { tablePageOf } from '$lib/server/views/table-page';
import { wordsOf } from '$lib/server/views/words';

export const load = ({ params, url }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const words = await wordsOf(modelAsOf(model, layerIn(url)));
		return { words, lines: words && (await tablePageOf(model, words.kind, url)) };
	});
