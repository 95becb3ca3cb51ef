import { repairsFor, RULES } from '$core/checks';
import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';

const MOST = 500;

export const load = ({ params }) =>
	show(async () => {
		const model = await modelOf(params.project);
		return {
			total: model.snags.length,
			snags: model.snags.slice(0, MOST).map((snag) => ({
				...snag,
				repairs: repairsFor(model.stack, snag),
				layerTitle: model.stack.layers.find((layer) => layer.id === snag.layer)?.title ?? ''
			})),
			titles: Object.fromEntries(RULES.map((rule) => [rule.id, rule.title])),
			checked: model.stack.layers.reduce((sum, layer) => sum + layer.files.size, 0)
		};
	});
