// What the files of a layer tell of the game, kept beside what was read of them: a big game that did not change is not
// analysed again each time it is opened.
import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Guide } from '$core/guide';
import { recalled } from '$core/infer';
import { type Layer } from '$core/stack';
import { guideSteps } from '$core/model';
import { keepMade, madeOf } from '../cache';
import { codeFolder } from '../settings';

/** Files from which on it is worth keeping; of fewer files, bytes. */
const WORTH = { files: 12, bytes: 200_000 };

/** Whether what some files of a layer tell is kept. */
export function isFoundOnce(owner: Layer['owner'], files: Iterable<{ size: number }>): boolean {
	if (owner === 'me') return false;
	let [count, bytes] = [0, 0];
	for (const { size } of files) {
		count++;
		bytes += size;
		if (count >= WORTH.files || bytes >= WORTH.bytes) return true;
	}
	return false;
}

/** Which build of the application this is: the same in the server and in its worker. */
const versionOf = (): string => {
	const said = join(codeFolder(), 'build/app/client/_app/version.json');
	return existsSync(said) ? readFileSync(said, 'utf8') : '';
};
let version: string | null = null;

/** All that the finding depends on: the program, what people said, the paths, and each file as it was read. */
function keyOf(guide: Guide, layer: Layer, read: readonly string[]): string {
	const hash = createHash('sha256');
	for (const part of [(version ??= versionOf()), layer.owner, JSON.stringify(guide), ...read])
		hash.update(part).update('\n');
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
	if (!isFoundOnce(layer.owner, layer.files.values())) return inSteps(guideSteps(guide, layer));
	const key = keyOf(guide, layer, read);
	const kept = madeOf(key);
	if (kept) return recalled(guide, JSON.parse(Buffer.from(kept).toString('utf8')) as Guide);
	const found = await inSteps(guideSteps(guide, layer));
	// Before the import that asks for it is done: whoever opens the game then looks for it.
	keepMade(key, null, Buffer.from(JSON.stringify(found)));
	return found;
}
