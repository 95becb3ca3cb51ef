import { addTo } from '../gather';
import { fillPattern } from './braces';
import { VALUE, type PartHints, type ReadHints } from '../formats';
import type { Encoding } from '../text';
import { folderIn } from './fields';
import { globMatcher, isGlob } from './glob';
import { patchTarget } from './patches';
import type { Guide, KindGuide } from './schema';

/** A kind that records of a file are of, and the language it is in where the kind has languages. */
export interface Claim {
	kind: string;
	/** Its number among the kinds that claim the file. */
	spec: number;
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

/** What claims files, and its number among all that do. */
interface Ranked {
	at: number;
	claim: Omit<Claim, 'spec'>;
}

/** The globs of a guide, with the kinds that have each: those that are plain paths, and the others. */
interface Globs {
	plain: Map<string, Ranked[]>;
	patterns: Map<string, Ranked[]>;
	/** The patterns by the folder that all paths begin with that they hold. */
	byFolder: Map<string, string[]>;
	known: Map<string, readonly Claim[]>;
	/** The claims of files that the same globs hold, by these: there are few of them. */
	shared: Map<string, readonly Claim[]>;
}

const globs = new WeakMap<Guide, Globs>();

/** The folder that all paths begin with that a glob holds, with its slash; empty for any. */
function folderOfGlob(glob: string): string {
	const sign = glob.search(/[*?[\]{}\\]/);
	const folder = glob.slice(0, sign < 0 ? glob.length : sign).lastIndexOf('/') + 1;
	const rest = glob.slice(folder);
	// Two stars may stand for nothing, and then the slash before them is not there.
	const mayBeNothing = rest.includes('**') && /^[*/]+$|\{/.test(rest);
	return glob.slice(0, mayBeNothing ? glob.lastIndexOf('/', folder - 2) + 1 : folder);
}

/** The patterns that hold a path. */
function holding({ byFolder }: Globs, path: string): string[] {
	const found: string[] = [];
	let end = 0;
	do {
		for (const glob of byFolder.get(path.slice(0, end)) ?? []) if (matchPath(glob, path)) found.push(glob);
		end = path.indexOf('/', end) + 1;
	} while (end > 0);
	return found;
}

function globsOf(guide: Guide): Globs {
	const found: Globs = {
		plain: new Map(),
		patterns: new Map(),
		byFolder: new Map(),
		known: new Map(),
		shared: new Map()
	};
	let at = 0;
	const add = (glob: string, claim: Ranked['claim']) => {
		at++;
		const list = isGlob(glob) ? found.patterns : found.plain;
		const known = list.get(glob);
		if (known) known.push({ at, claim });
		else list.set(glob, [{ at, claim }]);
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
	for (const glob of found.patterns.keys()) addTo(found.byFolder, folderOfGlob(glob), glob);
	return found;
}

/** Where records of a kind stand; null for anywhere. */
const placeOf = ({ at, except, element }: KindGuide): string | null => {
	if (at === undefined && element === undefined) return null;
	return except ? 'beside' : `${at ?? ''}\n${element ?? ''}`;
};

/**
 * Whether records of a kind could be taken for those of others: they are at one place, and neither kind says which.
 * @param others the places of those that do not say which
 */
const clashes = (kind: KindGuide, others: ReadonlySet<string | null>): boolean =>
	!kind.where && others.size > 0 && (placeOf(kind) === null || others.has(null) || others.has(placeOf(kind)));

/**
 * The kinds that claim a file, in the order of the guide: several where each says which of the records are its own, by
 * their place, the word they are under or a field.
 */
export function claimsOf(guide: Guide, path: string): readonly Claim[] {
	let all = globs.get(guide);
	if (!all) globs.set(guide, (all = globsOf(guide)));
	let claims = all.known.get(path);
	if (!claims) {
		const held = holding(all, path);
		// A path that is named by itself is alone with what claims it.
		const name = (all.plain.has(path) ? [path, ...held] : held).join('\0');
		claims = all.shared.get(name);
		if (!claims) {
			const ranked = [...(all.plain.get(path) ?? []), ...held.flatMap((glob) => all.patterns.get(glob)!)];
			claims = chosen(
				guide,
				ranked.sort((a, b) => a.at - b.at)
			);
			all.shared.set(name, claims);
		}
		all.known.set(path, claims);
	}
	return claims;
}

/** Of what would claim a file, what can do so beside what comes before it. */
function chosen(guide: Guide, ranked: readonly Ranked[]): Claim[] {
	const found: Claim[] = [];
	const [kinds, places] = [new Set<string>(), new Set<string | null>()];
	for (const { claim } of ranked) {
		const about = guide.kinds[claim.kind]!;
		if (claim.removes || found[0]?.removes) {
			if (found.length === 0) found.push({ ...claim, spec: 0 });
		} else if (!kinds.has(claim.kind) && !clashes(about, places)) {
			found.push({ ...claim, spec: found.length });
			kinds.add(claim.kind);
			if (!about.where) places.add(placeOf(about));
		}
	}
	return found;
}

/** Which kind claims a file; the first that does, in the order of the guide. */
export const claimOf = (guide: Guide, path: string): Claim | null => claimsOf(guide, path)[0] ?? null;

/** What tells the records of a kind from others in its files, in words; empty where these hold no others. */
export function selectionInWords({
	at,
	except,
	element,
	where
}: Pick<KindGuide, 'at' | 'except' | 'element' | 'where'>): string {
	if (where) return `${where.field} ${where.begins ? 'begins with' : 'is'} ${where.is.join(' or ')}`;
	if (element !== undefined) return `under “${element}”`;
	if (except) return `beside ${except.map((path) => `“${path}”`).join(' and ')}`;
	return at ? `in “${at}”` : '';
}

/** How a kind claims a file; null where it does not. */
export const claimBy = (guide: Guide, path: string, kind: string): Claim | null =>
	claimsOf(guide, path).find((claim) => claim.kind === kind) ?? null;

/**
 * The kind that claims the n-th record of a file; null where none does.
 * @param parts the parts of the file in their order, each with the number of its first record; none where it has none
 */
export function claimAt(
	guide: Guide,
	path: string,
	parts: readonly { spec: number; first: number }[] | undefined,
	nth: number
): Claim | null {
	const spec = parts ? parts.findLast(({ first }) => first <= nth)?.spec : 0;
	return (spec === undefined ? undefined : claimsOf(guide, path)[spec]) ?? null;
}

/**
 * What the path of a file says of the record in it: the name of the file, of the folder by which files differ, both, or
 * the whole path; without the ending.
 */
export function nameFromPath(
	path: string,
	which: KindGuide['id'] = 'file',
	globs: readonly string[] = []
): string {
	const whole = path.replace(/\.[^./]*$/, '');
	if (which === 'path') return whole;
	const stem = whole.split('/').at(-1)!;
	const folder = folderIn(globs, path) ?? stem;
	return which === 'file' ? stem : which === 'folder' ? folder : `${folder}/${stem}`;
}

const hints = new WeakMap<KindGuide, PartHints>();

const defined = <T extends object>(said: T): T =>
	Object.fromEntries(Object.entries(said).filter(([, value]) => value !== undefined)) as T;

/** Whether some records of a kind are a single value, where others have fields. */
const saidInAWord = ({ inferred, at, fields }: KindGuide): boolean =>
	inferred === true &&
	typeof at === 'string' &&
	Object.hasOwn(fields, VALUE) &&
	Object.keys(fields).length > 1;

/** Where the id stands by which a record is known that has several; undefined where none has. */
export const firstIdOf = ({ key, severalIds }: KindGuide): string | undefined =>
	severalIds && key !== undefined ? `${key}[0]` : undefined;

/** Whether a path is that of an item of the list under a key. */
export const isItemUnder = (key: string, path: string): boolean =>
	path.startsWith(`${key}[`) && /^\[\d+\]$/.test(path.slice(key.length));

/** Which of some fields hold the ids of records that have several, in their order; none for most kinds. */
export function severalIdsIn({ key, severalIds }: KindGuide, fields: readonly string[]): string[] {
	if (!severalIds || key === undefined) return [];
	return fields.filter((field) => isItemUnder(key, field));
}

/** What the guide says on how to read the records of a kind in a file. */
function partHints(kind: KindGuide, path: string): PartHints {
	const { key, keyParts, element, at, except, where, inherits } = kind;
	const spare = inherits?.pattern ?? firstIdOf(kind);
	const leaves = saidInAWord(kind) ? true : undefined;
	// A file that is one record is named by its own name, where people described it.
	if (!kind.id && key === undefined && keyParts === undefined && !kind.inferred)
		return defined({ element, at, except, where, id: nameFromPath(path, 'file') }) as PartHints;
	if (kind.id) {
		const named = nameFromPath(path, kind.id, kind.files);
		return defined({
			key,
			keyParts,
			spare,
			element,
			at,
			leaves,
			except,
			where,
			id: named,
			prefix: named
		}) as PartHints;
	}
	// The same for all files.
	let known = hints.get(kind);
	if (!known)
		hints.set(
			kind,
			(known = defined({ key, keyParts, spare, element, at, leaves, except, where }) as PartHints)
		);
	return known;
}

/** Whether what a kind says on reading is the same for all of its files. */
const saysTheSame = ({ id, key, keyParts, inferred }: KindGuide): boolean =>
	!id && (key !== undefined || keyParts !== undefined || inferred === true);

const shared = new WeakMap<readonly Claim[], ReadHints>();

const NONE: ReadHints = { none: true };

/** Whether a file is what a map lies on. */
const isGround = ({ places }: Guide, path: string): boolean =>
	places !== undefined &&
	Object.values(places).some(({ ground }) => ground && matchPath(ground.file.replaceAll('{id}', '*'), path));

/** What the guide says on how to read a file; the same object for all files of which it says the same. */
export function hintsFor(guide: Guide, path: string): ReadHints {
	// What changes another file is read as that, not as data of its own.
	if (patchTarget(guide, path) || isGround(guide, path)) return NONE;
	const claims = claimsOf(guide, path);
	let known = shared.get(claims);
	if (!known) {
		known = hintsBy(guide, claims, path);
		if (claims.every(({ kind }) => saysTheSame(guide.kinds[kind]!))) shared.set(claims, known);
	}
	return known;
}

function hintsBy(guide: Guide, claims: readonly Claim[], path: string): ReadHints {
	const kind = claims[0] && guide.kinds[claims[0].kind];
	if (!kind) return {};
	const { separator, written } = kind;
	const whole = defined({ separator, ...written, encoding: undefined }) as ReadHints;
	const parts = claims.map((claim) => partHints(guide.kinds[claim.kind]!, path));
	const { where, ...only } = parts[0]!;
	const kinds = claims.map((claim) => guide.kinds[claim.kind]!);
	// People spoke of some of what is in it: the rest is detected. Beside what stands at the top there is none.
	const others =
		kinds.some(({ inferred }) => !inferred) &&
		kinds.every((one) => one.element !== undefined || one.except !== undefined || !!one.at);
	const said = others ? { ...whole, others } : whole;
	return parts.length === 1 && !where ? { ...said, ...only, whole: true } : { ...said, parts };
}

/** The encoding that the guide says for a file; undefined where it is detected from the bytes. */
export function encodingFor(guide: Guide, path: string): Encoding | undefined {
	const claim = claimOf(guide, path);
	return claim ? guide.kinds[claim.kind]!.written?.encoding : undefined;
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

/**
 * What stands in the path of a file where a language of the game should, if the game would read it as texts but for that;
 * null for any other file.
 */
export function strangeLanguage(guide: Guide, path: string): string | null {
	const { words, kinds } = guide;
	const files = words ? (kinds[words.kind]?.files ?? []) : [];
	// What is only taken for data may be texts all the same.
	if (claimsOf(guide, path).some(({ kind }) => kind === words?.kind || !kinds[kind]!.inferred)) return null;
	for (const glob of files) {
		const [before = '', after] = glob.split('{language}');
		if (after === undefined || before.includes('**')) continue;
		if (!matchPath(glob.replaceAll('{language}', '*'), path)) continue;
		const depth = before.split('/').length - 1;
		const [from, to] = [before.split('/').at(-1)!, after.split('/')[0]!];
		const part = path.split('/')[depth]!;
		const edges = [from, after.includes('/') ? to : ''];
		const name = part.slice(edges[0]!.length, part.length - edges[1]!.length);
		const bare = after.includes('/') ? name : name.replace(/\..*$/, '');
		if (bare !== '' && !edges.some((edge) => edge.includes('*'))) return bare;
	}
	return null;
}
