import { createHash, webcrypto } from 'node:crypto';
import { createReadStream, readFileSync } from 'node:fs';
import { lstat, open, readdir, readFile, realpath, stat } from 'node:fs/promises';
import { join, sep } from 'node:path';
import yauzl from 'yauzl';

/** What a source may hold. Sizes in bytes. */
export const LIMITS = {
	/** Characters of a path from the root of the source. */
	path: 255,
	files: 100_000,
	/** Files above it are listed by digest and size, but never opened as tables. */
	opened: 64 * 2 ** 20,
	/** All files of a source together, unpacked. */
	total: 4 * 2 ** 30,
	/** Archives within archives that are looked into; deeper ones are files like any other. */
	levels: 3
};

/** Bytes up to which a file is read at once: four ways through the thread pool take longer than the reading itself. */
const SMALL = 256 * 1024;

/** A source that cannot be taken at all. The message says what, where, and the way out. */
export class SourceFault extends Error {}

export interface SourceEntry {
	/** From the root, with `/` between the parts. */
	path: string;
	size: number;
}

/** One file read: its digest, and its bytes unless it is larger than `LIMITS.opened`. */
export interface SourceFile extends SourceEntry {
	sha256: string;
	bytes: Uint8Array | null;
}

/** A folder or an archive that can be read file by file. */
export interface Source {
	entries: SourceEntry[];
	bytes: number;
	read(entry: SourceEntry): Promise<SourceFile>;
	close(): void;
}

function checkEntries(entries: SourceEntry[], limits: typeof LIMITS): number {
	if (entries.length > limits.files)
		throw new SourceFault(
			`There are ${entries.length} files; at most ${limits.files} can be brought in at once. Choose a folder further in.`
		);
	const long = entries.find((entry) => entry.path.length > limits.path);
	if (long)
		throw new SourceFault(
			`The path ${long.path.slice(0, 60)}… has ${long.path.length} characters; at most ${limits.path} are taken. Shorten its folders' names or leave it out.`
		);
	const bytes = entries.reduce((sum, entry) => sum + entry.size, 0);
	if (bytes > limits.total)
		throw new SourceFault(
			`Unpacked, this is ${Math.round(bytes / 2 ** 20)} MB; at most ${Math.round(limits.total / 2 ** 20)} MB can be brought in. Choose a smaller part.`
		);
	return bytes;
}

async function entryAt(root: string, path: string, isLink: boolean): Promise<SourceEntry | null> {
	const full = join(root, path);
	if (isLink) {
		// A link may be followed only to a file inside the folder that was given.
		const target = await realpath(full).catch(() => null);
		if (!target?.startsWith(root + sep)) return null;
	}
	const info = await stat(full);
	return info.isFile() ? { path, size: info.size } : null;
}

/** All files below a folder, in the order of their names. */
async function walk(root: string, folder: string): Promise<SourceEntry[]> {
	const items = await readdir(join(root, folder), { withFileTypes: true });
	const found = await Promise.all(
		items
			.sort((a, b) => (a.name < b.name ? -1 : 1))
			.map(async (item): Promise<SourceEntry[]> => {
				const path = folder ? `${folder}/${item.name}` : item.name;
				if (item.isDirectory()) return item.name === '.git' ? [] : walk(root, path);
				const entry = await entryAt(root, path, item.isSymbolicLink());
				return entry ? [entry] : [];
			})
	);
	return found.flat();
}

async function digestOfFile(path: string): Promise<string> {
	const hash = createHash('sha256');
	for await (const chunk of createReadStream(path)) hash.update(chunk as Buffer);
	return hash.digest('hex');
}

/** Worked out in a thread of its own, so that other files are read meanwhile. */
const sha256 = async (bytes: Uint8Array) =>
	Buffer.from(await webcrypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>)).toString('hex');

/** A folder of this machine. Links that lead out of it are not followed. @throws SourceFault */
export async function openFolder(folder: string, limits = LIMITS): Promise<Source> {
	const root = await realpath(folder).catch(() => null);
	if (root === null || !(await lstat(root)).isDirectory())
		throw new SourceFault(`There is no folder ${folder}.`);
	const entries = await walk(root, '');
	const plain: Source = {
		entries,
		bytes: checkEntries(entries, limits),
		async read(entry) {
			const full = join(root, entry.path);
			if (entry.size > limits.opened) return { ...entry, sha256: await digestOfFile(full), bytes: null };
			const content = entry.size > SMALL ? await readFile(full) : readFileSync(full);
			return { path: entry.path, size: content.length, sha256: await sha256(content), bytes: content };
		},
		close: () => undefined
	};
	return withArchives(plain, limits, limits.levels, (entry) => openFile(join(root, entry.path)));
}

const isArchive = (path: string) => /\.zip$/i.test(path);

/** The archive inside an entry; null where it cannot be opened, and the entry is a file like any other. */
type OpenInner = (entry: SourceEntry) => Promise<yauzl.ZipFile | null>;

/** The source with the files of its archives in place of the archives: `pack.zip/data/a.tsv`. */
async function withArchives(
	outer: Source,
	limits: typeof LIMITS,
	levels: number,
	openInner: OpenInner
): Promise<Source> {
	if (levels === 0 || !outer.entries.some(({ path }) => isArchive(path))) return outer;
	const entries: SourceEntry[] = [];
	const from = new Map<string, { source: Source; entry: SourceEntry }>();
	const inner: Source[] = [];
	const close = () => {
		for (const source of inner) source.close();
		outer.close();
	};
	try {
		for (const entry of outer.entries) {
			const zip = isArchive(entry.path) ? await openInner(entry).catch(() => null) : null;
			const source = zip && (await zipSource(zip, limits, levels - 1, false).catch(() => null));
			if (!source) {
				entries.push(entry);
				from.set(entry.path, { source: outer, entry });
				continue;
			}
			inner.push(source);
			for (const found of source.entries) {
				const path = `${entry.path}/${found.path}`;
				entries.push({ path, size: found.size });
				from.set(path, { source, entry: found });
			}
		}
		return {
			entries,
			bytes: checkEntries(entries, limits),
			async read({ path }) {
				const { source, entry } = from.get(path)!;
				return { ...(await source.read(entry)), path };
			},
			close
		};
	} catch (fault) {
		close();
		throw fault;
	}
}

function zipEntries(zip: yauzl.ZipFile): Promise<yauzl.Entry[]> {
	return new Promise((resolve, reject) => {
		const entries: yauzl.Entry[] = [];
		zip.on('entry', (entry: yauzl.Entry) => {
			if (!entry.fileName.endsWith('/')) entries.push(entry);
			zip.readEntry();
		});
		zip.on('end', () => resolve(entries));
		zip.on('error', reject);
		zip.readEntry();
	});
}

/** Plain words for what the archive reader reports. */
function zipFault(error: unknown): SourceFault {
	const said = error instanceof Error ? error.message : String(error);
	if (/invalid relative path|absolute path|invalid characters/.test(said))
		return new SourceFault(
			`The archive holds a path that leaves its folder (${said.split(': ').at(-1)}). Nothing was taken from it.`
		);
	return new SourceFault(
		'The archive is broken or no ZIP: its list of files cannot be read. Pack it again, or bring in the folder instead.'
	);
}

/** The one folder that all paths of an archive begin with, or nothing. */
function commonFolder(paths: string[]): string {
	const first = paths[0]?.split('/')[0];
	const prefix = `${first}/`;
	return first !== undefined && paths.every((path) => path.startsWith(prefix)) ? prefix : '';
}

function inflate(zip: yauzl.ZipFile, entry: yauzl.Entry, most: number): Promise<Buffer> {
	return new Promise((resolve, reject) => {
		zip.openReadStream(entry, (error, stream) => {
			if (error) return reject(error);
			const chunks: Buffer[] = [];
			let size = 0;
			stream.on('data', (chunk: Buffer) => {
				size += chunk.length;
				if (size > most) stream.destroy(new Error('more bytes than the archive promised'));
				else chunks.push(chunk);
			});
			stream.on('error', reject);
			stream.on('end', () => resolve(Buffer.concat(chunks)));
		});
	});
}

const ZIP_OPTIONS = { lazyEntries: true, autoClose: false };

const openFile = (file: string) =>
	new Promise<yauzl.ZipFile>((resolve, reject) =>
		yauzl.open(file, ZIP_OPTIONS, (error, opened) => (error ? reject(zipFault(error)) : resolve(opened)))
	);

const openBytes = (bytes: Buffer) =>
	new Promise<yauzl.ZipFile>((resolve, reject) =>
		yauzl.fromBuffer(bytes, ZIP_OPTIONS, (error, opened) =>
			error ? reject(zipFault(error)) : resolve(opened)
		)
	);

/** A ZIP file. A folder around everything is taken off. @throws SourceFault */
export const openZip = async (file: string, limits = LIMITS): Promise<Source> =>
	zipSource(await openFile(file), limits, limits.levels, true);

async function zipSource(
	zip: yauzl.ZipFile,
	limits: typeof LIMITS,
	levels: number,
	strip: boolean
): Promise<Source> {
	try {
		const found = await zipEntries(zip).catch((error) => {
			throw zipFault(error);
		});
		const prefix = strip ? commonFolder(found.map((entry) => entry.fileName)) : '';
		const byPath = new Map(found.map((entry) => [entry.fileName.slice(prefix.length), entry]));
		const entries = [...byPath]
			.map(([path, entry]) => ({ path, size: entry.uncompressedSize }))
			.sort((a, b) => (a.path < b.path ? -1 : 1));
		const plain: Source = {
			entries,
			bytes: checkEntries(entries, limits),
			async read(entry) {
				const content = await inflate(zip, byPath.get(entry.path)!, Math.min(entry.size, limits.total)).catch(
					() => {
						throw new SourceFault(
							`${entry.path} cannot be unpacked: the archive is damaged there. Nothing was taken from it.`
						);
					}
				);
				const digest = await sha256(content);
				return {
					path: entry.path,
					size: content.length,
					sha256: digest,
					bytes: content.length > limits.opened ? null : content
				};
			},
			close: () => zip.close()
		};
		return await withArchives(plain, limits, levels, async (entry) => {
			const { bytes } = entry.size > limits.opened ? { bytes: null } : await plain.read(entry);
			return bytes && openBytes(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
		});
	} catch (error) {
		zip.close();
		throw error;
	}
}

/** A folder, or a file that is a ZIP. @throws SourceFault */
export async function openSource(path: string, limits = LIMITS): Promise<Source> {
	const info = await stat(path).catch((error: NodeJS.ErrnoException) => {
		const why =
			error.code === 'ENAMETOOLONG'
				? 'is longer than this machine allows'
				: 'does not exist or cannot be read';
		throw new SourceFault(`The path ${path.length > 80 ? `${path.slice(0, 60)}…` : path} ${why}.`);
	});
	if (info.isDirectory()) return openFolder(path, limits);
	const head = Buffer.alloc(2);
	const handle = await open(path);
	await handle.read(head, 0, 2, 0).finally(() => handle.close());
	if (info.size === 0) throw new SourceFault('The file is empty; there is nothing in it to bring in.');
	if (head.toString('latin1') !== 'PK')
		throw new SourceFault('This file is no ZIP archive. Bring in a folder or a ZIP.');
	return openZip(path, limits);
}

/** Makes sure that something can be opened, without looking at all that is in a folder. @throws SourceFault */
export async function checkSource(path: string): Promise<void> {
	const info = await stat(path).catch(() => null);
	if (!info?.isDirectory()) (await openSource(path)).close();
}

/** All files of a source that are small enough to be opened. */
export async function readAll(source: Source): Promise<Map<string, Uint8Array>> {
	const files = new Map<string, Uint8Array>();
	for (const entry of source.entries) {
		const { bytes } = await source.read(entry);
		if (bytes) files.set(entry.path, bytes);
	}
	source.close();
	return files;
}
