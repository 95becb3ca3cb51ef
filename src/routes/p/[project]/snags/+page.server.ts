import { groupedBy } from '$core/gather';
import { repairsFor, repairsForAll, RULES, type Snag } from '$core/checks';
import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';

const MOST = 500;

/** The same snags, those of one record behind each other, in the order in which each record first comes up. */
function byRecord(snags: readonly Snag[]): Snag[] {
	const groups = groupedBy(snags, (snag) =>
		snag.record === null ? snag.id : `${snag.severity} ${snag.kind}/${snag.record}`
	);
	return [...groups.values()].flat();
}

export const load = ({ params }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const titles = Object.fromEntries(RULES.map((rule) => [rule.id, rule.title]));
		const snags = byRecord(model.snags)
			.slice(0, MOST)
			.map((snag) => ({
				...snag,
				repairs: repairsFor(model.stack, snag),
				layerTitle: model.stack.layers.find((layer) => layer.id === snag.layer)?.title ?? ''
			}));
		return {
			total: model.snags.length,
			snags,
			forAll: (['blocks', 'warns', 'note'] as const).flatMap((severity) =>
				repairsForAll(
					snags.filter((snag) => snag.severity === severity),
					(rule) => titles[rule] ?? rule
				).map((one) => ({ ...one, severity }))
			),
			titles,
			checked: model.stack.layers.reduce((sum, layer) => sum + layer.files.size, 0)
		};
	});
