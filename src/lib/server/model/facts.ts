// Where facts are kept: beside the database, under all that they depend on; what is not there is read, a few small files
// here and now, others in threads.
import { unpackFacts, type LocalFacts } from '$core/facts';
import type { How } from '$core/stack';
import { breath } from '../breath';
import { bytesOf, isEmpty, isMade, keepMade, madeOf } from '../cache';
import readHere, { type ToRead } from '../worker/reader';
import { factsKey, readInWorker } from './readers';

/** A file of which facts are asked for. */
export interface Wanted {
	path: string;
	sha256: string;
	how: How;
	/** Its bytes, where they are at hand. */
	bytes?: Uint8Array;
}

/** Files that one task of a worker thread reads. */
const A_TASK = 32;
/** What is kept for a file that is no text. */
const NO_TEXT = new Uint8Array(0);

/** Files and bytes that are sooner read than sent to a thread: what one edit changes. */
const LITTLE = { files: 4, bytes: 128 * 1024 };
const isLittle = (files: readonly ToRead[]): boolean =>
	files.length <= LITTLE.files && files.reduce((sum, { bytes }) => sum + bytes.length, 0) <= LITTLE.bytes;

export const keyOf = ({ sha256, path, how }: Wanted): string => factsKey(sha256, path, how);

/** Reads what is not kept yet, and keeps it. @param soon whether it is written beside other work */
async function readMissing(files: readonly Wanted[], soon: boolean): Promise<Map<Wanted, Uint8Array>> {
	const tasks = Array.from({ length: Math.ceil(files.length / A_TASK) }, (_, nth) =>
		files.slice(nth * A_TASK, (nth + 1) * A_TASK)
	);
	const found = new Map<Wanted, Uint8Array>();
	await Promise.all(
		tasks.map(async (task) => {
			const toRead: ToRead[] = [];
			for (const { path, sha256, how, bytes } of task) {
				toRead.push({ path, bytes: bytes ?? bytesOf(sha256), how });
				await breath();
			}
			const read = await (isLittle(toRead) ? readHere(toRead) : readInWorker(toRead));
			task.forEach((file, nth) => {
				const packed = read[nth] ?? NO_TEXT;
				found.set(file, packed);
				keepMade(keyOf(file), file.sha256, packed, soon);
			});
		})
	);
	return found;
}

/** The facts of files, in their order; null for those that are no text. */
export async function factsOf(files: readonly Wanted[]): Promise<(LocalFacts | null)[]> {
	const facts = new Map<Wanted, LocalFacts | null>();
	const take = (file: Wanted, packed: Uint8Array) =>
		facts.set(file, packed.length === 0 ? null : unpackFacts(packed));
	const missing: Wanted[] = [];
	for (const file of files) {
		const packed = madeOf(keyOf(file));
		await breath();
		if (packed) take(file, packed);
		else missing.push(file);
		await breath();
	}
	for (const [file, packed] of await readMissing(missing, true)) {
		take(file, packed);
		await breath();
	}
	return files.map((file) => facts.get(file)!);
}

/** Makes sure that the facts of files are kept; gives those of which there are any. */
export async function keepFacts<T extends Wanted>(files: readonly T[]): Promise<T[]> {
	await readMissing(
		files.filter((file) => !isMade(keyOf(file))),
		false
	);
	return files.filter((file) => !isEmpty(keyOf(file)));
}
