import { search } from '$core/search';
import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { kindsOf } from '$lib/server/views/table';

const MOST = 200;

export const load = ({ params, url }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const query = (url.searchParams.get('q') ?? '').slice(0, 200);
		const kind = url.searchParams.get('kind') ?? '';
		const started = performance.now();
		const all = search(model.index(), query, { most: MOST });
		const chosen = kind ? search(model.index(), query, { kind, most: MOST }) : all;
		const titles = Object.fromEntries(
			Object.entries(model.stack.guide.kinds).map(([name, about]) => [name, about.plural ?? about.title])
		);
		const counts = new Map<string, number>();
		for (const hit of all.hits) counts.set(hit.kind, (counts.get(hit.kind) ?? 0) + 1);
		return {
			query,
			kind,
			hits: chosen.hits,
			total: chosen.total,
			milliseconds: performance.now() - started,
			narrow: [...counts].map(([name, count]) => ({ kind: name, title: titles[name] ?? name, count })),
			layers: Object.fromEntries(model.stack.layers.map((layer) => [layer.id, layer.title])),
			titles,
			tries: model.project.tries ?? [],
			kinds: kindsOf(model)
		};
	});
