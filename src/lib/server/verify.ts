// A layer against its source: which files are no longer what was brought in, and since when that is known.
import { openSource, SourceFault } from '../files';
import { lastVerification, readLayerSource, insertVerification, type Difference } from './db/verifications';
import { db } from './db/pool';
import type { Progress } from './imports';

/** Compares a layer's files, by digest, with what its source holds now, and writes the result down. @throws SourceFault */
export async function verifyLayer(layer: string, progress: Progress): Promise<Difference[]> {
	const known = await readLayerSource(db(), layer);
	if (!known || known.source === '')
		throw new SourceFault('This layer has no folder or archive to compare with.');
	const source = await openSource(known.source);
	try {
		await progress.total(source.entries.length, source.bytes);
		const now = new Date().toISOString();
		const before = new Map(
			((await lastVerification(db(), layer))?.differs ?? []).map((difference) => [
				difference.path,
				difference
			])
		);
		const differs: Difference[] = [];
		const tell = (path: string, what: Difference['what']) => {
			const earlier = before.get(path);
			differs.push({ path, what, since: earlier?.what === what ? earlier.since : now });
		};
		const left = new Map(known.files);
		for (const entry of source.entries) {
			const { sha256 } = await source.read(entry);
			const recorded = left.get(entry.path);
			left.delete(entry.path);
			if (recorded === undefined) tell(entry.path, 'new');
			else if (recorded !== sha256) tell(entry.path, 'changed');
			await progress.done(entry.path, 1, entry.size);
		}
		for (const path of left.keys()) tell(path, 'missing');
		differs.sort((a, b) => (a.path < b.path ? -1 : 1));
		await insertVerification(db(), layer, source.entries.length, differs);
		return differs;
	} finally {
		source.close();
	}
}
