// Bringing a game in: a job in PostgreSQL that reads a source file by file and puts the project there in one transaction.
import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { Piscina } from 'piscina';
import { EMPTY_GUIDE, GuideFault, hintsFor, parseGuide, type Guide } from '$core/guide';
import { formatFor } from '$core/formats';
import { openSource, SourceFault, type Source } from '../files';
import { keepBlob } from './db/blobs';
import { insertImport, orphanedImports, readImport, touchImport } from './db/imports';
import {
	insertLayer,
	insertProject,
	listProjects,
	type Launcher,
	type LayerRow,
	type Try
} from './db/projects';
import { db, transaction } from './db/pool';
import { send } from './jobs';
import { codeFolder, homeFolder } from './settings';
import type { Reading } from './worker/reader';

/** What is brought in. */
export interface Wish {
	title: string;
	/** Path of a folder or a ZIP that may be read. */
	source: string;
	/** Text of a field guide. */
	guide: string | null;
	/** Folder or ZIP of a mod of mine that exists already. */
	mine: string | null;
}

class Cancelled extends Error {}

let pool: Piscina | null = null;
const readers = () =>
	(pool ??= new Piscina({
		filename: join(codeFolder(), 'build/worker.js'),
		maxThreads: 2,
		idleTimeout: 5000
	}));

/** Ends the worker threads. */
export async function stopReaders(): Promise<void> {
	await pool?.destroy();
	pool = null;
}

/** Starts an import and returns its id. @throws GuideFault, SourceFault at once where they can be told at once */
export async function startImport(wish: Wish): Promise<string> {
	if (wish.guide !== null) parseGuide(wish.guide);
	(await openSource(wish.source)).close();
	if (wish.mine !== null) (await openSource(wish.mine)).close();
	const id = randomUUID();
	await insertImport(db(), { id, ...wish });
	await send('import', id);
	return id;
}

type Report = (reading: string, files: number, bytes: number) => Promise<void>;

async function readLayer(source: Source, guide: Guide, report: Report): Promise<LayerRow['files']> {
	const files: LayerRow['files'] = [];
	for (const entry of source.entries) {
		const file = await source.read(entry);
		if (file.bytes) {
			await keepBlob(db(), file.sha256, file.bytes);
			// Read once outside the server's own thread: a file that is too much for the reader must not stop the server.
			if (formatFor(file.path, hintsFor(guide, file.path)))
				await (readers().run({ path: file.path, bytes: file.bytes, guide }) as Promise<Reading | null>);
		}
		files.push({ path: file.path, sha256: file.sha256, size: file.size, kept: file.bytes !== null });
		await report(file.path, 1, file.size);
	}
	return files;
}

async function freeSlug(title: string): Promise<string> {
	const stem =
		title
			.normalize('NFKD')
			.toLowerCase()
			.replace(/[^a-z0-9]+/g, '-')
			.replace(/^-+|-+$/g, '')
			.slice(0, 40) || 'game';
	const taken = new Set((await listProjects(db())).map((project) => project.slug));
	let slug = stem;
	for (let nth = 2; taken.has(slug); nth++) slug = `${stem}-${nth}`;
	return slug;
}

/**
 * Reads the wish and puts the project there, in one transaction: a server that is killed in between leaves nothing but
 * bytes that nobody names yet.
 */
export async function bringIn(
	wish: Wish,
	report: (total: { files: number; bytes: number }) => Report,
	options: { slug?: string; launcher?: Launcher; tries?: Try[]; done?: string } = {}
) {
	const guide = wish.guide === null ? EMPTY_GUIDE : parseGuide(wish.guide);
	const base = await openSource(wish.source);
	const mine = wish.mine === null ? null : await openSource(wish.mine);
	try {
		if (base.entries.length === 0)
			throw new SourceFault('There is no file in it; choose the folder that holds the game’s data.');
		const said = report({
			files: base.entries.length + (mine?.entries.length ?? 0),
			bytes: base.bytes + (mine?.bytes ?? 0)
		});
		const baseFiles = await readLayer(base, guide, said);
		const mineFiles = mine ? await readLayer(mine, guide, said) : [];
		const slug = options.slug ?? (await freeSlug(wish.title));
		const mod = wish.mine
			? basename(wish.mine)
					.replace(/\.zip$/i, '')
					.toLowerCase()
					.replace(/[^a-z0-9_-]+/g, '-')
			: 'my-mod';
		await transaction(async (client) => {
			await insertProject(client, {
				slug,
				title: wish.title,
				guide: wish.guide,
				mod,
				launcher: options.launcher ?? null,
				tries: options.tries ?? null
			});
			await insertLayer(client, slug, {
				role: 'base',
				title: 'Base',
				source: wish.source,
				position: 0,
				files: baseFiles
			});
			await insertLayer(client, slug, {
				role: 'mine',
				title: 'My mod',
				source: wish.mine ?? '',
				position: 100,
				files: mineFiles
			});
			if (options.done) {
				const open = await touchImport(client, options.done, { state: 'done', project: slug, reading: null });
				if (!open) throw new Cancelled();
			}
		});
		return slug;
	} finally {
		base.close();
		mine?.close();
	}
}

/** Puts imports that a server which is gone left unfinished back into the queue. */
export async function takeUpOrphans(): Promise<void> {
	for (const id of await orphanedImports(db())) await send('import', id);
}

/** One import job. A fault is written down for people; nothing is half there. */
export async function runImport(id: string): Promise<void> {
	const wish = await readImport(db(), id);
	if (!wish || !['waiting', 'working'].includes(wish.state)) return;
	const now = { files_done: 0, bytes_done: 0 };
	let told = 0;
	// One large file may take long: that the import is alive is told all the same.
	const beat = setInterval(() => void touchImport(db(), id, {}).catch(() => undefined), 1000);
	try {
		if (!(await touchImport(db(), id, { state: 'working' }))) return;
		await bringIn(
			wish,
			(total) => {
				const first = touchImport(db(), id, { files_total: total.files, bytes_total: total.bytes });
				return async (reading, files, bytes) => {
					await first;
					now.files_done += files;
					now.bytes_done += bytes;
					if (Date.now() - told < 100) return;
					told = Date.now();
					if (!(await touchImport(db(), id, { ...now, reading }))) throw new Cancelled();
				};
			},
			{ done: id }
		);
	} catch (error) {
		if (error instanceof Cancelled) return;
		const known = error instanceof SourceFault || error instanceof GuideFault;
		if (!known) console.error(`import ${id}: ${error instanceof Error ? error.stack : error}`);
		const message = known
			? error.message
			: 'The import stopped for a reason that is in the server’s output. Nothing was brought in; try again.';
		await touchImport(db(), id, { state: 'failed', message });
	} finally {
		clearInterval(beat);
		if (wish.source.startsWith(join(homeFolder(), 'uploads'))) {
			const after = await readImport(db(), id);
			if (after && after.state !== 'waiting' && after.state !== 'working')
				await rm(wish.source, { force: true });
		}
	}
}
