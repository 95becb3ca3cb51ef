// Versions of layers that are kept beside the stack: each can be looked at as a stack of its own.
import { layerSteps, type BuildOptions } from '$core/model';
import { buildStack, type Stack } from '$core/stack';
import { db } from '../db/pool';
import { readLayers, type LayerRow } from '../db/projects';
import { build, factsKeyOf, sourceOf } from './build';
import { keptNow, type Model } from './models';

/** The versions that are kept beside the layers of the stack, without their files. */
export const besideRows = (model: Model): Promise<LayerRow[]> =>
	readLayers(db(), model.project.slug, { beside: true, withFiles: false });

/** A version as a stack, with what it is called. */
export interface Beside {
	stack: Stack;
	title: string;
}

const beside = new WeakMap<Model, Map<string, Promise<Beside | null>>>();

async function read(model: Model, id: string): Promise<Beside | null> {
	const rows = await readLayers(db(), model.project.slug, { beside: true });
	const row = rows.find((candidate) => candidate.id === id);
	const own = keptNow(model.project.slug);
	if (!row || !own) return null;
	const { pool, files } = own.memory;
	// Its files are looked for among those that are known, and are not remembered themselves.
	const memory: BuildOptions['memory'] = {
		...own.memory,
		files,
		loaded: new Map(),
		progress: { step: 'files', done: 0, total: 0 }
	};
	const options: BuildOptions = { layers: [], guide: model.guide, memory, keyOf: factsKeyOf };
	const { layer, inferredGuide } = await build(db(), layerSteps(sourceOf(row), model.guide, [], options));
	const title = `${row.title}, ${row.version || `imported ${row.importedAt.slice(0, 10)}`}`;
	return { stack: buildStack([layer], inferredGuide, pool), title };
}

/** Another version of a layer, as a stack of its own; null where there is none of that id. Kept as long as the model is. */
export function besideStack(model: Model, id: string): Promise<Beside | null> {
	const known = beside.get(model) ?? new Map<string, Promise<Beside | null>>();
	beside.set(model, known);
	let found = known.get(id);
	if (!found) known.set(id, (found = read(model, id)));
	return found;
}
