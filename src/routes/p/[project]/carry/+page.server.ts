import { show } from '$lib/server/answers';
import { besideRows, modelOf } from '$lib/server/model';

/** A game may be large: the page is there at once, and what it shows follows. */
export const load = ({ params, url }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const base = model.layers.find(({ owner }) => owner === 'game');
		const versions = (await besideRows(model)).filter(({ besideOf }) => besideOf === base?.id);
		const to = url.searchParams.get('to') ?? versions.at(-1)?.id ?? null;
		return {
			slug: params.project,
			to,
			versions: versions.map(({ id, version, importedAt }) => ({
				id,
				title: version || importedAt.slice(0, 10)
			})),
			/** Whether the game can be started from here. */
			startable: model.project.launcher !== null && model.guide.install !== undefined,
			version: model.project.version,
			records: [...model.stack.tables.values()].reduce((sum, table) => sum + table.count, 0)
		};
	});
