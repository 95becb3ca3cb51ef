// Files that may form a kind together, by what they are like: by folder and shape, and by the same name in sibling folders.
import { asOne } from '../facts';
import { formatOf, WRAPPER } from '../formats';
import { groupedBy } from '../gather';
import { nameFromPath, type KindGuide } from '../guide';
import { alikeSteps } from './alike';
import { globsFor, type PathIndex } from './globs';
import type { DataFile, Group } from './group';
import { isNamed } from './keys';
import type { Constants } from './marks';
import { endingOf, fileNameOf, folderOf, stemOf } from './paths';
import { columnNames } from './sketch';

/** Files that may form a kind, before it has a name that no other has, and a key. */
export interface Draft extends Pick<
	Group,
	'globs' | 'files' | 'because' | 'names' | 'element' | 'where' | 'spare' | 'keyParts' | 'severalIds'
> {
	name: string;
	id?: KindGuide['id'];
	/** Whether each file is one record. */
	single?: boolean;
}

/**
 * How alike the columns of two files are, from 0 to 1: of files that are one record each, which may leave much out, how
 * much of the poorer the other has too; else how much both have of what either has. Ids say nothing, every kind has them.
 */
function overlap(a: DataFile, b: DataFile): number {
	const columns = ({ facts }: DataFile) => [...columnNames(facts)].filter((path) => path !== facts.key);
	const [few, many] = [columns(a), columns(b)].sort((x, y) => x.length - y.length) as [string[], string[]];
	const there = new Set(many);
	const both = few.filter((path) => there.has(path)).length;
	// Values under names are alike whatever they are of.
	if ([...few, ...many].every((path) => path === 'value')) return 0;
	const of = isSingle(a) && isSingle(b) ? few.length : few.length + many.length - both;
	return of === 0 ? 0 : both / of;
}

/** Files whose columns are alike, in the order of their paths: a file joins the first it resembles. */
function byShape(files: readonly DataFile[]): DataFile[][] {
	const clusters: { first: DataFile; files: DataFile[] }[] = [];
	for (const file of files) {
		const own = clusters.find(
			({ first }) => first.facts.format === file.facts.format && overlap(first, file) >= 0.4
		);
		if (own) own.files.push(file);
		else clusters.push({ first: file, files: [file] });
	}
	return clusters.map((cluster) => cluster.files);
}

/** Share of the ids that more than one of the files has. */
export function shared(files: readonly DataFile[]): number {
	const seen = new Map<number, number>();
	let all = 0;
	for (const { facts } of files)
		for (const id of new Set(facts.ids)) {
			all++;
			seen.set(id, (seen.get(id) ?? 0) + 1);
		}
	let twice = 0;
	for (const times of seen.values()) if (times > 1) twice += times;
	return all === 0 ? 0 : twice / all;
}

/** Whether a file is one record as a whole. */
export const isSingle = ({ facts }: DataFile) => facts.count === 1 && facts.at === null;
/** Whether a file has one record, as a whole or in a list. */
export const isAlone = ({ facts }: DataFile) => facts.count === 1;
/** Whether no record says its id itself. */
const unwritten = (files: readonly DataFile[]) => files.every(({ facts }) => !facts.written.includes(1));
/** Whether a file may be one record as a whole, although one alone does not show it. */
const maySingle = (files: readonly DataFile[]) =>
	files.every(({ facts }) => formatOf(facts.format!)?.traits.nested) && unwritten(files);

/** Parts that one record has at most. */
const MOST_PARTS = 40;

const AMONG_MANY = 'only the names of the files tell them apart';

/** Names of files that say nothing of what is in them: their folder does. */
const ANY_FILE = /^(?:all|data|list|rows|values|contents?|records?|entries|index|main)$/i;

/** What a file on its own calls what it holds. */
const fileWord = (path: string): string => {
	const folder = fileNameOf(folderOf(path));
	return folder !== '' && ANY_FILE.test(stemOf(path)) ? folder : stemOf(path);
};

/** What a file of several collections calls one of them; null where it has but one, or only says that there are some. */
function placeName({ facts: { at }, spec, collections }: DataFile): string | null {
	if (spec === undefined || !at) return null;
	const word = at.slice(at.lastIndexOf('.') + 1);
	// Of several, even one that is called by a word for whatever a file holds is told by it.
	return (WRAPPER.test(word) && collections === undefined) || /\W/.test(word) ? null : word;
}

function fromFolder(files: DataFile[], only: boolean): Draft[] {
	const folder = folderOf(files[0]!.path);
	const ending = endingOf(files[0]!.path);
	const single = files.every(isSingle) && maySingle(files);
	const loose = !single && unwritten(files);
	if (files.length === 1 || (!single && !loose && shared(files) > 0.2))
		return files.map((file) => ({
			name: placeName(file) ?? fileWord(file.path),
			names: [placeName(file) ?? [], stemOf(file.path), fileNameOf(folderOf(file.path))].flat(),
			globs: [file.path],
			files: [file],
			because: 'no other file is like it'
		}));
	const name = placeName(files[0]!) ?? (fileNameOf(folder) || stemOf(files[0]!.path));
	const glob = folder === '' ? `*${ending}` : `${folder}/*${ending}`;
	return [
		{
			name,
			names: [name],
			globs: only ? [glob] : files.map(({ path }) => path),
			files,
			because: `${files.length} files of one folder have the same columns${single || loose ? `, and ${AMONG_MANY}` : ''}`,
			...(single || loose ? { id: 'file' as const, single } : {})
		}
	];
}

/** Values that others refer to by a mark and their name, as a kind. */
export const fromConstants = ({ as, map, mark }: Constants): Draft => {
	const name = map.slice(map.lastIndexOf('.') + 1);
	return {
		name,
		names: [name, stemOf(as.path)],
		globs: [as.path],
		files: [as],
		because: `other files refer to its values by “${mark}” and their name`
	};
};

/** Files of one name in sibling folders, and files of one shape in sibling folders. */
function fromSiblings(files: readonly DataFile[]): { drafts: Draft[]; left: DataFile[] } {
	const drafts: Draft[] = [];
	const taken = new Set<DataFile>();
	const within = (file: DataFile) => folderOf(file.path).split('/');
	for (const [key, list] of groupedBy(
		files,
		(file) => `${folderOf(folderOf(file.path))}|${fileNameOf(file.path)}`
	)) {
		const folders = new Set(list.map(({ path }) => folderOf(path)));
		if (folders.size < 3 || within(list[0]!).length < 2) continue;
		const [cluster] = byShape(list);
		if (cluster!.length !== list.length) continue;
		const [above, name] = key.split('|') as [string, string];
		const written = !unwritten(list);
		drafts.push({
			name: stemOf(name),
			names: [stemOf(name), fileNameOf(above)],
			globs: [`${above}/*/${name}`],
			files: list,
			because: `${list.length} folders beside each other have a file of this name with the same columns`,
			...(written ? {} : { id: 'folder' as const, single: list.every(isSingle) && maySingle(list) })
		});
		for (const file of list) taken.add(file);
	}
	const deep = files.filter((file) => !taken.has(file) && within(file).length >= 3);
	// `<above>/<any>/<folder>/*.ending`, in several folders.
	for (const [key, list] of groupedBy(deep, (file) => {
		const parts = within(file);
		return `${parts.slice(0, -2).join('/')}|${parts.at(-1)}|${endingOf(file.path)}`;
	})) {
		const folders = new Set(list.map(({ path }) => folderOf(path)));
		const [cluster] = byShape(list);
		if (folders.size < 3 || cluster!.length !== list.length) continue;
		const [above, folder, ending] = key.split('|') as [string, string, string];
		drafts.push({
			name: folder,
			names: [folder],
			globs: [`${above}/*/${folder}/*${ending}`],
			files: list,
			because: `${folders.size} folders beside each other have such files in “${folder}”`,
			...(unwritten(list) ? { id: 'both' as const } : {})
		});
		for (const file of list) taken.add(file);
	}
	return { drafts, left: files.filter((file) => !taken.has(file)) };
}

/** Kinds of files that nothing but their place and columns tells apart. */
export function draftsFor(files: readonly DataFile[], known: PathIndex): Draft[] {
	const { drafts, left } = fromSiblings(files);
	for (const [, list] of groupedBy(left, ({ path, facts, spec, except }) =>
		JSON.stringify([
			folderOf(path),
			endingOf(path),
			facts.format,
			spec === undefined ? null : facts.at,
			except !== undefined
		])
	)) {
		const clusters = byShape(list);
		for (const cluster of clusters) {
			const { path } = cluster[0]!;
			const beside = known.byFolder.get(folderOf(path))?.get(endingOf(path));
			const only = clusters.length === 1 && beside === cluster.length;
			drafts.push(...fromFolder(cluster, only));
		}
	}
	return drafts;
}

/** The shortest of some parts of their paths that tells the files of a draft apart. */
export const tellingApart = (
	{ files, globs }: Draft,
	parts: readonly NonNullable<KindGuide['id']>[]
): NonNullable<KindGuide['id']> =>
	parts.find(
		(which) => new Set(files.map(({ path }) => nameFromPath(path, which, globs))).size === files.length
	) ?? 'path';

/** Files that were taken for lists of records, but have the same names in them as others beside: each is one record. */
export function structures(files: readonly DataFile[]): DataFile[] {
	const one = new Set<DataFile>();
	const named = files.filter(
		(file) => isNamed(file) && file.facts.count <= MOST_PARTS && formatOf(file.facts.format!)?.traits.nested
	);
	for (const list of groupedBy(named, ({ path, facts }) => `${folderOf(path)}\n${facts.format}`).values())
		if (list.length >= 3 && list[0]!.facts.at === '' && shared(list) > 0.8)
			for (const file of list) one.add(file);
	return files.map((file) => (one.has(file) ? { ...file, facts: asOne(file.facts) } : file));
}

/** The name of the innermost folder that all files are below; null where that is the game's own. */
function folderOfAll(files: readonly DataFile[]): string | null {
	const paths = files.map(({ path }) => folderOf(path).split('/'));
	const [first, ...others] = paths as [string[], ...string[][]];
	const apart = first.findIndex((part, nth) => others.some((other) => other[nth] !== part));
	const shared = apart < 0 ? first : first.slice(0, apart);
	const name = shared.at(-1) ?? '';
	return name === '' || ANY_FILE.test(name) ? null : name;
}

/** Drafts of one shape as one, although they are in several folders. In steps. */
export function* joinAlike(
	drafts: readonly Draft[],
	known: PathIndex,
	worldOf: (path: string) => string
): Generator<void, Draft[]> {
	const candidates = drafts.map((draft) => ({ files: draft.files, single: draft.single === true, draft }));
	const groups = yield* alikeSteps(candidates, worldOf);
	return groups.map((group): Draft => {
		if (group.length === 1) return group[0]!.draft;
		const files = group.flatMap((one) => one.files);
		const { single } = group[0]!;
		const counts = new Map<string, number>();
		for (const { path } of files) counts.set(stemOf(path), (counts.get(stemOf(path)) ?? 0) + 1);
		const [[stem, times]] = [...counts].sort((a, b) => b[1] - a[1]) as [[string, number]];
		const folders = group.map(({ draft }) => draft.name);
		const each = single || files.every(isSingle);
		// If each file is one record, a few files with the same name in other folders do not name the kind.
		const isName = !each || times * 2 > files.length;
		const name = isName ? stem : (folderOfAll(files) ?? folders[0]!);
		const draft: Draft = {
			name,
			names: [...new Set([name, ...folders])],
			globs: globsFor(files, known),
			files,
			because: `${files.length} files have the same columns`
		};
		return single ? { ...draft, single, id: tellingApart(draft, ['file', 'folder', 'both']) } : draft;
	});
}
