import { createPool } from '../facts';
import { withInferred, type Guide } from '../guide';
import type { Encoding } from '../text';
import { loadLayer, type Known } from './load';
import { buildStack, type Layer, type Stack } from './stack';

/** A layer as bytes, by path from its root. */
export interface LayerBytes extends Pick<Layer, 'id' | 'title' | 'role'> {
	files: ReadonlyMap<string, Uint8Array>;
	/** Encodings that people chose, by path. */
	encodings?: ReadonlyMap<string, Encoding>;
}

/** The guide with kinds for the files of a layer that nobody describes. */
export const guideWith = (guide: Guide, layer: Layer): Guide =>
	withInferred(
		guide,
		[...layer.files.values()].flatMap(({ path, facts }) => (facts?.format ? [{ path, facts }] : []))
	);

/**
 * The stack of layers given as bytes, in load order. Kinds that the guide does not name are inferred, from the lowest
 * layer that has a file: what a few records in a mod mean is told by the many in the base.
 * @param known facts read before, see `Known`
 */
export function assembleStack(layers: readonly LayerBytes[], guide: Guide, known?: Known): Stack {
	const pool = createPool();
	let told = guide;
	const loaded: Layer[] = [];
	for (const { files, encodings, ...layer } of layers) {
		const next = loadLayer(layer, files, {
			guide: told,
			below: loaded,
			chosen: encodings,
			pool,
			...(known ? { known } : {})
		});
		told = guideWith(told, next);
		loaded.push(next);
	}
	return buildStack(loaded, told, pool);
}
