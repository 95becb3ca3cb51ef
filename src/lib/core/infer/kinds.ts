// Which files form a kind: by what people said, by language, by folder and shape, by the same name in sibling folders.
import { formatOf } from '../formats';
import { claimOf, type Guide, type KindGuide } from '../guide';
import { languagesIn, type Languages } from './languages';
import { addSketches, sketchOf } from './sketch';
import type { DataFile, Group } from './group';
import { endingOf, fileNameOf, folderOf, stemOf } from './paths';

/**
 * How alike the columns of two files are, from 0 to 1: of files that are one record each, which may leave much out, how
 * much of the poorer the other has too; else how much both have of what either has. Ids say nothing, every kind has them.
 */
function overlap(a: DataFile, b: DataFile): number {
	const columns = ({ facts }: DataFile) =>
		[...sketchOf(facts).columns.keys()].filter((path) => path !== facts.key);
	const [few, many] = [columns(a), columns(b)].sort((x, y) => x.length - y.length) as [string[], string[]];
	const there = new Set(many);
	const both = few.filter((path) => there.has(path)).length;
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
function shared(files: readonly DataFile[]): number {
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

const isSingle = ({ facts }: DataFile) => facts.count === 1 && facts.at === null;
const unwritten = (files: readonly DataFile[]) => files.every(({ facts }) => !facts.written.includes(1));
/** Whether a file may be one record as a whole, although one alone does not show it. */
const maySingle = (files: readonly DataFile[]) =>
	files.every(({ facts }) => formatOf(facts.format!)?.traits.nested) && unwritten(files);

function grouped<T>(list: readonly T[], key: (item: T) => string): Map<string, T[]> {
	const map = new Map<string, T[]>();
	for (const item of list) {
		const found = map.get(key(item)) ?? [];
		map.set(key(item), found);
		found.push(item);
	}
	return map;
}

/** What the files of a kind agree on. */
function same<T>(list: readonly T[]): T | undefined {
	return list.every((item) => item === list[0]) ? list[0] : undefined;
}

interface Draft extends Pick<Group, 'globs' | 'files' | 'because' | 'names'> {
	name: string;
	id?: KindGuide['id'];
	/** Whether each file is one record. */
	single?: boolean;
}

const AMONG_MANY = 'the name of the file is all that tells one from another';

function fromFolder(files: DataFile[], only: boolean): Draft[] {
	const folder = folderOf(files[0]!.path);
	const ending = endingOf(files[0]!.path);
	const single = files.every(isSingle) && maySingle(files);
	const loose = !single && unwritten(files);
	if (files.length === 1 || (!single && !loose && shared(files) > 0.2))
		return files.map((file) => ({
			name: stemOf(file.path),
			names: [stemOf(file.path), fileNameOf(folderOf(file.path))],
			globs: [file.path],
			files: [file],
			because: 'no other file is like it'
		}));
	const name = fileNameOf(folder) || stemOf(files[0]!.path);
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

/** Files of one name in sibling folders, and files of one shape in sibling folders. */
function fromSiblings(files: readonly DataFile[]): { drafts: Draft[]; left: DataFile[] } {
	const drafts: Draft[] = [];
	const taken = new Set<DataFile>();
	const within = (file: DataFile) => folderOf(file.path).split('/');
	for (const [key, list] of grouped(
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
	for (const [key, list] of grouped(deep, (file) => {
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

function draftsFor(files: readonly DataFile[], known: ReadonlySet<string>): Draft[] {
	const { drafts, left } = fromSiblings(files);
	for (const [, list] of grouped(
		left,
		({ path, facts }) => `${folderOf(path)}|${endingOf(path)}|${facts.format}`
	)) {
		const clusters = byShape(list);
		for (const cluster of clusters) {
			const [first] = cluster;
			const like = (path: string) =>
				folderOf(path) === folderOf(first!.path) && endingOf(path) === endingOf(first!.path);
			const only =
				clusters.length === 1 &&
				![...known].some((path) => like(path) && !cluster.some((file) => file.path === path));
			drafts.push(...fromFolder(cluster, only));
		}
	}
	return drafts;
}

const unique = (name: string, taken: ReadonlySet<string>): string => {
	let unused = name;
	for (let nth = 2; taken.has(unused); nth++) unused = `${name}-${nth}`;
	return unused;
};

function groupOf(kind: string, said: KindGuide | null, draft: Omit<Draft, 'name'>, texts: boolean): Group {
	const { files } = draft;
	return {
		kind,
		said,
		names: [kind, ...draft.names],
		globs: draft.globs,
		files,
		...(draft.id ? { id: draft.id } : {}),
		key: said?.key ?? same(files.map(({ facts }) => facts.key)) ?? null,
		at: draft.single ? null : same(files.map(({ facts }) => facts.at)),
		sketch: addSketches(files.map(({ facts }) => sketchOf(facts))),
		because: draft.because,
		texts,
		twinOf: null
	};
}

/**
 * The kinds that files form. Those that the guide claims are as it says; the others are told from folders, names and
 * columns.
 */
export function groupsOf(
	guide: Guide,
	files: readonly DataFile[]
): { groups: Group[]; languages: Languages | null } {
	const claimed = new Map<string, DataFile[]>();
	const free: DataFile[] = [];
	for (const file of files) {
		if (file.facts.format === null || file.facts.count === 0) continue;
		const claim = claimOf(guide, file.path);
		if (!claim) free.push(file);
		else claimed.set(claim.kind, [...(claimed.get(claim.kind) ?? []), file]);
	}
	const groups: Group[] = [];
	const names = new Set(Object.keys(guide.kinds));
	for (const [kind, list] of claimed) {
		const said = guide.kinds[kind]!;
		groups.push(
			groupOf(
				kind,
				said,
				{
					names: [said.title],
					globs: said.files,
					files: list,
					because: 'people said so',
					...(said.id ? { id: said.id } : {})
				},
				guide.words?.kind === kind
			)
		);
	}
	const languages = guide.words ? null : languagesIn(free);
	const inWords = new Set(languages?.files);
	if (languages) {
		const kind = unique('text', names);
		names.add(kind);
		const codes = Object.keys(languages.languages).join(', ');
		groups.push(
			groupOf(
				kind,
				null,
				{
					names: ['text'],
					globs: languages.globs,
					files: languages.files,
					because: `their paths differ in a language (${codes}), and they have the same keys`
				},
				true
			)
		);
	}
	const rest = free.filter((file) => !inWords.has(file));
	const paths = new Set(files.map(({ path }) => path));
	for (const { name, ...draft } of draftsFor(rest, paths)) {
		const kind = unique(name.toLowerCase(), names);
		names.add(kind);
		groups.push(groupOf(kind, null, draft, false));
	}
	return { groups, languages };
}

/** A group cut into one for each of its files: when each of them is referred to on its own. Their names join `names`. */
export function splitGroup(group: Group, names: Set<string>): Group[] {
	names.delete(group.kind);
	return group.files.map((file) => {
		const stem = stemOf(file.path).toLowerCase();
		const kind = unique(names.has(stem) ? `${stem}_${group.kind}` : stem, names);
		names.add(kind);
		return groupOf(
			kind,
			null,
			{
				names: [`${stem} ${group.kind}`, stem],
				globs: [file.path],
				files: [file],
				because: `fields of other kinds name records of this file only, though ${group.files.length} have the same columns`
			},
			false
		);
	});
}
