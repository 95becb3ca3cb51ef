// Files of layers that are patches of other files.
import type { JsonPatchForm } from '../formats';
import type { Guide } from './schema';

/** What a path of a layer is a patch for, by the guide; null where it is none. */
export function patchTarget(
	{ patches = [] }: Guide,
	path: string
): { target: string; form: JsonPatchForm } | null {
	for (const { files, form } of patches) {
		const at = files.indexOf('{path}');
		const [before, after] = [files.slice(0, at), files.slice(at + '{path}'.length)];
		if (path.length <= before.length + after.length) continue;
		if (path.startsWith(before) && path.endsWith(after))
			return { target: path.slice(before.length, path.length - after.length), form };
	}
	return null;
}
