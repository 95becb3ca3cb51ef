// Layers given as bytes, read here and now: for the command and the tests.
import { settleFacts, type LocalFacts, type Pool } from '../facts';
import type { Guide } from '../guide';
import {
	fileOf,
	howAsTexts,
	howFor,
	readFacts,
	type How,
	type Layer,
	type LayerFile,
	type Reading,
	type Stack
} from '../stack';
import type { Encoding } from '../text';
import { stackSteps, startMemory, type LayerSource, type Wish } from './builder';
import { guideWith } from './finding';

/** A layer as bytes, by path from its root. */
export interface LayerBytes extends Omit<Layer, 'files'> {
	files: ReadonlyMap<string, Uint8Array>;
	/** Encodings that people chose, by path. */
	encodings?: ReadonlyMap<string, Encoding>;
}

/** Facts read before from the same bytes in the same way; undefined where there are none. */
export type Known = (path: string, bytes: Uint8Array, how: How) => LocalFacts | null | undefined;

const readNow = (path: string, bytes: Uint8Array, how: How, known?: Known): LocalFacts | null => {
	const found = known?.(path, bytes, how);
	return found === undefined ? readFacts(path, bytes, how) : found;
};

const sourceOf = ({ files, encodings, ...layer }: LayerBytes): LayerSource => ({
	...layer,
	chosen: encodings,
	files: [...files].map(([path, bytes]) => ({
		path,
		size: bytes.length,
		// Within one building, a path of a layer has one content.
		id: `${layer.id}\n${path}`,
		bytes: () => bytes
	}))
});

/** Names for readings of files, short ones: the same for the same reading. */
function keysOf(): (file: { id: string }, how: How) => string {
	const numbers = new Map<string, number>();
	const numberOf = (text: string): number => {
		let known = numbers.get(text);
		if (known === undefined) numbers.set(text, (known = numbers.size));
		return known;
	};
	return ({ id }, how) => `${id}\n${howAsTexts(how).map(numberOf).join()}`;
}

/** Goes through all steps at once. */
function inOneGo<T>(steps: Generator<Wish, T, unknown>, known?: Known): T {
	let answer: unknown;
	for (;;) {
		const step = steps.next(answer);
		if (step.done) return step.value;
		const wish = step.value;
		if (wish.for === 'facts')
			answer = wish.files.map(({ file, how }) => readNow(file.path, file.bytes(), how, known));
		else answer = wish.for === 'finding' ? guideWith(wish.guide, wish.layer) : undefined;
	}
}

/**
 * The stack of layers given as bytes, in load order.
 * @param known facts read before, see `Known`
 */
export const assembleStack = (layers: readonly LayerBytes[], guide: Guide, known?: Known): Stack =>
	inOneGo(
		stackSteps({
			layers: layers.map(sourceOf),
			guide,
			memory: startMemory(),
			keyOf: keysOf()
		}),
		known
	);

/** A layer from its files' bytes, read as a guide says. A file that cannot be read keeps its place, with its problems. */
export function loadLayer(
	layer: Omit<Layer, 'files'>,
	files: ReadonlyMap<string, Uint8Array>,
	reading: Reading & { pool: Pool; known?: Known }
): Layer {
	const loaded = new Map<string, LayerFile>();
	for (const path of [...files.keys()].sort()) {
		const bytes = files.get(path)!;
		const how = howFor(path, reading);
		const local = readNow(path, bytes, how, reading.known);
		const facts = local && settleFacts(local, reading.pool);
		loaded.set(
			path,
			fileOf(path, bytes.length, () => bytes, how, facts)
		);
	}
	return { ...layer, files: loaded };
}
