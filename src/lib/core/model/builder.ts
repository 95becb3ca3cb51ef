// The one way from layers to a stack, in steps: it asks for what others keep (facts of files, findings), says where it
// can be left for a while, and reads only what it does not know from before.
import { createPool, factsAgain, readsAlike, settleSteps, type LocalFacts, type Pool } from '../facts';
import type { Guide } from '../guide';
import {
	buildSteps,
	closeFile,
	fileOf,
	howFor,
	withPatched,
	type How,
	type Layer,
	type LayerFile,
	type Stack
} from '../stack';
import type { Encoding } from '../text';
import { withMerge } from '../infer';
import { isReadOtherwise } from './finding';

/** A file of a layer before it is read. */
export interface UnreadFile {
	path: string;
	/** In bytes. */
	size: number;
	/** What its bytes are known by: the same for the same bytes, as far as the caller says. */
	id: string;
	bytes(): Uint8Array;
}

/** A layer before it is read. */
export interface LayerSource extends Omit<Layer, 'files'> {
	files: readonly UnreadFile[];
	/** Encodings that people chose, by path. */
	chosen?: ReadonlyMap<string, Encoding> | undefined;
	/** The same as long as neither its files nor what was chosen about them change; without one it is always read. */
	revision?: number | undefined;
}

/** A file that is to be read, and how. */
export interface ToRead {
	file: UnreadFile;
	how: How;
	/** All that its facts depend on. */
	key: string;
}

/** What the builder asks for. Each line says what the answer is. */
export type Wish =
	/** Others may go first: nothing. */
	| { for: 'breath' }
	/** The facts of files, in their order: null where a file is no text, undefined where its bytes are gone. */
	| { for: 'facts'; files: readonly ToRead[] }
	/** What the files of a layer tell: the guide with it. `keys` are those of its files, in their order. */
	| { for: 'finding'; guide: Guide; layer: Layer; keys: readonly string[] };

/** What a building does at the moment. */
export interface Building {
	step: 'files' | 'meaning' | 'links';
	/** Files that are read, and how many there are. */
	done: number;
	total: number;
}

/** A layer with all that its loading depended on, and what came of it. */
interface Loaded {
	source: LayerSource;
	guide: Guide;
	below: readonly Layer[];
	layer: Layer;
	/** The guide with what the layer tells. */
	inferredGuide: Guide;
	/** Its files by their keys. */
	files: Map<string, LayerFile>;
}

/** What is known from one building to the next. */
export interface Memory {
	pool: Pool;
	/** How many texts were in the pool when all files had been read into it; 0 before. */
	fresh: number;
	/** Files by their keys. */
	files: Map<string, LayerFile>;
	/** The layers as they were loaded last, by id. */
	loaded: Map<string, Loaded>;
	stack: Stack | null;
	progress: Building;
}

export const startMemory = (): Memory => ({
	pool: createPool(),
	fresh: 0,
	files: new Map(),
	loaded: new Map(),
	stack: null,
	progress: { step: 'files', done: 0, total: 0 }
});

/** Texts that a pool may hold more than when it was made: it only grows, and is made again when most of it is old. */
const SLACK = { least: 100_000, share: 2 };

/** Whether so much of a memory is old that all is better read again. */
export const isWorn = ({ fresh, pool }: Memory): boolean => pool.size > fresh * SLACK.share + SLACK.least;

/** What is built, with what the building may lean on. */
export interface BuildOptions {
	/** In load order. */
	layers: readonly LayerSource[];
	/** The guide as people wrote it. */
	guide: Guide;
	memory: Memory;
	/** The key of a file's facts. */
	keyOf(file: UnreadFile, how: How, layer: LayerSource): string;
}

type Steps<T> = Generator<Wish, T, unknown>;

/** Files that are asked for at a time. */
const AT_ONCE = 100;
/** Files of which it is said how they are read, between two breaths. */
const A_STEP = 20;

/** Whether two states of a layer have the same files: what is known of the one then holds for the other. */
function isSameLayer(a: Layer, b: Layer): boolean {
	if (a.title !== b.title || a.owner !== b.owner || a.on !== b.on || a.option !== b.option) return false;
	if (a.files.size !== b.files.size || a.paths?.size !== b.paths?.size) return false;
	if (JSON.stringify(a.unapplied) !== JSON.stringify(b.unapplied)) return false;
	for (const [path, file] of b.files) if (a.files.get(path) !== file) return false;
	for (const path of b.paths ?? []) if (!a.paths?.has(path)) return false;
	return true;
}

/** Steps between which others may go first. */
function* inBreaths<T>(steps: Generator<void, T>): Steps<T> {
	for (;;) {
		const step = steps.next();
		if (step.done) return step.value;
		yield { for: 'breath' };
	}
}

/** A file as it is when it is read by what is known now, where what it said before tells that. */
function readAgain({ file, how }: ToRead, before: LayerFile | undefined, was: How): LayerFile | null {
	if (!before?.facts || before.patched) return null;
	if (was.chosen !== how.chosen || was.like !== how.like) return null;
	if (readsAlike(before.facts, was.hints, how.hints))
		return fileOf(file.path, file.size, file.bytes, how, before.facts);
	// Nothing was said of it: what was said may have hidden something.
	if (Object.keys(was.hints).length > 0) return null;
	const facts = factsAgain(file.path, before.facts, how.hints);
	return facts && fileOf(file.path, file.size, file.bytes, how, facts);
}

/**
 * Reads the files of a layer, as a guide says; what is known by its key is not read again.
 * @param before the layer as it was read by another guide
 */
function* readFiles(
	source: LayerSource,
	guide: Guide,
	below: readonly Layer[],
	{ memory, keyOf }: BuildOptions,
	files: Map<string, LayerFile>,
	before?: { layer: Layer; guide: Guide }
): Steps<Layer> {
	const { progress, pool } = memory;
	const found = new Map<string, LayerFile>();
	const wanted: ToRead[] = [];
	for (const [nth, file] of source.files.entries()) {
		if (nth % A_STEP === A_STEP - 1) yield { for: 'breath' };
		const how = howFor(file.path, { guide, chosen: source.chosen, below });
		wanted.push({ file, how, key: keyOf(file, how, source) });
	}
	const open: ToRead[] = [];
	for (const one of wanted) {
		const { path } = one.file;
		let known = files.get(one.key) ?? memory.files.get(one.key);
		if (!known && before) {
			const was = howFor(path, { guide: before.guide, chosen: source.chosen, below });
			known = readAgain(one, before.layer.files.get(path), was) ?? undefined;
			yield { for: 'breath' };
		}
		if (known) found.set(path, known);
		else open.push(one);
	}
	progress.done += found.size;
	for (let at = 0; at < open.length; at += AT_ONCE) {
		const part = open.slice(at, at + AT_ONCE);
		const read = (yield { for: 'facts', files: part }) as (LocalFacts | null | undefined)[];
		for (const [nth, { file, how }] of part.entries()) {
			const local = read[nth];
			if (local === undefined) continue;
			const { path, size } = file;
			const facts = local && (yield* inBreaths(settleSteps(local, pool)));
			found.set(path, fileOf(path, size, file.bytes, how, facts));
			progress.done++;
			yield { for: 'breath' };
		}
	}
	for (const { key, file } of wanted) if (found.has(file.path)) files.set(key, found.get(file.path)!);
	const { files: unread, chosen, revision, copied, ...about } = source;
	// The order of paths is the order in which files count.
	const sorted = new Map([...found].sort(([a], [b]) => (a < b ? -1 : 1)));
	const layer: Layer = withPatched({ ...about, files: sorted }, below, {
		guide,
		how: (path) => howFor(path, { guide, chosen, below }),
		pool
	});
	const old = memory.loaded.get(source.id)?.layer;
	return old && isSameLayer(old, layer) ? old : layer;
}

/** Under what each of a layer's files was read, in their order. */
function keysOf({ files }: Layer, read: ReadonlyMap<string, LayerFile>): string[] {
	const keys = new Map([...read].map(([key, file]) => [file, key]));
	return [...files.values()].map((file) => keys.get(file) ?? file.patched?.id ?? file.path);
}

/** Whether files of a layer are read otherwise by what is known now. */
function* areReadOtherwise({ files }: Layer, guide: Guide): Steps<boolean> {
	let nth = 0;
	for (const file of files.values()) {
		if (isReadOtherwise(file, guide)) return true;
		if (nth++ % A_STEP === A_STEP - 1) yield { for: 'breath' };
	}
	return false;
}

/** Reads a layer, finds out what it tells, and reads in another way what that says is to be read so. */
export function* layerSteps(
	source: LayerSource,
	guide: Guide,
	below: readonly Layer[],
	options: BuildOptions
): Steps<Loaded> {
	const files = new Map<string, LayerFile>();
	const { progress } = options.memory;
	progress.step = 'files';
	const layer = yield* readFiles(source, guide, below, options, files);
	progress.step = 'meaning';
	const inferredGuide = (yield {
		for: 'finding',
		guide,
		layer,
		keys: keysOf(layer, files)
	}) as Guide;
	const otherwise = yield* areReadOtherwise(layer, inferredGuide);
	const whole = otherwise
		? yield* readFiles(source, inferredGuide, below, options, files, { layer, guide })
		: layer;
	return { source, guide, below, layer: whole, inferredGuide, files };
}

/** Whether a layer is as it was loaded: the same revision, the same guide, the same layers below. */
const isLoaded = (before: Loaded, now: LayerSource, guide: Guide, below: readonly Layer[]): boolean =>
	now.revision !== undefined &&
	before.source.revision === now.revision &&
	before.source.title === now.title &&
	before.source.owner === now.owner &&
	before.source.on === now.on &&
	before.source.option === now.option &&
	before.guide === guide &&
	before.below.length === below.length &&
	before.below.every((layer, at) => layer === below[at]);

/**
 * Reads the layers, and finds out what they tell. Kinds that the guide does not name are inferred, from the lowest layer
 * that has a file: what a few records in a mod mean is detected by the many in the base. What is read is remembered.
 */
export function* loadSteps(options: BuildOptions): Steps<{ layers: readonly Layer[]; inferredGuide: Guide }> {
	const { layers, guide, memory } = options;
	const total = layers.reduce((sum, { files }) => sum + files.length, 0);
	memory.progress = { step: 'files', done: 0, total };
	const files = new Map<string, LayerFile>();
	const loaded = new Map<string, Loaded>();
	const below: Layer[] = [];
	let inferredGuide = guide;
	for (const source of layers) {
		const before = memory.loaded.get(source.id);
		const own =
			before && isLoaded(before, source, inferredGuide, below)
				? before
				: yield* layerSteps(source, inferredGuide, [...below], options);
		loaded.set(source.id, own);
		for (const [key, file] of own.files) files.set(key, file);
		inferredGuide = own.inferredGuide;
		below.push(own.layer);
	}
	for (const [key, file] of memory.files) if (files.get(key) !== file) closeFile(file);
	memory.files = files;
	memory.loaded = loaded;
	if (memory.fresh === 0) memory.fresh = memory.pool.size;
	return { layers: below, inferredGuide };
}

/** The stack of layers. What is built is remembered. */
export function* stackSteps(options: BuildOptions): Steps<Stack> {
	const { layers, memory } = options;
	if (memory.loaded.size > 0 && isWorn(memory)) Object.assign(memory, startMemory());
	const told = yield* loadSteps(options);
	let { inferredGuide } = told;
	const below = told.layers;
	memory.progress.step = 'links';
	const [base, ...later] = below;
	if (base)
		inferredGuide = withMerge(
			inferredGuide,
			base.files,
			later.map(({ files }) => files)
		);
	const counting = below.map((layer, at) => {
		const { copied } = layers[at]!;
		return copied && copied.length > 0 ? { ...layer, copied } : layer;
	});
	const steps = buildSteps(counting, inferredGuide, memory.pool, memory.stack ?? undefined);
	for (let step = steps.next(); ; step = steps.next()) {
		if (step.done) {
			memory.stack = step.value;
			break;
		}
		yield { for: 'breath' };
	}
	yield { for: 'breath' };
	return memory.stack;
}
