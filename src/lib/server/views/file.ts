// How the letters of one file are read, for the page of the file.
import { COMMON, SURE, type TextFile } from '$core/text';
import { patchTarget, type Guide } from '$core/guide';
import type { Layer, LayerOwner, Stack } from '$core/stack';
import type { EncodingView } from '$core/views';

/** The two that every project has once can be named by what they are, in addresses that are shared. */
const ONCE: Record<string, LayerOwner> = { base: 'game', mine: 'me' };

/** The layer of an address: by its id, or by what it is. */
export const layerIn = ({ layers }: Stack, name: string): Layer | undefined =>
	layers.find(({ id }) => id === name) ?? layers.find(({ owner }) => owner === ONCE[name]);

/** The encoding of a text, how sure it is, and what else its bytes could be. */
export function encodingOf(text: TextFile): EncodingView {
	const { encoding, told, confidence, others } = text;
	const guesses = told === 'guess' ? [{ encoding, confidence }, ...others] : [{ encoding, confidence: null }];
	const named = new Set(guesses.map((choice) => choice.encoding));
	const rest = COMMON.filter((name) => !named.has(name)).map((name) => ({
		encoding: name,
		confidence: null
	}));
	return {
		encoding,
		told,
		confidence,
		unsure: told === 'guess' && confidence < SURE,
		choices: [...guesses, ...rest]
	};
}

/** What a file of a layer is a patch for, and why it does nothing where it does not; null where it is no patch. */
export function patchView(
	guide: Guide,
	layer: Layer,
	path: string
): { target: string; applied: boolean; why: string | null } | null {
	const found = patchTarget(guide, path);
	if (!found) return null;
	const unapplied = layer.unapplied?.find((one) => one.path === path);
	const { target } = found;
	return { target, applied: layer.files.get(target)?.patched !== undefined, why: unapplied?.why ?? null };
}
