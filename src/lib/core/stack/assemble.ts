import type { Document } from '../formats';
import { withInferred, type Guide } from '../guide';
import type { Encoding } from '../text';
import { loadLayer, type Reuse } from './load';
import { buildStack, type Layer, type Stack } from './stack';

/** A layer as bytes, by path from its root. */
export interface LayerBytes extends Pick<Layer, 'id' | 'title' | 'role'> {
	files: ReadonlyMap<string, Uint8Array>;
	/** Encodings that people chose, by path. */
	encodings?: ReadonlyMap<string, Encoding>;
}

/**
 * The stack of layers given as bytes, in load order. Kinds that the guide does not name are inferred, from the lowest
 * layer that has a file: what a few records in a mod mean is told by the many in the base.
 * @param reuse see `Reading`
 */
export function assembleStack(layers: readonly LayerBytes[], guide: Guide, reuse?: Reuse): Stack {
	let known = guide;
	const loaded: Layer[] = [];
	for (const { files, encodings, ...layer } of layers) {
		const next = loadLayer(layer, files, {
			guide: known,
			below: loaded,
			...(encodings ? { chosen: encodings } : {}),
			...(reuse ? { reuse } : {})
		});
		const docs = new Map<string, Document>();
		for (const { path, doc } of next.files.values()) if (doc) docs.set(path, doc);
		known = withInferred(known, docs);
		loaded.push(next);
	}
	return buildStack(loaded, known);
}
