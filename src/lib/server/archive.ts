// A project as one open file: a ZIP with `project.json` (my mod's history, the guide, notes, pocket, views) and the bytes
// of each file under its digest. Written on demand, and by the server itself after a day with changes.
import { createWriteStream } from 'node:fs';
import { mkdir, open, readdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { once } from 'node:events';
import { finished } from 'node:stream/promises';
import { Zip, ZipDeflate } from 'fflate';
import { openSource, openZip, SourceFault, type Source } from '../files';
import { digestsIn, projectFile, readProjectRows, writeProjectRows, type ProjectFile } from './db/archive';
import { keepBlob, knownBlobs, readBlobs } from './db/blobs';
import { listProjects } from './db/projects';
import { db, transaction } from './db/pool';
import { freeSlug } from './imports';
import { NotThere } from './faults';
import { homeFolder } from './settings';

const HEAD = 'project.json';
/** Bytes that the head may have, and files that one archive may hold. */
const MOST = { head: 256 * 2 ** 20, files: 1_000_000 };
/** Blobs that are read at a time. */
const AT_ONCE = 16;

/** Where project files stand while they are being sent. */
export const exportsFolder = () => join(homeFolder(), 'exports');

/** Takes away what was being sent when the server was last killed. */
export const clearExports = (): Promise<void> => rm(exportsFolder(), { recursive: true, force: true });

/** What a file of a project is called behind its name. */
export const ENDING = '.kettle.zip';

/** Writes the file of a project to a path, whole or not at all. @param whole with the bytes of other layers @throws NotThere */
export async function exportProject(slug: string, to: string, whole: boolean): Promise<void> {
	const coming = `${to}.${process.pid}.kettle-tmp`;
	const out = createWriteStream(coming);
	// Waited for from the start: it may be over before anybody would ask.
	const written = finished(out);
	written.catch(() => undefined);
	try {
		await transaction(async (client) => {
			await client.query('set transaction isolation level repeatable read, read only');
			const head = await readProjectRows(client, slug, whole);
			if (!head) throw new NotThere(`There is no project “${slug}”.`);
			let full = false;
			const zip = new Zip((fault, piece, last) => {
				if (fault) throw fault;
				if (!out.write(piece)) full = true;
				if (last) out.end();
			});
			const add = async (name: string, bytes: Uint8Array) => {
				const entry = new ZipDeflate(name, { level: 6 });
				entry.mtime = new Date(1980, 0, 1);
				zip.add(entry);
				entry.push(bytes, true);
				if (full) await Promise.race([once(out, 'drain'), written]);
				full = false;
			};
			await add(HEAD, Buffer.from(JSON.stringify(head)));
			const digests = digestsIn(head);
			for (let at = 0; at < digests.length; at += AT_ONCE) {
				const blobs = await readBlobs(client, digests.slice(at, at + AT_ONCE));
				for (const [sha256, bytes] of blobs) await add(`bytes/${sha256}`, bytes);
			}
			zip.end();
		});
		await written;
		const file = await open(coming);
		await file.sync();
		await file.close();
		await rename(coming, to);
	} catch (fault) {
		out.destroy();
		await rm(coming, { force: true });
		throw fault;
	}
}

async function headOf(source: Source): Promise<ProjectFile> {
	const entry = source.entries.find(({ path }) => path === HEAD);
	if (!entry || entry.size > MOST.head)
		throw new SourceFault(
			`This is not the file of a project: it has no ${HEAD}. To import a game, use the form for games.`
		);
	const { bytes } = await source.read(entry);
	let said: unknown;
	try {
		said = JSON.parse(Buffer.from(bytes!).toString('utf8'));
	} catch {
		throw new SourceFault(`The file of the project is damaged: ${HEAD} in it is not valid JSON.`);
	}
	const read = projectFile.safeParse(said);
	if (read.success) return read.data;
	const [issue] = read.error.issues;
	const newer = issue?.path[0] === 'version' ? ' It was made by a newer version; update first.' : '';
	throw new SourceFault(
		`The file of the project cannot be read at ${issue?.path.join('.') || 'its top'}: ${issue?.message}.${newer}`
	);
}

/** Keeps the bytes of a source that are wanted and have the digest that they should. */
async function keepFrom(
	source: Source,
	wanted: Set<string>,
	nameOf: (path: string) => string | undefined
): Promise<void> {
	for (const entry of source.entries) {
		const name = nameOf(entry.path);
		if (name === undefined || !wanted.has(name)) continue;
		const { sha256, bytes } = await source.read(entry);
		if (!bytes || sha256 !== name) continue;
		await keepBlob(db(), sha256, bytes);
		wanted.delete(name);
	}
}

/**
 * Brings a project in from its file, as a new one. Bytes that the file does not hold are looked for where the layers
 * came from. Returns the project, and how many files of other layers could not be found.
 * @throws SourceFault where it is no such file, or bytes that undoing needs are missing from it
 */
export async function importProject(path: string): Promise<{ slug: string; missing: number }> {
	const limits = {
		path: 1000,
		files: MOST.files,
		opened: 600 * 2 ** 20,
		total: 64 * 2 ** 30,
		levels: 0,
		inner: 0
	};
	const source = await openZip(path, limits);
	let head: ProjectFile;
	const needed = new Set<string>();
	try {
		head = await headOf(source);
		const all = new Set([...digestsIn({ ...head, whole: true })]);
		for (const known of await knownBlobs(db(), [...all])) all.delete(known);
		for (const digest of digestsIn({ ...head, whole: false })) if (all.has(digest)) needed.add(digest);
		await keepFrom(source, all, (name) => /^bytes\/([0-9a-f]{64})$/.exec(name)?.[1]);
		for (const digest of needed) if (!all.has(digest)) needed.delete(digest);
		if (needed.size > 0)
			throw new SourceFault(
				`The file of the project is damaged: the bytes of ${needed.size} files of your mod or its history are missing. Nothing was imported.`
			);
		for (const layer of head.layers) {
			const open = new Map(
				layer.files.filter(({ sha256 }) => all.has(sha256)).map((file) => [file.path, file.sha256])
			);
			if (open.size === 0 || layer.source === '') continue;
			const there = await openSource(layer.source).catch(() => null);
			if (!there) continue;
			await keepFrom(there, all, (name) => open.get(name)).finally(() => there.close());
		}
		const slug = await transaction(async (client) => {
			const slug = await freeSlug(client, head.project.title);
			await writeProjectRows(client, slug, head);
			return slug;
		});
		return { slug, missing: all.size };
	} finally {
		source.close();
	}
}

/** A file of a project that the server made by itself. */
export interface KeptFile {
	slug: string;
	/** Name of the file, to be asked for. */
	name: string;
	at: string;
}

const KEPT = 7;
const DAY = 24 * 3_600_000;
const NAME = /^(\d{4}-\d\d-\d\dT\d\d-\d\d-\d\d)-v(\d+)\.kettle\.zip$/;

const shelf = (slug: string) => join(homeFolder(), 'projects', slug);

async function keptOf(slug: string): Promise<{ name: string; at: Date; version: number }[]> {
	const names = await readdir(shelf(slug)).catch(() => []);
	return names
		.flatMap((name) => {
			const found = NAME.exec(name);
			if (!found) return [];
			const at = new Date(`${found[1]!.slice(0, 11)}${found[1]!.slice(11).replaceAll('-', ':')}Z`);
			return [{ name, at, version: Number(found[2]) }];
		})
		.sort((a, b) => b.at.getTime() - a.at.getTime());
}

/** The files that the server keeps of one project, or of all, also of those that are no more; the newest first. */
export async function keptFiles(only?: string): Promise<KeptFile[]> {
	const slugs = only === undefined ? await readdir(join(homeFolder(), 'projects')).catch(() => []) : [only];
	const all = await Promise.all(
		slugs.map(async (slug) =>
			(await keptOf(slug)).map(({ name, at }) => ({ slug, name, at: at.toISOString() }))
		)
	);
	return all.flat().sort((a, b) => (a.at < b.at ? 1 : -1));
}

/** The path of a file that the server keeps. @throws NotThere */
export async function keptPath(slug: string, name: string): Promise<string> {
	if (!/^[\w-]+$/.test(slug) || !(await keptOf(slug)).some((one) => one.name === name))
		throw new NotThere('There is no such project file any more.');
	return join(shelf(slug), name);
}

/**
 * Keeps a file of each project that changed since its last one, where that is a day old; of each the last seven stay.
 * @param now milliseconds since 1970
 */
export async function keepProjects(now = Date.now()): Promise<number> {
	let made = 0;
	for (const { slug, version } of await listProjects(db())) {
		const [last] = await keptOf(slug);
		// A project that nobody touched yet can be imported again.
		if (last ? last.version === version || now - last.at.getTime() < DAY : version === 1) continue;
		await mkdir(shelf(slug), { recursive: true });
		const stamp = new Date(now).toISOString().slice(0, 19).replaceAll(':', '-');
		await exportProject(slug, join(shelf(slug), `${stamp}-v${version}${ENDING}`), false);
		made++;
		for (const { name } of (await keptOf(slug)).slice(KEPT))
			await rm(join(shelf(slug), name), { force: true });
	}
	return made;
}

const HOUR = 3_600_000;

/** Looks every hour, and soon after the start, whether projects are to be kept. */
export function keepEveryDay(): void {
	const look = () => void keepProjects().catch((error: Error) => console.error(`projects: ${error.message}`));
	setTimeout(look, 60_000).unref();
	setInterval(look, HOUR).unref();
}
