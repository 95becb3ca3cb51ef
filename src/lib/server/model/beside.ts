// Versions of layers that are kept beside the stack: each can be looked at as a stack of its own.
import { layerSteps, type BuildOptions } from '$core/model';
import { buildStack, type Layer, type Stack } from '$core/stack';
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

/** A layer that is not in the stack, read with what is known of the project; null where that is not open. */
async function readLayer(model: Model, row: LayerRow) {
	const own = keptNow(model.project.slug);
	if (!own) return null;
	const { files } = own.memory;
	// Its files are looked for among those that are known, and are not remembered themselves.
	const memory: BuildOptions['memory'] = {
		...own.memory,
		files,
		loaded: new Map(),
		progress: { step: 'files', done: 0, total: 0 }
	};
	const options: BuildOptions = { layers: [], guide: model.guide, memory, keyOf: factsKeyOf };
	return build(db(), layerSteps(sourceOf(row), model.guide, [], options));
}

/** A layer that is switched off, as it would be in the stack; null where there is none of that id. */
export async function layerBeside(model: Model, id: string): Promise<Layer | null> {
	const row = model.layers.find((one) => one.id === id);
	const read = row && (await readLayer(model, row));
	return read ? { ...read.layer, on: true } : null;
}

async function read(model: Model, id: string): Promise<Beside | null> {
	const rows = await readLayers(db(), model.project.slug, { beside: true });
	const row = rows.find((candidate) => candidate.id === id);
	const found = row && (await readLayer(model, row));
	if (!found) return null;
	const { layer, inferredGuide } = found;
	const title = `${row.title}, ${row.version || `imported ${row.importedAt.slice(0, 10)}`}`;
	return { stack: buildStack([layer], inferredGuide, model.stack.pool), title };
}

/** Another version of a layer, as a stack of its own; null where there is none of that id. Kept as long as the model is. */
export function besideStack(model: Model, id: string): Promise<Beside | null> {
	const known = beside.get(model) ?? new Map<string, Promise<Beside | null>>();
	beside.set(model, known);
	let found = known.get(id);
	if (!found) known.set(id, (found = read(model, id)));
	return found;
}
