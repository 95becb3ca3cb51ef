// What the files of a layer tell of the game, kept beside what was read of them: a big game that did not change is not
// analysed again each time it is opened.
import { createHash } from 'node:crypto';
import { version } from '$app/environment';
import type { Guide } from '$core/guide';
import { recalled } from '$core/infer';
import { type Layer } from '$core/stack';
import { guideSteps } from '$core/model';
import { keepMade, madeOf } from '../cache';

/** Files from which on it is worth keeping. */
const WORTH = 12;

/** All that the finding depends on: the program, what people said, the paths, and each file as it was read. */
function keyOf(guide: Guide, layer: Layer, read: readonly string[]): string {
	const hash = createHash('sha256');
	for (const part of [version, layer.owner, JSON.stringify(guide), ...read]) hash.update(part).update('\n');
	for (const path of [...(layer.paths ?? [])].sort()) hash.update(path).update('\n');
	return hash.digest('hex');
}

/**
 * The guide with what a layer tells, from the cache where the same was asked before.
 * @param read the keys of the layer's facts, in the order of its files
 */
export async function findOnce(
	guide: Guide,
	layer: Layer,
	read: readonly string[],
	inSteps: <T>(steps: Generator<unknown, T>) => Promise<T>
): Promise<Guide> {
	const last = lately.get(layer.files);
	if (last?.[0] === guide) return last[1];
	const found = await findNow(guide, layer, read, inSteps);
	lately.set(layer.files, [guide, found]);
	return found;
}

/** What was found last of files that are still the same. */
const lately = new WeakMap<Layer['files'], [Guide, Guide]>();

async function findNow(
	guide: Guide,
	layer: Layer,
	read: readonly string[],
	inSteps: <T>(steps: Generator<unknown, T>) => Promise<T>
): Promise<Guide> {
	if (layer.owner === 'me' || layer.files.size < WORTH) return inSteps(guideSteps(guide, layer));
	const key = keyOf(guide, layer, read);
	const kept = madeOf(key);
	if (kept) return recalled(guide, JSON.parse(Buffer.from(kept).toString('utf8')) as Guide);
	const found = await inSteps(guideSteps(guide, layer));
	keepMade(key, null, Buffer.from(JSON.stringify(found)), true);
	return found;
}
