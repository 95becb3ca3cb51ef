import type { Pool } from '../facts';
import { encodingFor, hintsFor, type Guide } from '../guide';
import type { Encoding } from '../text';
import type { FileContent } from '../change';
import { openFileOf, type How } from './files';
import type { Layer } from './layer';
import { ownFiles, withPatched } from './patched';

/** What the reading of a layer's files depends on. */
export interface Reading {
	guide: Guide;
	/** Encodings that people chose, by path. */
	chosen?: ReadonlyMap<string, Encoding> | undefined;
	/** The layers below: a file of the same path is in the same encoding, whatever few letters tell of it. */
	below?: readonly Layer[] | undefined;
}

/** The encoding that a file of the same path has in the layers below; undefined where that says nothing. */
function encodingBelow(path: string, below: readonly Layer[] = []): Encoding | undefined {
	const under =
		below.findLast((layer) => layer.files.get(path)?.facts)?.files.get(path)?.facts?.letters ?? undefined;
	return under?.encoding === 'utf-8' ? undefined : under?.encoding;
}

/** How a file of a layer is read. */
export const howFor = (path: string, { guide, chosen, below }: Reading): How => ({
	hints: hintsFor(guide, path),
	chosen: chosen?.get(path) ?? encodingFor(guide, path),
	like: encodingBelow(path, below)
});

/**
 * The layer with some of its files changed; null takes a file away. The others are not read again.
 * @param below the layers below it, whose files its patches change
 */
export function withFiles(
	layer: Layer,
	changed: ReadonlyMap<string, FileContent | null>,
	guide: Guide,
	pool: Pool,
	below: readonly Layer[] = []
): Layer {
	const files = new Map(ownFiles(layer.files));
	for (const [path, text] of changed) {
		if (text) files.set(path, openFileOf(path, text, hintsFor(guide, path), pool));
		else files.delete(path);
	}
	// The order of paths is the order in which files of a layer count.
	const sorted = [...files].sort(([a], [b]) => (a < b ? -1 : 1));
	const how = (path: string) => howFor(path, { guide, below });
	const whole = withPatched({ ...layer, files: new Map(sorted) }, below, { guide, how, pool });
	if (!layer.paths) return whole;
	const paths = new Set(layer.paths);
	for (const [path, text] of changed) {
		if (text) paths.add(path);
		else paths.delete(path);
	}
	return { ...whole, paths };
}
