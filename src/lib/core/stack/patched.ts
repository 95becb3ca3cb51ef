// Files of a layer that are patches of other files: what comes of them stands in the layer as the file they are made for.
import { bytesOf, contentOf } from '../change';
import { settleFacts, type Pool } from '../facts';
import { JsonPatchFault, patchJson, type JsonPatchForm } from '../formats';
import { patchTarget, type Guide } from '../guide';
import { decode, digestOf, type TextFile } from '../text';
import { fileOf, howAsText, readFacts, type How, type LayerFile } from './files';
import { isOn, type Layer } from './layer';

/** A patch file of a layer that does nothing, and why. */
export interface Unapplied {
	path: string;
	/** The file that it is made for. */
	target: string;
	/** A sentence. */
	why: string;
	/** Whether some layer has that file. */
	isThere: boolean;
	/** The patch was applied, and the file is as it was before. */
	same?: boolean;
}

/** The files that a layer has itself, without what its patches make of others. */
export function ownFiles(files: Layer['files']): Layer['files'] {
	if (![...files.values()].some(({ patched }) => patched)) return files;
	const own = new Map<string, LayerFile>();
	for (const [path, file] of files) {
		let raw: LayerFile | undefined = file;
		while (raw?.patched) raw = raw.patched.isOwn ? raw.patched.over : undefined;
		if (raw) own.set(path, raw);
	}
	return own;
}

/** What was made of a file by a patch, for each way to read it. */
const made = new WeakMap<LayerFile, WeakMap<LayerFile, Map<string, LayerFile | Unapplied>>>();

function apply(
	patch: LayerFile,
	over: LayerFile,
	{
		target,
		form,
		isOwn,
		how,
		pool
	}: { target: string; form: JsonPatchForm; isOwn: boolean; how: How; pool: Pool }
): LayerFile | Unapplied {
	const failed = (why: string, same?: boolean): Unapplied => ({
		path: patch.path,
		target,
		why,
		isThere: true,
		...(same ? { same } : {})
	});
	const below = over.text;
	const own = decode(patch.bytes());
	if (!below || own instanceof Uint8Array) return failed('One of the two is not text.');
	try {
		const text = patchJson(below.text, own.text, form);
		if (text === below.text) return failed('The file already says all of it.', true);
		const now: TextFile = { ...below, text };
		const bytes = bytesOf(now);
		const facts = readFacts(target, bytes, how);
		const file = fileOf(target, contentOf(now).length, () => bytes, how, facts && settleFacts(facts, pool));
		return Object.assign(file, { patched: { by: patch.path, over, isOwn, id: digestOf(bytes) } });
	} catch (fault) {
		if (!(fault instanceof JsonPatchFault)) throw fault;
		return failed(fault.message);
	}
}

/**
 * A layer with what its patch files make of the files below. A patch applies to the layer's own file of the path where
 * it has one, else to that of the nearest layer below.
 * @param how how a file of a path is read in this layer
 */
export function withPatched<L extends Pick<Layer, 'files'>>(
	layer: L,
	below: readonly Layer[],
	{ guide, how, pool }: { guide: Guide; how: (path: string) => How; pool: Pool }
): L & Pick<Layer, 'unapplied'> {
	if (!guide.patches?.length || below.length === 0) return layer;
	const own = ownFiles(layer.files);
	const files = new Map(own);
	const unapplied: Unapplied[] = [];
	for (const patch of own.values()) {
		const found = patchTarget(guide, patch.path);
		if (!found) continue;
		const { target } = found;
		const isOwn = files.has(target);
		const over =
			files.get(target) ?? below.findLast((one) => isOn(one) && one.files.has(target))?.files.get(target);
		if (!over) {
			unapplied.push({
				path: patch.path,
				target,
				why: `No layer below has a file “${target}”.`,
				isThere: false
			});
			continue;
		}
		const reading = how(target);
		let byPatch = made.get(over);
		if (!byPatch) made.set(over, (byPatch = new WeakMap()));
		let byReading = byPatch.get(patch);
		if (!byReading) byPatch.set(patch, (byReading = new Map()));
		const key = `${found.form} ${String(isOwn)} ${howAsText(reading)}`;
		const result = byReading.get(key) ?? apply(patch, over, { ...found, isOwn, how: reading, pool });
		byReading.set(key, result);
		if ('why' in result) unapplied.push(result);
		else files.set(target, result);
	}
	const sorted = new Map([...files].sort(([a], [b]) => (a < b ? -1 : 1)));
	return { ...layer, files: sorted, ...(unapplied.length > 0 ? { unapplied } : { unapplied: undefined }) };
}
