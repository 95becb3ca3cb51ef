// Bytes of files by their digest, and what was made of them by its key, kept beside the database: what is opened is read
// from here when it is needed, so that a big game is not in memory. A cache: everything is checked when it is
// read, and what is missing or was cut is fetched from the database, or made, again.
import { createHash } from 'node:crypto';
import {
	existsSync,
	mkdirSync,
	openSync,
	closeSync,
	readdirSync,
	readFileSync,
	readSync,
	renameSync,
	rmSync,
	statSync,
	writeFileSync
} from 'node:fs';
import { mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { createSyncFn } from 'synckit';
import { codeFolder, homeFolder } from './settings';

/** Bytes of a SHA-256. */
const DIGEST = 32;

const cache = () => join(homeFolder(), 'cache');
const rootOf = (shelf: 'bytes' | 'made') => join(cache(), shelf);
const placeOf = (shelf: 'bytes' | 'made', name: string) => join(rootOf(shelf), name.slice(0, 2), name);

const digest = (...parts: Uint8Array[]): Buffer => {
	const hash = createHash('sha256');
	for (const part of parts) hash.update(part);
	return hash.digest();
};

let nth = 0;

/**
 * Writes a file whole or not at all. Nothing waits for the disk: what a power failure cuts or loses is told by its digest
 * when it is read, and the database, which does wait, has the bytes.
 */
function put(place: string, bytes: Uint8Array): void {
	const coming = `${place}.${process.pid}.${++nth}`;
	mkdirSync(join(place, '..'), { recursive: true });
	try {
		writeFileSync(coming, bytes);
		renameSync(coming, place);
	} catch (fault) {
		rmSync(coming, { force: true });
		throw fault;
	}
}

/** What is being written beside other work: read from here until it is in its place. */
const coming = new Map<string, Uint8Array>();
/** Bytes that may wait for that; whoever brings more waits for the disk. */
const MOST_COMING = 32 * 2 ** 20;
let waiting = 0;
let last: Promise<void> = Promise.resolve();

/** The same beside other work, one file after another. That it fails costs nothing but time: what is missing is made again. */
function putSoon(place: string, bytes: Uint8Array): void {
	if (waiting + bytes.length > MOST_COMING) return put(place, bytes);
	coming.set(place, bytes);
	waiting += bytes.length;
	last = last.then(async () => {
		const own = `${place}.${process.pid}.${++nth}`;
		try {
			await mkdir(join(place, '..'), { recursive: true });
			await writeFile(own, bytes);
			await rename(own, place);
		} catch (fault) {
			console.error(`cache: ${(fault as Error).message}`);
			await rm(own, { force: true }).catch(() => undefined);
		} finally {
			if (coming.get(place) === bytes) coming.delete(place);
			waiting -= bytes.length;
		}
	});
}

/** What a place holds; null where nothing is there. */
function get(place: string): Uint8Array | null {
	const soon = coming.get(place);
	if (soon) return soon;
	try {
		return readFileSync(place);
	} catch (fault) {
		if ((fault as NodeJS.ErrnoException).code === 'ENOENT') return null;
		throw fault;
	}
}

const isThere = (place: string): boolean => coming.has(place) || existsSync(place);

/** Keeps bytes under their digest. @param soon whether they are written beside other work */
export const keepBytes = (sha256: string, bytes: Uint8Array, soon = false): void =>
	(soon ? putSoon : put)(placeOf('bytes', sha256), bytes);

/** Whether something is kept under a digest. Whether it is whole is told when it is read. */
export const hasBytes = (sha256: string): boolean => isThere(placeOf('bytes', sha256));

/** The bytes of a file are kept nowhere any more. */
export class BytesGone extends Error {}

let fetch: ((sha256: string) => Uint8Array | null) | null = null;

/** The bytes of a digest from the database, waited for: whoever needs them is in the middle of its work. */
function fetchNow(sha256: string): Uint8Array {
	fetch ??= createSyncFn<(sha256: string) => Promise<Uint8Array | null>>(
		join(codeFolder(), 'build/fetcher.js'),
		{ timeout: 20_000 }
	);
	const bytes = fetch(sha256);
	if (!bytes) throw new BytesGone(`The bytes of ${sha256} are not kept any more.`);
	return bytes;
}

/** The bytes of a digest, checked; from the database where the cache has them no more, or not as they were. @throws BytesGone */
export function bytesOf(sha256: string): Uint8Array {
	const kept = get(placeOf('bytes', sha256));
	if (kept && digest(kept).toString('hex') === sha256) return kept;
	const bytes = fetchNow(sha256);
	keepBytes(sha256, bytes);
	return bytes;
}

/**
 * Keeps under a key what was made of bytes.
 * @param source digest of these bytes; null for what was made of many
 * @param soon whether it is written beside other work
 */
export function keepMade(key: string, source: string | null, made: Uint8Array, soon = false): void {
	const head = source === null ? Buffer.alloc(DIGEST) : Buffer.from(source, 'hex');
	(soon ? putSoon : put)(placeOf('made', key), Buffer.concat([head, digest(head, made), made]));
}

/** What is kept under a key, checked; null where there is nothing, or it was cut. */
export function madeOf(key: string): Uint8Array | null {
	const kept = get(placeOf('made', key));
	if (!kept || kept.length < 2 * DIGEST) return null;
	const [head, check, made] = [
		kept.subarray(0, DIGEST),
		kept.subarray(DIGEST, 2 * DIGEST),
		kept.subarray(2 * DIGEST)
	];
	return digest(head, made).equals(check) ? made : null;
}

/** Whether something is kept under a key. Whether it is whole is told when it is read. */
export const isMade = (key: string): boolean => isThere(placeOf('made', key));

/** Whether nothing was made of the bytes: a file of which nothing is said. */
export function isEmpty(key: string): boolean {
	const place = placeOf('made', key);
	return (coming.get(place)?.length ?? statSync(place).size) === 2 * DIGEST;
}

/** Bytes that the cache may hold. */
const MOST = Number(process.env.KETTLE_CACHE_MB ?? 8192) * 2 ** 20;
/** Milliseconds for which a file that is being written may be there. */
const COMING = 3_600_000;

interface Entry {
	place: string;
	name: string;
	size: number;
	at: number;
}

function entriesOf(shelf: 'bytes' | 'made'): Entry[] {
	const root = rootOf(shelf);
	if (!existsSync(root)) return [];
	return readdirSync(root, { recursive: true, withFileTypes: true }).flatMap((item) => {
		if (!item.isFile()) return [];
		const place = join(item.parentPath, item.name);
		const { size, mtimeMs } = statSync(place);
		return [{ place, name: item.name, size, at: mtimeMs }];
	});
}

/** The digest of the bytes that something was made of; null where it was made of many. */
function sourceOf(place: string): string | null {
	const head = Buffer.alloc(DIGEST);
	const file = openSync(place, 'r');
	try {
		readSync(file, head, 0, DIGEST, 0);
	} finally {
		closeSync(file);
	}
	return head.every((byte) => byte === 0) ? null : head.toString('hex');
}

/**
 * Takes out what nobody names any more, what a killed process left half written, and, where the cache is still larger
 * than it may be, what was written longest ago. Returns the bytes that went.
 * @param named of some digests those that the database has
 */
export async function sweepCache(named: (digests: string[]) => Promise<Set<string>>): Promise<number> {
	const bytes = entriesOf('bytes');
	const made = entriesOf('made').map((entry) => ({ ...entry, source: sourceOf(entry.place) }));
	const digests = new Set([...bytes.map(({ name }) => name), ...made.flatMap(({ source }) => source ?? [])]);
	const known = await named([...digests].filter((name) => /^[0-9a-f]{64}$/.test(name)));
	// Earlier versions kept both sorts in one place, unchecked; nothing reads that any more.
	for (const name of existsSync(cache()) ? readdirSync(cache()) : [])
		if (/^[0-9a-f]{2}$/.test(name)) rmSync(join(cache(), name), { recursive: true, force: true });
	const old = Date.now() - COMING;
	const goes = (entry: Entry & { source?: string | null }) =>
		/^[0-9a-f]{64}$/.test(entry.name)
			? entry.source !== null && !known.has(entry.source ?? entry.name)
			: entry.at < old;
	const stays: Entry[] = [];
	let gone = 0;
	const take = ({ place, size }: Entry) => {
		rmSync(place, { force: true });
		gone += size;
	};
	for (const entry of [...bytes, ...made]) {
		if (goes(entry)) take(entry);
		else stays.push(entry);
	}
	let held = stays.reduce((sum, { size }) => sum + size, 0);
	for (const entry of stays.sort((a, b) => a.at - b.at)) {
		if (held <= MOST) break;
		take(entry);
		held -= entry.size;
	}
	return gone;
}
