import { createHash, webcrypto } from 'node:crypto';
import {
	closeSync,
	createReadStream,
	fstatSync,
	mkdtempSync,
	openSync,
	readSync,
	rmSync,
	writeSync
} from 'node:fs';
import { lstat, readdir, realpath, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, sep } from 'node:path';
import type { Readable } from 'node:stream';
import yauzl from 'yauzl';
import { SourceFault } from './fault';
import { openInside } from './inside';
import { isTapeHead, unpackTape } from './tar';

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
	levels: 3,
	/** Archives within archives, unpacked so that they can be looked into, all together. */
	inner: 2 ** 30
};

export type Limits = typeof LIMITS;

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
	/** What was left out, and why: pipes, devices, links that lead out. */
	left: string[];
	bytes: number;
	read(entry: SourceEntry): Promise<SourceFile>;
	/** The bytes alone; null where they are more than are opened. */
	bytesOf(entry: SourceEntry): Promise<Uint8Array | null>;
	close(): void;
}

function checkEntries(entries: SourceEntry[], limits: typeof LIMITS): number {
	if (entries.length > limits.files)
		throw new SourceFault(
			`There are ${entries.length} files; at most ${limits.files} can be imported at once. Choose a folder further in.`
		);
	const long = entries.find((entry) => entry.path.length > limits.path);
	if (long)
		throw new SourceFault(
			`The path ${long.path.slice(0, 60)}… has ${long.path.length} characters; the limit is ${limits.path}. Shorten its folders' names or leave it out.`
		);
	const bytes = entries.reduce((sum, entry) => sum + entry.size, 0);
	if (bytes > limits.total)
		throw new SourceFault(
			`Unpacked, this is ${Math.round(bytes / 2 ** 20)} MB; at most ${Math.round(limits.total / 2 ** 20)} MB can be imported. Choose a smaller part.`
		);
	return bytes;
}

/** What is at a path of a folder: a file, or why it is left out; nothing for a link that leads nowhere within. */
async function entryAt(
	root: string,
	path: string
): Promise<(SourceEntry & { real?: string }) | string | null> {
	const full = join(root, path);
	const info = await lstat(full).catch(() => null);
	if (!info) return `${path} could not be found under this name`;
	if (info.isFile()) return { path, size: info.size };
	if (!info.isSymbolicLink()) return `${path} is not a plain file`;
	// A link may be followed only to a file inside the folder that was given.
	const target = await realpath(full).catch(() => null);
	if (!target?.startsWith(root + sep)) return `${path} is a link that leads out of the folder`;
	const there = await stat(target);
	return there.isFile() ? { path, size: there.size, real: target.slice(root.length + 1) } : null;
}

interface Listing {
	entries: SourceEntry[];
	/** Where links within the folder lead. */
	real: Map<string, string>;
	left: string[];
}

/** All files below a folder, in the order of their names. */
async function walk(root: string): Promise<Listing> {
	const real = new Map<string, string>();
	const left: string[] = [];
	const below = async (folder: string): Promise<SourceEntry[]> => {
		const items = await readdir(join(root, folder), { withFileTypes: true }).catch(
			(fault: NodeJS.ErrnoException) => {
				if (folder === '') throw new SourceFault(`The folder ${root} cannot be read (${fault.code}).`);
				left.push(`${folder} cannot be read (${fault.code})`);
				return [];
			}
		);
		const found = await Promise.all(
			items
				.sort((a, b) => (a.name < b.name ? -1 : 1))
				.map(async (item): Promise<SourceEntry[]> => {
					const path = folder ? `${folder}/${item.name}` : item.name;
					if (item.isDirectory()) return item.name === '.git' ? [] : below(path);
					const entry = await entryAt(root, path);
					if (typeof entry === 'string') left.push(entry);
					if (typeof entry === 'string' || entry === null) return [];
					if (entry.real !== undefined) real.set(path, entry.real);
					return [{ path, size: entry.size }];
				})
		);
		return found.flat();
	};
	const entries = await below('');
	return { entries, real, left: left.sort() };
}

/** Worked out in a thread of its own, so that other files are read meanwhile. */
const sha256 = async (bytes: Uint8Array) =>
	Buffer.from(await webcrypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>)).toString('hex');

/** Reads an open file to its end, at most so many bytes. @throws SourceFault where it has more */
function readOpen(file: number, path: string, most: number): Buffer {
	const { size } = fstatSync(file);
	const bytes = Buffer.alloc(Math.min(size, most) + 1);
	let at = 0;
	for (;;) {
		const got = readSync(file, bytes, at, bytes.length - at, null);
		if (got === 0) return bytes.subarray(0, at);
		at += got;
		if (at === bytes.length) throw new SourceFault(`${path} grew while it was read. Try again.`);
	}
}

async function digestOfOpen(file: number): Promise<string> {
	const hash = createHash('sha256');
	const stream = createReadStream('', { fd: file, autoClose: false, start: 0 });
	for await (const chunk of stream) hash.update(chunk as Buffer);
	return hash.digest('hex');
}

/** A folder on this machine. Links that lead out of it are not followed. @throws SourceFault */
export async function openFolder(folder: string, limits = LIMITS): Promise<Source> {
	const root = await realpath(folder).catch(() => null);
	if (root === null || !(await lstat(root)).isDirectory())
		throw new SourceFault(`There is no folder ${folder}.`);
	const { entries, real, left } = await walk(root);
	const placeOf = (path: string) => real.get(path) ?? path;
	const plain: Source = {
		entries,
		left,
		bytes: checkEntries(entries, limits),
		async read(entry) {
			const file = openInside(root, placeOf(entry.path));
			try {
				if (entry.size > limits.opened) return { ...entry, sha256: await digestOfOpen(file), bytes: null };
				const content = readOpen(file, entry.path, limits.opened);
				return { path: entry.path, size: content.length, sha256: await sha256(content), bytes: content };
			} finally {
				closeSync(file);
			}
		},
		async bytesOf({ path, size }) {
			if (size > limits.opened) return null;
			const file = openInside(root, placeOf(path));
			try {
				return readOpen(file, path, limits.opened);
			} finally {
				closeSync(file);
			}
		},
		close: () => undefined
	};
	return withArchives(plain, limits, limits.levels, budgetFor(limits), async (entry, levels, budget) => {
		const file = openInside(root, placeOf(entry.path));
		const head = Buffer.alloc(HEAD);
		readSync(file, head, 0, HEAD, 0);
		const sort = sortOf(head);
		if (sort === null) {
			closeSync(file);
			return null;
		}
		spend(budget, 'archives', 1);
		if (sort === 'zip') return zipSource(await openFile(file), limits, levels, budget, false);
		const stream = createReadStream('', { fd: file, start: 0 });
		return tapeSource(stream, sort, limits, budget);
	});
}

/** What archives within archives may come to, all levels together. */
interface Budget {
	archives: number;
	/** Bytes that are unpacked to be looked into. */
	bytes: number;
	files: number;
}

const budgetFor = (limits: Limits): Budget => ({ archives: 1000, bytes: limits.inner, files: limits.files });

function spend(budget: Budget, what: keyof Budget, amount: number): void {
	budget[what] -= amount;
	if (budget[what] >= 0) return;
	throw new SourceFault(
		'The archives within it hold more than can be looked into: at most 1000 archives, 1 GB of them unpacked, and 100,000 files. Unpack the ones you need, and import their folder.'
	);
}

/** What an archive is, by its first bytes. */
type ArchiveSort = 'zip' | 'tape' | 'zipped tape';

/** Bytes at the beginning of a file by which archives are known. */
const HEAD = 512;

function sortOf(head: Buffer): ArchiveSort | null {
	if (head.toString('latin1', 0, 4) === 'PK\x03\x04') return 'zip';
	if (isTapeHead(head)) return 'tape';
	return head[0] === 0x1f && head[1] === 0x8b ? 'zipped tape' : null;
}

/** Endings of files that are no archives to look into, whatever they begin with: texts, pictures, sounds, papers. */
const OTHERS =
	/\.(?:json|ya?ml|xml|html?|txt|md|csv|tsv|ini|cfg|conf|toml|lua|properties|po|js|ts|py|png|jpe?g|gif|webp|svg|ogg|mp3|wav|flac|ttf|otf|woff2?|docx|xlsx|pptx|od[tsp]|gz(?<!tar\.gz))$/i;

/** What archive a file could be by its path; its first bytes decide. */
const mayBeArchive = ({ path, size }: SourceEntry): boolean => size > 21 && !OTHERS.test(path);

/** The archive inside an entry as a source; null where it is none, and the entry is a file like any other. */
type OpenInner = (entry: SourceEntry, levels: number, budget: Budget) => Promise<Source | null>;

/** The archive in an entry as a source; null where it is none after all. @throws SourceFault where the bounds are passed */
async function openArchive(
	entry: SourceEntry,
	levels: number,
	budget: Budget,
	openInner: OpenInner
): Promise<Source | null> {
	return openInner(entry, levels, budget).catch((fault) => {
		if (budget.files < 0 || budget.archives < 0 || budget.bytes < 0) throw fault;
		return null;
	});
}

/** The source with the files of its archives in place of the archives: `pack.zip/data/a.tsv`. */
async function withArchives(
	outer: Source,
	limits: typeof LIMITS,
	levels: number,
	budget: Budget,
	openInner: OpenInner
): Promise<Source> {
	if (levels === 0 || !outer.entries.some(mayBeArchive)) return outer;
	const entries: SourceEntry[] = [];
	const from = new Map<string, { source: Source; entry: SourceEntry }>();
	const inner: Source[] = [];
	const close = () => {
		for (const source of inner) source.close();
		outer.close();
	};
	try {
		for (const entry of outer.entries) {
			const source = mayBeArchive(entry) ? await openArchive(entry, levels - 1, budget, openInner) : null;
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
			left: [...outer.left, ...inner.flatMap((source) => source.left)],
			bytes: checkEntries(entries, limits),
			async read({ path }) {
				const { source, entry } = from.get(path)!;
				return { ...(await source.read(entry)), path };
			},
			bytesOf({ path }) {
				const { source, entry } = from.get(path)!;
				return source.bytesOf(entry);
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
		'The archive is damaged or not a ZIP file: its list of files cannot be read. Pack it again, or import the folder instead.'
	);
}

/** The one folder that all paths of an archive begin with, or nothing. */
function commonFolder(paths: string[]): string {
	const first = paths[0]?.split('/')[0];
	const prefix = `${first}/`;
	return first !== undefined && paths.every((path) => path.startsWith(prefix)) ? prefix : '';
}

const streamOf = (zip: yauzl.ZipFile, entry: yauzl.Entry): Promise<Readable> =>
	new Promise((resolve, reject) =>
		zip.openReadStream(entry, (error, stream) => (error ? reject(error) : resolve(stream)))
	);

/** The bytes of an entry, at most as many as it promised. */
async function inflate(zip: yauzl.ZipFile, entry: yauzl.Entry): Promise<Buffer> {
	const bytes = Buffer.alloc(entry.uncompressedSize);
	let at = 0;
	for await (const chunk of await streamOf(zip, entry)) {
		if (at + (chunk as Buffer).length > bytes.length) throw new Error('more bytes than the archive promised');
		at += (chunk as Buffer).copy(bytes, at);
	}
	if (at !== bytes.length) throw new Error('fewer bytes than the archive promised');
	return bytes;
}

async function digestOfEntry(zip: yauzl.ZipFile, entry: yauzl.Entry): Promise<string> {
	const hash = createHash('sha256');
	for await (const chunk of await streamOf(zip, entry)) hash.update(chunk as Buffer);
	return hash.digest('hex');
}

/** The first bytes of an entry. */
async function headOf(zip: yauzl.ZipFile, entry: yauzl.Entry): Promise<Buffer> {
	const head = Buffer.alloc(HEAD);
	let at = 0;
	const stream = await streamOf(zip, entry);
	for await (const chunk of stream) {
		at += (chunk as Buffer).copy(head, at);
		if (at >= HEAD) break;
	}
	stream.destroy();
	return head;
}

/** An archive of the tape kind as a source. Archives in it are files like any other. */
async function tapeSource(
	stream: Readable,
	sort: ArchiveSort,
	limits: Limits,
	budget: Budget
): Promise<Source> {
	const tape = await unpackTape(stream, sort === 'zipped tape', (bytes) => {
		spend(budget, 'files', 1);
		spend(budget, 'bytes', bytes);
	});
	const byPath = new Map(tape.files.map((file) => [file.path, file]));
	return {
		entries: tape.files.map(({ path, size }) => ({ path, size })),
		left: [],
		bytes: tape.files.reduce((sum, { size }) => sum + size, 0),
		async read({ path, size }) {
			const bytes = tape.read(byPath.get(path)!);
			return { path, size, sha256: await sha256(bytes), bytes: size > limits.opened ? null : bytes };
		},
		bytesOf: async ({ path, size }) => (size > limits.opened ? null : tape.read(byPath.get(path)!)),
		close: tape.close
	};
}

/** Unpacks an archive that is in another to a file without a name, which goes when it is closed. */
async function unpackAside(zip: yauzl.ZipFile, entry: yauzl.Entry): Promise<yauzl.ZipFile> {
	const folder = mkdtempSync(join(tmpdir(), 'kettle-archive-'));
	const place = join(folder, 'inner.zip');
	const file = openSync(place, 'w+');
	rmSync(folder, { recursive: true });
	try {
		for await (const chunk of await streamOf(zip, entry)) writeSync(file, chunk as Buffer);
		return await openFile(file);
	} catch (fault) {
		closeSync(file);
		throw fault;
	}
}

/** The same for a mod, of which every file counts. */
export const MOD_LIMITS: Limits = { ...LIMITS, opened: 512 * 2 ** 20, levels: 0 };

const ZIP_OPTIONS = { lazyEntries: true, autoClose: false };

/** An archive in an open file; closing it closes the file. */
const openFile = (file: number) =>
	new Promise<yauzl.ZipFile>((resolve, reject) =>
		yauzl.fromFd(file, ZIP_OPTIONS, (error, opened) => (error ? reject(zipFault(error)) : resolve(opened)))
	);

/** A ZIP file. A folder around everything is taken off. @throws SourceFault */
export async function openZip(path: string, limits = LIMITS): Promise<Source> {
	const file = openSync(path, 'r');
	const zip = await openFile(file).catch((fault) => {
		closeSync(file);
		throw fault;
	});
	return zipSource(zip, limits, limits.levels, budgetFor(limits), true);
}

async function zipSource(
	zip: yauzl.ZipFile,
	limits: Limits,
	levels: number,
	budget: Budget,
	strip: boolean
): Promise<Source> {
	try {
		if (zip.entryCount > limits.files)
			throw new SourceFault(
				`The archive holds ${zip.entryCount} files; at most ${limits.files} can be imported at once.`
			);
		if (!strip) spend(budget, 'files', zip.entryCount);
		const found = await zipEntries(zip).catch((error) => {
			throw zipFault(error);
		});
		const prefix = strip ? commonFolder(found.map((entry) => entry.fileName)) : '';
		const byPath = new Map(found.map((entry) => [entry.fileName.slice(prefix.length), entry]));
		const entries = [...byPath]
			.map(([path, entry]) => ({ path, size: entry.uncompressedSize }))
			.sort((a, b) => (a.path < b.path ? -1 : 1));
		const damaged = (path: string) => () => {
			throw new SourceFault(
				`${path} cannot be unpacked: the archive is damaged there. Nothing was taken from it.`
			);
		};
		const plain: Source = {
			entries,
			left: [],
			bytes: checkEntries(entries, limits),
			async read(entry) {
				const own = byPath.get(entry.path)!;
				if (entry.size > limits.opened) {
					const digest = await digestOfEntry(zip, own).catch(damaged(entry.path));
					return { ...entry, sha256: digest, bytes: null };
				}
				const content = await inflate(zip, own).catch(damaged(entry.path));
				return { path: entry.path, size: content.length, sha256: await sha256(content), bytes: content };
			},
			bytesOf: async ({ path, size }) =>
				size > limits.opened ? null : inflate(zip, byPath.get(path)!).catch(damaged(path)),
			close: () => zip.close()
		};
		return await withArchives(plain, limits, levels, budget, async (entry, below) => {
			const own = byPath.get(entry.path)!;
			const sort = sortOf(await headOf(zip, own));
			if (sort === null) return null;
			spend(budget, 'archives', 1);
			if (sort !== 'zip') return tapeSource(await streamOf(zip, own), sort, limits, budget);
			spend(budget, 'bytes', entry.size);
			return zipSource(await unpackAside(zip, own), limits, below, budget, false);
		});
	} catch (error) {
		zip.close();
		throw error;
	}
}

/** Whether something is a folder. @throws SourceFault where it is not there, or neither a folder nor a plain file */
async function isFolder(path: string): Promise<boolean> {
	const info = await stat(path).catch((error: NodeJS.ErrnoException) => {
		const why =
			error.code === 'ENAMETOOLONG'
				? 'is longer than this machine allows'
				: 'does not exist or cannot be read';
		throw new SourceFault(`The path ${path.length > 80 ? `${path.slice(0, 60)}…` : path} ${why}.`);
	});
	if (info.isDirectory()) return true;
	if (!info.isFile())
		throw new SourceFault(
			`${path} is neither a folder nor a plain file. Choose the folder or the archive that holds the game’s data.`
		);
	if (info.size === 0) throw new SourceFault('The file is empty; there is nothing to import.');
	const head = Buffer.alloc(2);
	const file = openSync(path, 'r');
	try {
		readSync(file, head, 0, 2, 0);
	} finally {
		closeSync(file);
	}
	if (head.toString('latin1') !== 'PK')
		throw new SourceFault('This is not a ZIP file. Import a folder or a ZIP file.');
	return false;
}

/** A folder, or a file that is a ZIP. @throws SourceFault */
export const openSource = async (path: string, limits = LIMITS): Promise<Source> =>
	(await isFolder(path)) ? openFolder(path, limits) : openZip(path, limits);

/** Makes sure that something can be opened, without looking at all that is in it. @throws SourceFault */
export async function checkSource(path: string): Promise<void> {
	if (!(await isFolder(path))) (await openZip(path, { ...LIMITS, levels: 0 })).close();
}

/**
 * All files of a source that are small enough to be opened.
 * @param whole whether a larger one is a fault: it would be missing from what is made of them
 * @throws SourceFault
 */
export async function readAll(source: Source, whole = false): Promise<Map<string, Uint8Array>> {
	const files = new Map<string, Uint8Array>();
	try {
		for (const entry of source.entries) {
			const bytes = await source.bytesOf(entry);
			if (bytes) files.set(entry.path, bytes);
			else if (whole) throw tooLarge(entry);
		}
	} finally {
		source.close();
	}
	return files;
}

/** A file of a mod that is too large to be kept. */
export const tooLarge = ({ path, size }: SourceEntry): SourceFault =>
	new SourceFault(
		`${path} is ${Math.round(size / 2 ** 20)} MB; the limit for files of a mod is ${MOD_LIMITS.opened / 2 ** 20} MB. Nothing was left out: take the file out of the mod, and add it to the pack by hand.`
	);
