// Pictures and sounds of a record: those that its fields name, and those that are named after it.
import mime from 'mime';
import { fieldOf, fillPattern } from '$core/guide';
import { valueOf, type EffectiveRecord, type Stack } from '$core/stack';
import type { AssetView } from '$core/views';

const MOST = 12;

/** What a path is, by its ending. */
function sortOf(path: string): AssetView['sort'] {
	const type = mime.getType(path) ?? '';
	return type.startsWith('image/') ? 'picture' : type.startsWith('audio/') ? 'sound' : 'other';
}

/** The latest layer that has a file; null where none has. */
function layerOf({ layers }: Stack, path: string): string | null {
	return layers.findLast(({ files, paths }) => files.has(path) || paths?.has(path))?.id ?? null;
}

/** The files of a record, each once. */
export function assetsOf(stack: Stack, record: EffectiveRecord): AssetView[] {
	const guide = stack.guide.kinds[record.kind]!;
	const named = [...record.values].flatMap(([path, { value }]) => {
		const about = fieldOf(guide, path);
		return about?.type === 'file' && value !== '' ? [{ label: about.title ?? path, path: value }] : [];
	});
	const made = (guide.assets ?? []).flatMap(({ label, path: pattern }) => {
		const path = fillPattern(pattern, (name) => (name === 'id' ? record.id : valueOf(record, name)));
		return path ? [{ label, path }] : [];
	});
	const seen = new Set<string>();
	return [...named, ...made]
		.filter(({ path }) => !seen.has(path) && seen.add(path))
		.slice(0, MOST)
		.map(({ label, path }) => ({ label, path, layer: layerOf(stack, path), sort: sortOf(path) }));
}
