import { isMainThread } from 'node:worker_threads';
import { packFacts } from '$core/facts';
import { readFacts, type How } from '$core/stack';
import { giveWayHere } from './polite';

// The server reads a few small files itself, by the same code.
if (!isMainThread) giveWayHere();

/** One file to be read. */
export interface ToRead {
	path: string;
	bytes: Uint8Array;
	how: How;
}

/** Reads some files; of each the packed facts, or null where it is no text. */
export default function read(files: ToRead[]): (Uint8Array | null)[] {
	return files.map(({ path, bytes, how }) => {
		const facts = readFacts(path, bytes, how);
		return facts && packFacts(facts);
	});
}
