// Bringing layers in: a row of the queue, whose worker reads sources batch by batch, writes down what is done, and puts all of
// it in place in one transaction. Whoever takes an unfinished job up goes on behind what is done.
import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { EMPTY_GUIDE, GuideFault, parseGuide, type Guide } from '$core/guide';
import { howFor } from '$core/stack';
import {
	checkSource,
	LIMITS,
	MOD_LIMITS,
	openSource,
	SourceFault,
	tooLarge,
	type Launcher,
	type Source,
	type SourceFile
} from '../files';
import { failpoint } from '../files/failpoint';
import { hasBytes, keepBytes } from './cache';
import { knownBlobs } from './db/blobs';
import { copyNew, type Cell } from './db/copy';
import {
	clearDone,
	doneFiles,
	insertImport,
	markDone,
	readImport,
	touchImport,
	type ImportRow,
	type ReadFile,
	type WishedLayer
} from './db/imports';
import { putNote } from './db/notes';
import { bumpProject, insertLayer, insertProject, listProjects, nextPosition, type Try } from './db/projects';
import { db, isAway, transaction, type Queries } from './db/pool';
import { tellWorker } from './jobs';
import { findAhead, keepFacts } from './model';
import { homeFolder } from './settings';
import { verifyLayer } from './verify';

/** What is brought in. */
export interface Wish {
	title: string;
	/** Text of a field guide; null for none. */
	guide: string | null;
	layers: WishedLayer[];
	/** The project that the layers go into; null for a new one. */
	target: string | null;
}

class Cancelled extends Error {}

/** Starts an import and returns its id. @throws GuideFault, SourceFault at once where they can be told at once */
export async function startImport(wish: Wish, what: ImportRow['what'] = 'game'): Promise<string> {
	if (wish.guide !== null) parseGuide(wish.guide);
	for (const { source } of wish.layers) if (source !== '') await checkSource(source);
	const id = randomUUID();
	await insertImport(db(), { id, what, ...wish });
	tellWorker();
	return id;
}

/** Tells how far it is; throws when the import was cancelled. */
export interface Progress {
	total(files: number, bytes: number): Promise<void>;
	done(reading: string, files: number, bytes: number): Promise<void>;
	/** All is read; what it means is next. */
	finding(): Promise<void>;
}

const nothing = async () => undefined;
export const NO_PROGRESS: Progress = { total: nothing, done: nothing, finding: nothing };

/** Files and bytes that are read at a time. */
const BATCH = { files: 64, bytes: 4 * 2 ** 20 };
/** Batches on the way at a time. */
const LANES = 3;
/** Files of layers that are not edited and are no text are kept up to this size (bytes); larger ones by digest only. */
const KEPT = 64 * 1024;

function* batchesOf(source: Source, done: ReadonlyMap<string, ReadFile>): Generator<Source['entries']> {
	let batch: Source['entries'] = [];
	let bytes = 0;
	for (const entry of source.entries) {
		if (done.get(entry.path)?.size === entry.size) continue;
		batch.push(entry);
		bytes += entry.size;
		if (batch.length < BATCH.files && bytes < BATCH.bytes) continue;
		yield batch;
		batch = [];
		bytes = 0;
	}
	if (batch.length > 0) yield batch;
}

/** Makes sure that what each file says is kept, and tells which are texts. */
async function readFacts(files: SourceFile[], guide: Guide): Promise<Set<SourceFile>> {
	const wanted = files.flatMap((file) => {
		const { path, sha256, bytes } = file;
		return bytes === null ? [] : [{ file, path, sha256, bytes, how: howFor(path, { guide }) }];
	});
	return new Set((await keepFacts(wanted)).map(({ file }) => file));
}

/** Reads some files of a source; `keep` writes down that they are done, with the bytes that are new. */
async function readBatch(
	source: Source,
	entries: Source['entries'],
	owner: WishedLayer['owner'],
	guide: Guide,
	keep: (files: ReadFile[], blobs: Cell[][]) => Promise<void>
): Promise<ReadFile[]> {
	const files = await Promise.all(entries.map((entry) => source.read(entry)));
	const large = owner === 'me' ? files.find(({ bytes }) => bytes === null) : undefined;
	if (large) throw tooLarge(large);
	const texts = await readFacts(files, guide);
	const read = files.map((file): ReadFile => {
		const kept = file.bytes !== null && (owner === 'me' || texts.has(file) || file.size <= KEPT);
		return { path: file.path, sha256: file.sha256, size: file.size, kept };
	});
	const there = await knownBlobs(
		db(),
		read.map((file) => file.sha256)
	);
	const blobs = new Map<string, Cell[]>();
	files.forEach((file, at) => {
		if (!read[at]!.kept) return;
		if (!hasBytes(file.sha256)) keepBytes(file.sha256, file.bytes!);
		if (there.has(file.sha256)) return;
		const size = Buffer.alloc(8);
		size.writeBigInt64BE(BigInt(file.size));
		blobs.set(file.sha256, [file.sha256, size, file.bytes!]);
	});
	// What is known already costs no more than a look: only what is new is worth writing down.
	if (blobs.size > 0) await keep(read, [...blobs.values()]);
	return read;
}

async function readLayer(
	source: Source,
	{ owner }: WishedLayer,
	guide: Guide,
	progress: Progress,
	job: { id: string; layer: number } | null
): Promise<ReadFile[]> {
	const before = job ? await doneFiles(db(), job.id, job.layer) : new Map<string, ReadFile>();
	const entries = new Set(source.entries.map((entry) => entry.path));
	const files = [...before.values()].filter((file) => entries.has(file.path));
	if (files.length > 0)
		await progress.done(
			'',
			files.length,
			files.reduce((sum, file) => sum + file.size, 0)
		);
	const batches = batchesOf(source, before);
	const lane = async () => {
		for (const batch of batches) {
			const read = await readBatch(source, batch, owner, guide, (done, blobs) =>
				transaction(async (client) => {
					failpoint('batch-read');
					// The last transaction, which puts all of it in place, is synced, and all before it with it.
					await client.query('set local synchronous_commit = off');
					await copyNew(client, 'blobs', ['sha256', 'size', 'bytes'], blobs);
					if (job) await markDone(client, job.id, job.layer, done);
				})
			);
			failpoint('batch-kept');
			files.push(...read);
			await progress.done(
				batch.at(-1)!.path,
				read.length,
				batch.reduce((sum, entry) => sum + entry.size, 0)
			);
		}
	};
	await Promise.all(Array.from({ length: LANES }, lane));
	return files.sort((a, b) => (a.path < b.path ? -1 : 1));
}

/**
 * A short name for a project that no other has, and that nobody else is given before the transaction ends: of two that
 * ask at once, the second waits.
 */
export async function freeSlug(q: Queries, title: string): Promise<string> {
	await q.query('select pg_advisory_xact_lock(727302)');
	const stem =
		title
			.normalize('NFKD')
			.toLowerCase()
			.replace(/[^a-z0-9]+/g, '-')
			.replace(/^-+|-+$/g, '')
			.slice(0, 40) || 'game';
	const taken = new Set((await listProjects(q)).map((project) => project.slug));
	let slug = stem;
	for (let nth = 2; taken.has(slug); nth++) slug = `${stem}-${nth}`;
	return slug;
}

const folderSafe = (source: string) =>
	basename(source)
		.replace(/\.zip$/i, '')
		.toLowerCase()
		.replace(/[^a-z0-9_-]+/g, '-');

async function openAll(layers: WishedLayer[]): Promise<(Source | null)[]> {
	const opened: (Source | null)[] = [];
	try {
		for (const { source, owner } of layers)
			opened.push(source === '' ? null : await openSource(source, owner === 'me' ? MOD_LIMITS : LIMITS));
		return opened;
	} catch (fault) {
		for (const source of opened) source?.close();
		throw fault;
	}
}

/**
 * Reads the wish and puts it in place, in one transaction: a process that is killed in between leaves nothing but
 * bytes that nobody names yet. Returns the project.
 */
export async function bringIn(
	wish: Wish,
	progress: Progress,
	options: { slug?: string; launcher?: Launcher; tries?: Try[]; job?: { id: string; worker: string } } = {}
): Promise<string> {
	const guide = wish.guide === null ? EMPTY_GUIDE : parseGuide(wish.guide);
	const sources = await openAll(wish.layers);
	try {
		if (sources[0]?.entries.length === 0)
			throw new SourceFault('There are no files in it; choose the folder with the game’s data.');
		await progress.total(
			sources.reduce((sum, source) => sum + (source?.entries.length ?? 0), 0),
			sources.reduce((sum, source) => sum + (source?.bytes ?? 0), 0)
		);
		const read: ReadFile[][] = [];
		for (const [layer, source] of sources.entries())
			read.push(
				source
					? await readLayer(
							source,
							wish.layers[layer]!,
							guide,
							progress,
							options.job ? { id: options.job.id, layer } : null
						)
					: []
			);
		if (wish.target === null && options.job) {
			await progress.finding();
			const layers = wish.layers.map(({ owner, title }, at) => ({
				...{ id: String(at), owner, title, on: true, option: null },
				...{ encodings: {}, revision: 0, files: read[at]! }
			}));
			await findAhead(layers, guide).catch((fault: unknown) => {
				// Whoever opens it finds it out then, or is told why that cannot be.
				if (isAway(fault)) throw fault;
			});
		}
		const slug = await transaction(async (client) => {
			const slug = wish.target ?? options.slug ?? (await freeSlug(client, wish.title));
			if (wish.target === null) {
				const mine = wish.layers.find(({ owner }) => owner === 'me');
				await insertProject(client, {
					slug,
					title: wish.title,
					guide: wish.guide,
					mod: mine?.called ? folderSafe(mine.called) : mine?.source ? folderSafe(mine.source) : 'my-mod',
					identity: mine?.called ? { name: folderSafe(mine.called), title: mine.called } : null,
					launcher: options.launcher ?? null,
					tries: options.tries ?? null
				});
				for (const note of guide.notes) await putNote(client, slug, note);
			}
			for (const [at, layer] of wish.layers.entries()) {
				await insertLayer(client, slug, {
					owner: layer.owner,
					title: layer.title,
					source: layer.source,
					files: read[at]!,
					besideOf: layer.standsFor ?? null,
					position: layer.owner === 'game' ? 0 : layer.owner === 'me' ? 100 : await nextPosition(client, slug)
				});
			}
			if (wish.target !== null) await bumpProject(client, slug);
			if (options.job) {
				const left = sources.flatMap((source) => source?.left ?? []);
				const message = left.length === 0 ? null : `Left out: ${left.slice(0, 20).join('; ')}.`;
				const done = { state: 'done' as const, project: slug, reading: null, message };
				const open = await touchImport(client, options.job.id, done, options.job.worker);
				if (!open) throw new Cancelled();
				await clearDone(client, options.job.id);
			}
			failpoint('before-import-commit');
			return slug;
		});
		failpoint('import-committed');
		return slug;
	} finally {
		for (const source of sources) source?.close();
	}
}

function progressOf(id: string, worker: string): Progress {
	const now = { files_done: 0, bytes_done: 0 };
	let told = 0;
	return {
		async total(files_total, bytes_total) {
			const start = { files_total, bytes_total, files_done: 0, bytes_done: 0 };
			if (!(await touchImport(db(), id, start, worker))) throw new Cancelled();
		},
		async done(reading, files, bytes) {
			now.files_done += files;
			now.bytes_done += bytes;
			if (Date.now() - told < 100 && reading !== '') return;
			told = Date.now();
			if (!(await touchImport(db(), id, { ...now, reading }, worker))) throw new Cancelled();
		},
		async finding() {
			const reading = 'Finding out what the files say';
			if (!(await touchImport(db(), id, { ...now, reading }, worker))) throw new Cancelled();
		}
	};
}

async function carryOut(wish: ImportRow, worker: string): Promise<void> {
	if (wish.what !== 'verify') {
		await bringIn(wish, progressOf(wish.id, worker), { job: { id: wish.id, worker } });
		return;
	}
	await verifyLayer(wish.layers[0]!.standsFor!, progressOf(wish.id, worker));
	await touchImport(db(), wish.id, { state: 'done', project: wish.target, reading: null }, worker);
}

/** Carries out an import that a worker claimed. A fault is written down for people; nothing is half there. */
export async function runImport(id: string, worker: string): Promise<void> {
	const wish = await readImport(db(), id);
	if (wish?.state !== 'working') return;
	// One large file may take long: that the import is alive is told all the same.
	const beat = setInterval(() => void touchImport(db(), id, {}, worker).catch(() => undefined), 1000);
	try {
		await carryOut(wish, worker);
	} catch (error) {
		// Whoever takes it up when the database is back goes on behind what is done.
		if (error instanceof Cancelled || isAway(error)) return;
		const known = error instanceof SourceFault || error instanceof GuideFault;
		if (!known) console.error(`import ${id}: ${error instanceof Error ? error.stack : error}`);
		const message = known
			? error.message
			: 'The import stopped; the reason is in the server’s output. Nothing was imported; try again.';
		await touchImport(db(), id, { state: 'failed', message }, worker);
	} finally {
		clearInterval(beat);
		const after = await readImport(db(), id).catch(() => null);
		if (after && after.state !== 'waiting' && after.state !== 'working') {
			await clearDone(db(), id);
			for (const { source } of wish.layers)
				if (source.startsWith(join(homeFolder(), 'uploads'))) await rm(source, { force: true });
		}
	}
}
