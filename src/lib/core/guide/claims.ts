import type { ReadHints } from '../formats';
import type { Encoding } from '../text';
import { folderIn } from './fields';
import { globMatcher, isGlob } from './glob';
import type { Guide, KindGuide } from './schema';

/** The kind that a file's records are of, and the language it is in where the kind has languages. */
export interface Claim {
	kind: string;
	language?: string;
	/** Its records are not there but taken out of the layers below. */
	removes?: true;
}

const matchers = new Map<string, (path: string) => boolean>();

/** Whether a path matches a glob of the guide. */
export function matchPath(glob: string, path: string): boolean {
	let matcher = matchers.get(glob);
	if (!matcher) matchers.set(glob, (matcher = globMatcher(glob)));
	return matcher(path);
}

/** The globs of a guide, with the kind of each: those that are plain paths by path, the others in order. */
interface Globs {
	plain: Map<string, { at: number; claim: Claim }>;
	patterns: { at: number; glob: string; claim: Claim }[];
	known: Map<string, Claim | null>;
}

const globs = new WeakMap<Guide, Globs>();

function globsOf(guide: Guide): Globs {
	const found: Globs = { plain: new Map(), patterns: [], known: new Map() };
	let at = 0;
	const add = (glob: string, claim: Claim) => {
		at++;
		if (isGlob(glob)) found.patterns.push({ at, glob, claim });
		else if (!found.plain.has(glob)) found.plain.set(glob, { at, claim });
	};
	for (const [kind, { files, removes = [] }] of Object.entries(guide.kinds)) {
		for (const glob of removes) add(glob.replaceAll('{mod}', '*'), { kind, removes: true });
		for (const glob of files) {
			if (!glob.includes('{language}')) add(glob, { kind });
			else
				for (const language of Object.keys(guide.words?.languages ?? {}))
					add(glob.replaceAll('{language}', language), { kind, language });
		}
	}
	return found;
}

/** Which kind claims a file; the first that does, in the order of the guide. */
export function claimOf(guide: Guide, path: string): Claim | null {
	let all = globs.get(guide);
	if (!all) globs.set(guide, (all = globsOf(guide)));
	let claim = all.known.get(path);
	if (claim === undefined) {
		const plain = all.plain.get(path);
		const pattern = all.patterns.find(({ at, glob }) => (!plain || at < plain.at) && matchPath(glob, path));
		claim = pattern?.claim ?? plain?.claim ?? null;
		all.known.set(path, claim);
	}
	return claim;
}

/** What the path of a file says of the record in it: the name of the file, of the folder by which files differ, or both. */
export function nameFromPath(
	path: string,
	which: KindGuide['id'] = 'file',
	globs: readonly string[] = []
): string {
	const stem = path
		.split('/')
		.at(-1)!
		.replace(/\.[^.]*$/, '');
	const folder = folderIn(globs, path) ?? stem;
	return which === 'file' ? stem : which === 'folder' ? folder : `${folder}/${stem}`;
}

/** What the guide says on how to read a file. */
export function hintsFor(guide: Guide, path: string): ReadHints {
	const claim = claimOf(guide, path);
	const kind = claim && guide.kinds[claim.kind];
	if (!kind) return {};
	const { key, element, separator, at, written } = kind;
	const named = nameFromPath(path, kind.id, kind.files);
	const said = {
		key,
		element,
		separator,
		at,
		...written,
		encoding: undefined,
		// A file that is one record is named by its own name, where people described it.
		id: kind.id ? named : key === undefined && !kind.inferred ? nameFromPath(path, 'file') : undefined,
		prefix: kind.id && named
	};
	return Object.fromEntries(Object.entries(said).filter(([, value]) => value !== undefined)) as ReadHints;
}

/** The encoding that the guide says for a file; undefined where it is told from the bytes. */
export function encodingFor(guide: Guide, path: string): Encoding | undefined {
	const claim = claimOf(guide, path);
	return claim ? guide.kinds[claim.kind]!.written?.encoding : undefined;
}

/** A pattern with its braces filled in; null when one of the values is absent or empty. */
export function fillPattern(pattern: string, value: (name: string) => string | undefined): string | null {
	let missing = false;
	const filled = pattern.replace(/\{([^}]+)\}/g, (_, name: string) => {
		const found = value(name);
		if (!found) missing = true;
		return found ?? '';
	});
	return missing ? null : filled;
}

/** The path in a mod of the file that takes records of a kind out of the layers below; null where none can. */
export function removesPath({ removes = [] }: KindGuide, mod: string): string | null {
	const paths = removes.map((path) => fillPattern(path, (name) => ({ mod })[name]));
	return paths.find((path) => path !== null && !/[*?[\]]/.test(path)) ?? null;
}

/** The path in a mod at which new texts of a language are written. */
export function textPath(guide: Guide, language: string, mod: string): string | null {
	const write = guide.words && guide.kinds[guide.words.kind]?.write;
	return write ? fillPattern(write, (name) => ({ language, mod })[name]) : null;
}
