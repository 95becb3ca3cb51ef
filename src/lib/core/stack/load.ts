import { decode, type TextFile } from '../text';
import { formatFor, readDocument, type Document } from '../formats';
import { hintsFor, type Guide } from '../guide';
import type { Layer, LayerFile } from './stack';

export type LayerRole = 'base' | 'mod' | 'mine';

/** Texts larger than this (bytes) are kept but not opened as tables. */
const LARGEST = 64 * 1024 * 1024;

const looksBinary = (bytes: Uint8Array) =>
	bytes.subarray(0, 8000).includes(0) && !(bytes[0] === 0xff || bytes[0] === 0xfe);

/**
 * A layer from its files' bytes. A file that cannot be read keeps its place, with its problems.
 * @param reuse returns a document read before from the same bytes, so that only what changed is read again
 */
export function loadLayer(
	layer: Pick<Layer, 'id' | 'title' | 'role'>,
	files: ReadonlyMap<string, Uint8Array>,
	guide: Guide,
	reuse: (
		path: string,
		bytes: Uint8Array,
		read: () => [TextFile, Document | null]
	) => [TextFile, Document | null] = (_p, _b, read) => read()
): Layer {
	const loaded = new Map<string, LayerFile>();
	for (const path of [...files.keys()].sort()) {
		const bytes = files.get(path)!;
		if (!formatFor(path) || bytes.length > LARGEST || looksBinary(bytes)) {
			loaded.set(path, { path, size: bytes.length, text: null, doc: null });
			continue;
		}
		const [text, doc] = reuse(path, bytes, () => {
			const file = decode(bytes);
			return [file, readDocument(path, file.text, hintsFor(guide, path))];
		});
		loaded.set(path, { path, size: bytes.length, text, doc });
	}
	return { ...layer, files: loaded };
}

/** The layer with some of its files changed; null takes a file away. The others are not read again. */
export function withFiles(layer: Layer, changed: ReadonlyMap<string, TextFile | null>, guide: Guide): Layer {
	const files = new Map(layer.files);
	for (const [path, text] of changed) {
		if (text)
			files.set(path, {
				path,
				size: text.text.length,
				text,
				doc: readDocument(path, text.text, hintsFor(guide, path))
			});
		else files.delete(path);
	}
	return { ...layer, files };
}
