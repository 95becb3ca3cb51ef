import { decode } from '$core/text';
import { readDocument } from '$core/formats';
import { encodingFor, hintsFor, type Guide } from '$core/guide';

/** What reading one file found: the work of one task of the pool. */
export interface Reading {
	records: number;
	problems: number;
}

/** Reads one file as data; null where it is none. */
export default function read({
	path,
	bytes,
	guide
}: {
	path: string;
	bytes: Uint8Array;
	guide: Guide;
}): Reading | null {
	const doc = readDocument(path, decode(bytes, encodingFor(guide, path)).text, hintsFor(guide, path));
	return doc && { records: doc.records.length, problems: doc.problems.length };
}
