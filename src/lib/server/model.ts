// A project in memory: the tables, links, snags and index of one version. A cache: it can always be made again.
import { performance } from 'node:perf_hooks';
import { createPool, settleFacts, unpackFacts, type LocalFacts, type Pool } from '$core/facts';
import { composeGuides, EMPTY_GUIDE, type Guide } from '$core/guide';
import {
	buildStack,
	closeFile,
	fileOf,
	readOtherwise,
	howFor,
	type How,
	type Layer,
	type LayerFile,
	type Stack
} from '$core/stack';
import { buildLinks, type Links } from '$core/links';
import { checkStack, countSnags, vouchedFor, type Counts, type Snag, type Vouched } from '$core/checks';
import { spreadSteps } from '$core/numbers';
import { buildIndexSteps, measureSteps, type SearchIndex } from '$core/search';
import type { OpeningState } from '$core/views';
import { bytesOf, hasBytes, keepBytes, keepMade, madeOf } from './cache';
import { findOnce } from './found';
import { readBlobs } from './db/blobs';
import { readCopied } from './db/copied';
import { readLayers, readProject, type LayerRow, type ProjectRow } from './db/projects';
import { db, type Queries } from './db/pool';
import { factsKey, readInWorker } from './readers';
import readHere, { type ToRead } from './worker/reader';

export interface Model {
	project: ProjectRow;
	layers: LayerRow[];
	guide: Guide;
	stack: Stack;
	links: Links;
	snags: Snag[];
	counts: Counts;
	/** What the snags speak for. */
	vouched(): Vouched;
	/** Made when it is first asked for, in steps that leave room for other work. */
	index(): Promise<SearchIndex>;
}

/** What is asked for is not there. */
export class NotThere extends Error {}

/** A layer with all that its loading depended on, and what came of it. */
interface Loaded {
	row: LayerRow;
	guide: Guide;
	below: readonly Layer[];
	layer: Layer;
	/** The guide with what the layer tells. */
	told: Guide;
	/** Its files by all that their reading depends on. */
	files: Map<string, LayerFile>;
}

/** What is kept of a project between versions. */
interface Kept {
	pool: Pool;
	/** How many texts were in it when all files had been read into it. */
	fresh: number;
	/** Files by all that their reading depends on. */
	files: Map<string, LayerFile>;
	/** The layers as they were loaded last, by id. */
	loaded: Map<string, Loaded>;
	model: Model | null;
	index: SearchIndex | null;
	/** The version that is being built, and how far that is. */
	coming: { version: number; model: Promise<Model> } | null;
	progress: Omit<OpeningState, 'open'>;
}

const START: Kept['progress'] = { step: 'files', done: 0, total: 0 };

const kept = new Map<string, Kept>();

/** Milliseconds of work between two breathers, in which others get their turn. */
const BREATH = 12;

function breather(): () => Promise<void> | void {
	let since = performance.now();
	return () => {
		if (performance.now() - since < BREATH) return;
		return new Promise((done) =>
			setImmediate(() => {
				since = performance.now();
				done();
			})
		);
	};
}

async function inSteps<T>(steps: Generator<unknown, T>): Promise<T> {
	const breathe = breather();
	for (;;) {
		const step = steps.next();
		if (step.done) return step.value;
		await breathe();
	}
}

const unpacked = (bytes: Uint8Array): LocalFacts | null => (bytes.length === 0 ? null : unpackFacts(bytes));

/** Files that one task of a worker thread reads. */
const A_TASK = 32;
/** What stands in the cache for a file that is no text. */
const NO_TEXT = new Uint8Array(0);

type Keyed = { path: string; sha256: string; how: How; key: string };

/** Files and bytes that are sooner read than sent to a thread: what one edit changes. */
const LITTLE = { files: 4, bytes: 128 * 1024 };
const isLittle = (files: readonly ToRead[]): boolean =>
	files.length <= LITTLE.files && files.reduce((sum, { bytes }) => sum + bytes.length, 0) <= LITTLE.bytes;

/** The packed facts of files: those that are kept, and all others read now. */
async function factsFor(files: readonly Keyed[]): Promise<Uint8Array[]> {
	const found = files.map(({ key }) => madeOf(key));
	const missing = files.map((_, at) => at).filter((at) => !found[at]);
	const tasks = Array.from({ length: Math.ceil(missing.length / A_TASK) }, (_, nth) =>
		missing.slice(nth * A_TASK, (nth + 1) * A_TASK)
	);
	await Promise.all(
		tasks.map(async (task) => {
			const toRead = task.map((at) => {
				const { path, sha256, how } = files[at]!;
				return { path, bytes: bytesOf(sha256), how };
			});
			const read = await (isLittle(toRead) ? readHere(toRead) : readInWorker(toRead));
			task.forEach((at, nth) => {
				const { key, sha256 } = files[at]!;
				found[at] = read[nth] ?? NO_TEXT;
				keepMade(key, sha256, found[at]!, true);
			});
		})
	);
	return found as Uint8Array[];
}

/** Files of which bytes and facts are fetched at a time. */
const AT_ONCE = 100;

/** Whether two states of a layer have the same files: what is known of the one then holds for the other. */
function isSameLayer(a: Layer, b: Layer): boolean {
	if (a.title !== b.title || a.role !== b.role || a.files.size !== b.files.size) return false;
	if (a.paths?.size !== b.paths?.size) return false;
	for (const [path, file] of b.files) if (a.files.get(path) !== file) return false;
	for (const path of b.paths ?? []) if (!a.paths?.has(path)) return false;
	return true;
}

/**
 * The bytes of a digest, when they are needed. Made apart from the loading: a file outlives it by many versions, and
 * would hold on to all that was loaded with it.
 */
const bytesFrom = (sha256: string) => () => bytesOf(sha256);

async function loadRow(
	q: Queries,
	row: LayerRow,
	guide: Guide,
	below: Layer[],
	old: Kept,
	next: Kept['files']
): Promise<Layer> {
	const chosen = new Map(Object.entries(row.encodings));
	const files = new Map<string, LayerFile>();
	const wanted = row.files
		.filter((file) => file.kept)
		.map((file) => {
			const how = howFor(file.path, { guide, chosen, below });
			return { ...file, how, key: factsKey(file.sha256, file.path, how) };
		});
	const breathe = breather();
	const open = wanted.filter(({ key, path }) => {
		const known = old.files.get(key);
		if (known) files.set(path, known);
		return !known;
	});
	const { progress } = old;
	progress.done += files.size;
	for (let at = 0; at < open.length; at += AT_ONCE) {
		const part = open.slice(at, at + AT_ONCE);
		const missing = part.filter(({ sha256 }) => !hasBytes(sha256));
		const blobs = await readBlobs(q, [...new Set(missing.map((file) => file.sha256))]);
		for (const [sha256, bytes] of blobs) keepBytes(sha256, bytes, true);
		const there = part.filter(({ sha256 }) => hasBytes(sha256));
		const packed = await factsFor(there);
		for (const [nth, { path, size, sha256, how }] of there.entries()) {
			const local = unpacked(packed[nth]!);
			files.set(path, fileOf(path, size, bytesFrom(sha256), how, local && settleFacts(local, old.pool)));
			progress.done++;
			await breathe();
		}
	}
	for (const { key, path } of wanted) if (files.has(path)) next.set(key, files.get(path)!);
	// The order of paths is the order in which files count.
	const sorted = new Map([...files].sort(([a], [b]) => (a < b ? -1 : 1)));
	const paths = new Set(row.files.map((file) => file.path));
	const layer: Layer = { id: row.id, role: row.role, title: row.title, files: sorted, paths };
	const before = old.model?.stack.layers.find(({ id }) => id === row.id);
	return before && isSameLayer(before, layer) ? before : layer;
}

/** Under what each of a layer's files was read, in their order. */
function keysOf({ files }: Layer, read: Kept['files']): string[] {
	const keys = new Map([...read].map(([key, file]) => [file, key]));
	return [...files.values()].map((file) => keys.get(file) ?? file.path);
}

/** Records of a kind from which on its spreads are made before somebody asks. */
const LARGE = 2000;
/** Records from which on a first loading leaves much behind. */
const MANY = 50_000;

/** Texts that a pool may hold more than when it was made: it only grows, and is made anew when most of it is old. */
const SLACK = { least: 100_000, share: 2 };

const composed = new Map<string, [string, Guide]>();

/** The guide as it is written, by others and by oneself; the same object as long as neither changes. */
function writtenGuide({ slug, guide, ownGuide }: ProjectRow): Guide {
	if (guide === null && ownGuide === null) return EMPTY_GUIDE;
	const text = JSON.stringify([guide, ownGuide]);
	const old = composed.get(slug);
	if (old?.[0] === text) return old[1];
	const next = composeGuides(guide, ownGuide);
	composed.set(slug, [text, next]);
	return next;
}

/** Whether a layer is as it was loaded: the same files, the same guide, the same layers below. */
const isLoaded = (before: Loaded, row: LayerRow, guide: Guide, below: readonly Layer[]): boolean =>
	before.row.revision === row.revision &&
	before.row.title === row.title &&
	before.row.role === row.role &&
	before.guide === guide &&
	before.below.length === below.length &&
	before.below.every((layer, at) => layer === below[at]);

/** Loads a layer, finds out what it tells, and reads in another way what that says is to be read so. */
async function loadLayer(
	q: Queries,
	row: LayerRow,
	guide: Guide,
	below: Layer[],
	old: Kept
): Promise<Loaded> {
	const files: Kept['files'] = new Map();
	old.progress.step = 'files';
	const layer = await loadRow(q, row, guide, below, old, files);
	old.progress.step = 'meaning';
	const told = await findOnce(guide, layer, keysOf(layer, files), inSteps);
	const otherwise = readOtherwise(layer, told).length > 0;
	const whole = otherwise ? await loadRow(q, row, told, below, old, files) : layer;
	return { row, guide, below, layer: whole, told, files };
}

async function buildModel(q: Queries, project: ProjectRow, old: Kept): Promise<Model> {
	const layers = await readLayers(q, project.slug, { known: old.model?.layers ?? [] });
	const guide = writtenGuide(project);
	if (old.files.size === 0 || old.pool.size > old.fresh * SLACK.share + SLACK.least) {
		old.pool = createPool();
		old.files = new Map();
		old.loaded = new Map();
		old.index = null;
		old.model = null;
		old.fresh = 0;
	}
	const files: Kept['files'] = new Map();
	const loaded: Layer[] = [];
	let told = guide;
	const total = layers.reduce((sum, row) => sum + row.files.filter((file) => file.kept).length, 0);
	old.progress = { step: 'files', done: 0, total };
	const copied = await readCopied(q, project.slug);
	const next: Kept['loaded'] = new Map();
	const below: Layer[] = [];
	for (const row of layers) {
		const before = old.loaded.get(row.id);
		const own =
			before && isLoaded(before, row, told, below) ? before : await loadLayer(q, row, told, [...below], old);
		next.set(row.id, own);
		for (const [key, file] of own.files) files.set(key, file);
		told = own.told;
		below.push(own.layer);
		loaded.push(row.role === 'mine' && copied.length > 0 ? { ...own.layer, copied } : own.layer);
	}
	for (const [key, file] of old.files) if (files.get(key) !== file) closeFile(file);
	old.files = files;
	old.loaded = next;
	if (old.fresh === 0) old.fresh = old.pool.size;
	old.progress.step = 'links';
	const stack = buildStack(loaded, told, old.pool, old.model?.stack);
	const breathe = breather();
	await breathe();
	const links = buildLinks(stack, old.model?.links);
	await breathe();
	const snags = checkStack(stack, links);
	let index: Promise<SearchIndex> | null = null;
	let vouched: Vouched | null = null;
	return {
		project,
		layers,
		guide,
		stack,
		links,
		snags,
		counts: countSnags(snags),
		vouched: () => (vouched ??= vouchedFor(stack, links)),
		index: () =>
			(index ??= inSteps(buildIndexSteps(stack, links, old.index ?? undefined)).then((built) => {
				if (old.index === null && links.places > MANY) globalThis.gc?.();
				void inSteps(spreadSteps(stack, LARGE)).then(() => inSteps(measureSteps(stack, LARGE)));
				return (old.index = built);
			}))
	};
}

/**
 * The project as it is now, from memory where its version has not changed.
 * @throws NotThere
 */
export async function modelOf(slug: string, q: Queries = db(), lock = false): Promise<Model> {
	const project = await readProject(q, slug, lock);
	if (!project) throw new NotThere(`There is no project “${slug}”.`);
	let own = kept.get(slug);
	if (!own)
		kept.set(
			slug,
			(own = {
				pool: createPool(),
				fresh: 0,
				files: new Map(),
				loaded: new Map(),
				model: null,
				index: null,
				coming: null,
				progress: { ...START }
			})
		);
	if (own.model?.project.version === project.version) return own.model;
	if (own.coming?.version !== project.version) {
		const before = own.coming?.model.catch(() => undefined);
		const model = (async () => {
			await before;
			return buildModel(lock ? q : db(), project, own);
		})();
		own.coming = { version: project.version, model };
	}
	const coming = own.coming;
	try {
		const model = await coming.model;
		if (own.coming !== coming) return model;
		// Whoever opens a game will look for something in it.
		if (own.model === null) model.index().catch(() => undefined);
		return (own.model = model);
	} finally {
		if (own.coming === coming) own.coming = null;
	}
}

/** The versions that are kept beside the layers of the stack, without their files. */
export const besideRows = (model: Model): Promise<LayerRow[]> =>
	readLayers(db(), model.project.slug, { beside: true, withFiles: false });

const beside = new WeakMap<Model, Map<string, Promise<{ stack: Stack; title: string } | null>>>();

/** Another version of a layer, as a stack of its own; null where there is none of that id. Kept as long as the model is. */
export function besideStack(model: Model, id: string): Promise<{ stack: Stack; title: string } | null> {
	const known = beside.get(model) ?? new Map<string, Promise<{ stack: Stack; title: string } | null>>();
	beside.set(model, known);
	let found = known.get(id);
	if (!found) {
		found = (async () => {
			const rows = await readLayers(db(), model.project.slug, { beside: true });
			const row = rows.find((candidate) => candidate.id === id);
			const own = kept.get(model.project.slug);
			if (!row || !own) return null;
			const read: Kept['files'] = new Map();
			const first = await loadRow(db(), row, model.guide, [], own, read);
			const told = await findOnce(model.guide, first, keysOf(first, read), inSteps);
			const layer =
				readOtherwise(first, told).length > 0 ? await loadRow(db(), row, told, [], own, new Map()) : first;
			const title = `${row.title}, ${row.version || `brought in ${row.importedAt.slice(0, 10)}`}`;
			return { stack: buildStack([layer], told, own.pool), title };
		})();
		known.set(id, found);
	}
	return found;
}

/**
 * Waits a while (milliseconds) for a project to be open, and tells how far that is. It goes on being opened meanwhile.
 * @throws NotThere
 */
export async function openedSoon(slug: string, milliseconds: number): Promise<OpeningState> {
	const coming = modelOf(slug);
	const late = new Promise<null>((done) => setTimeout(done, milliseconds, null));
	// Whoever asks next is told of a fault.
	coming.catch(() => undefined);
	const open = (await Promise.race([coming, late])) !== null;
	const { step, done, total } = kept.get(slug)?.progress ?? START;
	return { open, step, done: Math.min(done, total), total };
}

/** Whether a project is in memory, though perhaps not as it is now: then it is made anew in a moment. */
export const isOpen = (slug: string): boolean => Boolean(kept.get(slug)?.model);

/** Lets go of a project that is no more. */
export function letGo(slug: string): void {
	kept.delete(slug);
	composed.delete(slug);
}

/** The layer of a project that is edited. @throws NotThere */
export function mineOf(model: Model): LayerRow {
	const mine = model.layers.find((layer) => layer.role === 'mine');
	if (!mine) throw new NotThere('This project has no mod of mine.');
	return mine;
}
