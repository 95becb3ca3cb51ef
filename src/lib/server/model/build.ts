// Drives the builder of the core: facts and findings come from where they are kept, bytes from the database.
import { hasBytes, bytesOf, keepBytes } from '../cache';
import { breath, inSteps } from '../breath';
import { readBlobs } from '../db/blobs';
import type { LayerRow } from '../db/projects';
import { db, type Queries } from '../db/pool';
import type { Guide } from '$core/guide';
import {
	loadSteps,
	startMemory,
	type BuildOptions,
	type LayerSource,
	type ToRead,
	type Wish
} from '$core/model';
import { factsOf, keyOf, type Wanted } from './facts';
import { findOnce, isFoundOnce } from './found';

/**
 * The bytes of a digest, when they are needed. Made apart from the loading: a file outlives it by many versions, and
 * would hold on to all that was loaded with it.
 */
const bytesFrom = (sha256: string) => () => bytesOf(sha256);

/** What of a layer counts for what it says. */
export type LayerAsRead = Pick<
	LayerRow,
	'id' | 'title' | 'owner' | 'on' | 'option' | 'encodings' | 'revision' | 'files'
>;

/** A layer as it is in the database, for the builder. */
export const sourceOf = (row: LayerAsRead): LayerSource => ({
	id: row.id,
	title: row.title,
	owner: row.owner,
	on: row.on,
	...(row.option === null ? {} : { option: row.option }),
	paths: new Set(row.files.map(({ path }) => path)),
	chosen: new Map(Object.entries(row.encodings)),
	revision: row.revision,
	files: row.files
		.filter(({ kept }) => kept)
		.map(({ path, size, sha256 }) => ({ path, size, id: sha256, bytes: bytesFrom(sha256) }))
});

/** The key of a file's facts, for the builder. */
export const factsKeyOf: BuildOptions['keyOf'] = ({ id, path }, how) => keyOf({ sha256: id, path, how });

/** The facts of files, of which the bytes are fetched where they are not at hand; undefined for bytes that are gone. */
async function factsFor(q: Queries, files: readonly ToRead[]) {
	const wanted = files.map(({ file: { path, id }, how }): Wanted => ({ path, sha256: id, how }));
	const missing = wanted.filter(({ sha256 }) => !hasBytes(sha256));
	const blobs = await readBlobs(q, [...new Set(missing.map(({ sha256 }) => sha256))]);
	for (const [sha256, bytes] of blobs) keepBytes(sha256, bytes, true);
	const there = wanted.filter(({ sha256 }) => hasBytes(sha256));
	const read = await factsOf(there);
	const facts = new Map(there.map((file, at) => [file, read[at]!]));
	return wanted.map((file) => facts.get(file));
}

/** Goes through the steps of a building. @param q the database, or the transaction that holds the project */
export async function build<T>(q: Queries, steps: Generator<Wish, T, unknown>): Promise<T> {
	let answer: unknown;
	for (;;) {
		const step = steps.next(answer);
		if (step.done) return step.value;
		const wish = step.value;
		if (wish.for === 'facts') answer = await factsFor(q, wish.files);
		else if (wish.for === 'finding') answer = await findOnce(wish.guide, wish.layer, wish.keys, inSteps);
		else answer = await breath();
	}
}

/**
 * Finds out what the layers of a new project tell, for whoever opens it: away from the server's own thread, and kept
 * where that looks first.
 */
export async function findAhead(layers: readonly LayerAsRead[], guide: Guide): Promise<void> {
	if (!layers.some(({ owner, files }) => isFoundOnce(owner, files))) return;
	const steps = loadSteps({
		layers: layers.map(sourceOf),
		guide,
		memory: startMemory(),
		keyOf: factsKeyOf
	});
	await build(db(), steps);
}
