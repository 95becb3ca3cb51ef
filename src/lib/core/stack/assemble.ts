import { createPool } from '../facts';
import { claimOf, hintsFor, type Guide } from '../guide';
import { infer, inferSteps, type Asked, type DataFile } from '../infer';
import type { Encoding } from '../text';
import { loadLayer, type Known } from './load';
import { buildStack, type Layer, type Stack } from './stack';

/** A layer as bytes, by path from its root. */
export interface LayerBytes extends Pick<Layer, 'id' | 'title' | 'role' | 'paths'> {
	files: ReadonlyMap<string, Uint8Array>;
	/** Encodings that people chose, by path. */
	encodings?: ReadonlyMap<string, Encoding>;
}

/** What is told of a layer's files and from them: the lowest layer tells of the game, the others of what they add. */
const askedOf = (layer: Layer): [DataFile[], Asked] => [
	[...layer.files.values()].flatMap(({ path, facts }) => (facts ? [{ path, facts }] : [])),
	{ paths: new Set(layer.paths ?? layer.files.keys()), freeOnly: layer.role !== 'base' }
];

/** The guide with everything that the files of a layer tell and nobody has said, in steps; see `inferSteps`. */
export const guideSteps = (guide: Guide, layer: Layer): Generator<void, Guide> =>
	inferSteps(guide, ...askedOf(layer));

/** The same, in one go. */
export const guideWith = (guide: Guide, layer: Layer): Guide => infer(guide, ...askedOf(layer));

/** Files of a layer that are read otherwise by what the guide says now: their records have other ids or other places. */
export function readOtherwise(layer: Layer, guide: Guide): string[] {
	return [...layer.files.values()].flatMap(({ path, facts }) => {
		if (!facts) return [];
		const { id, prefix, at, key, layout } = hintsFor(guide, path);
		if (facts.format === null) return layout && facts.prose.length > 0 ? [path] : [];
		const named = (id ?? prefix) !== undefined && facts.written.includes(0) && claimOf(guide, path) !== null;
		const elsewhere = at !== undefined && at !== facts.at;
		return (named && guide.kinds[claimOf(guide, path)!.kind]!.id !== undefined) ||
			elsewhere ||
			(key !== undefined && facts.key !== null && key !== facts.key)
			? [path]
			: [];
	});
}

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
		const again = readOtherwise(next, told);
		loaded.push(
			again.length === 0
				? next
				: {
						...next,
						files: new Map([
							...next.files,
							...loadLayer(layer, new Map(again.map((path) => [path, files.get(path)!])), {
								guide: told,
								below: loaded,
								chosen: encodings,
								pool,
								...(known ? { known } : {})
							}).files
						])
					}
		);
	}
	return buildStack(loaded, told, pool);
}
