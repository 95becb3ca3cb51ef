// Paths of fields as the guide names them: one statement for all items of a list, and for all names of a map.
import type { FieldGuide, KindGuide } from './schema';

/** Path of the id itself, and of the folder that a record lies in. */
export const ID = '#id';
export const FOLDER = '#folder';

/** A path with the numbers of list items left out: `able[2].id` is `able[].id`. */
export const patternOf = (path: string): string =>
	path.includes('[') ? path.replace(/\[\d+\]/g, '[]') : path;

/** A path whose last name is left open: `ends.lost` is `ends.*`; null where it has but one name. */
export function openPattern(path: string): string | null {
	const dot = path.lastIndexOf('.');
	return dot < 0 ? null : `${path.slice(0, dot)}.*`;
}

/** The name under which the guide speaks of a path; null where it does not. */
export function spokenPath(kind: Pick<KindGuide, 'fields'>, path: string): string | null {
	if (Object.hasOwn(kind.fields, path)) return path;
	const pattern = patternOf(path);
	if (pattern !== path && Object.hasOwn(kind.fields, pattern)) return pattern;
	const open = openPattern(pattern);
	return open !== null && Object.hasOwn(kind.fields, open) ? open : null;
}

/** What the guide says of a field. */
export function fieldOf(kind: Pick<KindGuide, 'fields'> | undefined, path: string): FieldGuide | undefined {
	const spoken = kind ? spokenPath(kind, path) : null;
	return spoken === null ? undefined : kind!.fields[spoken];
}

/** The path of another field of the same list item: for `ends[1].id` and `ends[].as` it is `ends[1].as`. */
export function beside(path: string, pattern: string): string {
	const numbers = [...path.matchAll(/\[(\d+)\]/g)].map((match) => match[1]!);
	let at = 0;
	return pattern.replace(/\[\]/g, () => `[${numbers[at++] ?? 0}]`);
}

/** The folder by which files of a kind differ: what the first open folder of its globs stands for; null for none. */
export function folderIn(globs: readonly string[], path: string): string | null {
	for (const glob of globs) {
		const at = glob.split('/').indexOf('*');
		if (at >= 0 && at < glob.split('/').length - 1) return path.split('/')[at] ?? null;
	}
	return path.split('/').at(-2) ?? null;
}
