import type { TextFile } from '../text';
import type { Document } from '../formats';
import { withInferred, type Guide } from '../guide';
import { loadLayer } from './load';
import { buildStack, type Layer, type Stack } from './stack';

/** A layer as bytes, by path from its root. */
export interface LayerBytes extends Pick<Layer, 'id' | 'title' | 'role'> {
	files: ReadonlyMap<string, Uint8Array>;
}

type Reuse = (
	path: string,
	bytes: Uint8Array,
	read: () => [TextFile, Document | null]
) => [TextFile, Document | null];

/**
 * The stack of layers given as bytes, in load order. Kinds that the guide does not name are inferred.
 * @param reuse see `loadLayer`
 */
export function assembleStack(layers: readonly LayerBytes[], guide: Guide, reuse?: Reuse): Stack {
	const loaded = layers.map(({ files, ...layer }) => loadLayer(layer, files, guide, reuse));
	const docs = new Map<string, Document>();
	for (const layer of loaded)
		for (const { path, doc } of layer.files.values()) if (doc && !docs.has(path)) docs.set(path, doc);
	return buildStack(loaded, withInferred(guide, docs));
}
