import { decode, looksBinary, type Encoding, type TextFile } from '../text';
import { formatFor, readDocument, type Document } from '../formats';
import { encodingFor, hintsFor, type Guide } from '../guide';
import type { Layer, LayerFile } from './stack';

export type LayerRole = 'base' | 'mod' | 'mine';

/** Texts larger than this (bytes) are kept but not opened as tables. */
const LARGEST = 64 * 1024 * 1024;

/** How files of a layer are read. */
export interface Reading {
	guide: Guide;
	/** Encodings that people chose, by path. */
	chosen?: ReadonlyMap<string, Encoding>;
	/** The layers below: a file of the same path is in the same encoding, whatever few letters tell of it. */
	below?: readonly Layer[];
	/** Returns a document read before from the same bytes in the same way, so that only what changed is read again. */
	reuse?: Reuse;
}

/** `how` is one string for all that the reading depends on besides path and bytes. */
export type Reuse = (
	path: string,
	bytes: Uint8Array,
	how: string,
	read: () => [TextFile, Document | null]
) => [TextFile, Document | null];

/** The encoding that a file of the same path has in the layers below; undefined where that says nothing. */
function encodingBelow(path: string, below: readonly Layer[] = []): Encoding | undefined {
	const under = below.findLast((layer) => layer.files.get(path)?.text)?.files.get(path)?.text;
	return under?.encoding === 'utf-8' ? undefined : under?.encoding;
}

/** A layer from its files' bytes. A file that cannot be read keeps its place, with its problems. */
export function loadLayer(
	layer: Pick<Layer, 'id' | 'title' | 'role'>,
	files: ReadonlyMap<string, Uint8Array>,
	reading: Reading
): Layer {
	const { guide, reuse = (_path, _bytes, _how, read) => read() } = reading;
	const loaded = new Map<string, LayerFile>();
	for (const path of [...files.keys()].sort()) {
		const bytes = files.get(path)!;
		const hints = hintsFor(guide, path);
		if (!formatFor(path, hints) || bytes.length > LARGEST || looksBinary(bytes)) {
			loaded.set(path, { path, size: bytes.length, text: null, doc: null });
			continue;
		}
		const chosen = reading.chosen?.get(path) ?? encodingFor(guide, path);
		const like = encodingBelow(path, reading.below);
		const [text, doc] = reuse(path, bytes, JSON.stringify([hints, chosen, like]), () => {
			const file = decode(bytes, chosen, like);
			return [file, readDocument(path, file.text, hints)];
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
