import { matchPath, type DerivedGuide, type Guide } from '../guide';
import { digestOf } from '../text';
import type { Sources } from './derived';

/** The files that a program of the game's tools makes, in the order of the guide. */
export const programsOf = ({ derived = [] }: Guide): DerivedGuide[] =>
	derived.filter(({ as }) => as === 'program');

/**
 * What tells one state of all that such a file is made from from the next.
 * @param mine the files of my mod, with what other programs made before
 * @param below all paths that the layers below have
 * @returns a digest; null where it is not to be made: my mod has nothing that it is made from, or nobody has such a file
 */
export function sourcesDigest(
	{ file, from, program, arguments: words, always }: DerivedGuide,
	mine: Sources['mine'],
	below: ReadonlySet<string>
): string | null {
	if (always !== true && !mine.has(file) && !below.has(file)) return null;
	const own = [...mine]
		.filter(([path]) => path !== file && from.some((glob) => matchPath(glob, path)))
		.sort(([a], [b]) => (a < b ? -1 : 1));
	if (own.length === 0) return null;
	const lines = own.map(([path, bytes]) => `${digestOf(bytes)} ${path}`);
	return digestOf(new TextEncoder().encode([JSON.stringify([file, program, words]), ...lines].join('\n')));
}
