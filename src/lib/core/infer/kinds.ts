// Which files form a kind: by what people said, by language, by folder and shape, by the same name in sibling folders.
import { addTo, groupedBy } from '../gather';
import { formatOf, WRAPPER } from '../formats';
import { alikeSteps } from './alike';
import { constantsIn, type Constants } from './marks';
import { claimsOf, nameFromPath, type Guide, type KindGuide } from '../guide';
import {
	haveSeveral,
	isNamed,
	keyPartsOf,
	keysOf,
	nearlyKey,
	spareKey,
	writtenIn,
	type Written
} from './keys';
import { languagesIn, type Languages } from './languages';
import { asOne, partFacts, selectFacts, underKey, underParts } from '../facts';
import { columnsOf } from './refine';
import { columnNames } from './sketch';
import { splitsIn } from './splits';
import { globsFor, indexOf, type PathIndex } from './globs';
import { worldsIn } from './worlds';
import type { DataFile, Group } from './group';
import { endingOf, fileNameOf, folderOf, stemOf } from './paths';

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
const isAlone = ({ facts }: DataFile) => facts.count === 1;
const unwritten = (files: readonly DataFile[]) => files.every(({ facts }) => !facts.written.includes(1));
/** Whether a file may be one record as a whole, although one alone does not show it. */
const maySingle = (files: readonly DataFile[]) =>
	files.every(({ facts }) => formatOf(facts.format!)?.traits.nested) && unwritten(files);

/** What the files of a kind agree on. */
function same<T>(list: readonly T[]): T | undefined {
	return list.every((item) => item === list[0]) ? list[0] : undefined;
}

interface Draft extends Pick<
	Group,
	'globs' | 'files' | 'because' | 'names' | 'element' | 'where' | 'spare' | 'keyParts' | 'severalIds'
> {
	name: string;
	id?: KindGuide['id'];
	/** Whether each file is one record. */
	single?: boolean;
}

/** Share of the ids of files that are in several of them from which on these are no parts of one kind. */
const SAME_IDS = 0.3;

/** Shapes of a file from which on naming its columns takes a while. */
const MANY_SHAPES = 100;

/** Parts that one record has at most. */
const MOST_PARTS = 40;

const AMONG_MANY = 'only the names of the files tell them apart';

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

const fromConstants = ({ as, map, mark }: Constants): Draft => {
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

function draftsFor(files: readonly DataFile[], known: PathIndex): Draft[] {
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

/** Records of a file at most of which each may be a kind of its own, and files that say so. */
const [MOST_SINGLES, FEWEST_FILES] = [6, 3];

/** Words that stand once in each of several files, over records that have no field in common: each is a kind. */
function singleWords(files: readonly DataFile[]): Set<string> {
	const counts = new Map<string, number>();
	for (const { facts, element } of files) {
		if (element !== undefined || facts.key !== null || facts.count > MOST_SINGLES || facts.count < 2)
			continue;
		const shapes = Array.from(facts.shape, (nth) => facts.shapes[nth] ?? new Int32Array());
		const fields = shapes.flatMap((paths) => [...paths]);
		if (new Set(fields).size < fields.length || facts.written.includes(0)) continue;
		for (const id of facts.ids) counts.set(facts.pool.at(id), (counts.get(facts.pool.at(id)) ?? 0) + 1);
	}
	return new Set([...counts].flatMap(([word, count]) => (count >= FEWEST_FILES ? [word] : [])));
}

/** Files whose records are under words: also those in which each word comes once, where others show what it is. */
function worded(files: readonly DataFile[]): DataFile[] {
	const words = new Map<string, Set<string>>();
	for (const { element, facts } of files)
		if (element !== undefined) words.set(facts.format!, (words.get(facts.format!) ?? new Set()).add(element));
	const single = singleWords(files.filter(({ facts }) => words.has(facts.format!)));
	return files.flatMap((file): DataFile[] => {
		const { facts, element } = file;
		if (element !== undefined) return [file];
		const known = words.get(facts.format!);
		if (!known || facts.key !== null) return [];
		const names = Array.from(facts.ids, (id) => facts.pool.at(id));
		if (!names.every((name, nth) => facts.written[nth] === 1 && (known.has(name) || single.has(name))))
			return [];
		return [...new Set(names)].map((name) => ({
			...file,
			element: name,
			facts: selectFacts(
				facts,
				Int32Array.from(names.keys()).filter((nth) => names[nth] === name)
			)
		}));
	});
}

/** Files beside those of a word that hold so few under it that they looked like one record each. */
function fewOf(list: readonly DataFile[], wordless: readonly DataFile[]): DataFile[] {
	const { element, facts } = list[0]!;
	const folders = new Set(list.map(({ path }) => folderOf(path)));
	if (folders.size === list.length && list.length < 3) return [];
	const words = element!.split('/').map((word) => word.replace(/[^\w]/g, '\\$&'));
	const within = new RegExp(`(?:^|\\.)${words.join('(?:\\[\\])?\\.')}(?:\\[\\]|\\.|$)`);
	return wordless.filter(
		(file) =>
			file.facts.format === facts.format &&
			folders.has(folderOf(file.path)) &&
			[...columnNames(file.facts)].some((path) => within.test(path))
	);
}

/**
 * What records under a word are called: elements of a name that says little by what they stand in, what functions are
 * given by the last part of their name.
 */
const wordOf = (format: string, element: string): string =>
	format === 'lua' ? (/[A-Za-z_]\w*$/.exec(element)?.[0] ?? element) : element.split('/')[0]!;

/** The most files that become a kind each because they say different things about the same ids. */
const MOST_BESIDE = 12;

/** Kinds that a field or a word tells: the same word is one kind in all files of a world. */
function* told(
	files: readonly DataFile[],
	known: PathIndex,
	worldOf: (path: string) => string
): Generator<void, { drafts: Draft[]; left: DataFile[] }> {
	const drafts: Draft[] = [];
	const words = worded(files);
	const wordless = files.filter((file) => file.element === undefined && isAlone(file));
	const taken = new Set(words.map(({ path }) => path));
	for (const list of groupedBy(words, ({ path, facts, element }) =>
		JSON.stringify([facts.format, worldOf(path), element])
	).values()) {
		yield;
		const element = list[0]!.element!;
		const word = wordOf(list[0]!.facts.format!, element);
		// Files that say other things of the same ids are kinds of their own, unless there are many of them.
		if (list.length > 1 && list.length <= MOST_BESIDE && shared(list) > SAME_IDS) {
			// The one that lies highest takes the plain name.
			for (const file of list.toSorted((a, b) => a.path.split('/').length - b.path.split('/').length))
				drafts.push({
					name: stemOf(file.path),
					names: [word, stemOf(file.path)],
					globs: [file.path],
					files: [file],
					element,
					because: `they are listed under “${element}”, and other files have the same ids`
				});
			continue;
		}
		const world = fileNameOf(worldOf(list[0]!.path));
		const few = fewOf(list, wordless);
		for (const { path } of few) taken.add(path);
		drafts.push({
			name: world ? `${world}.${word}` : word,
			names: word === element ? [word] : [word, ...new Set(list.map(({ path }) => stemOf(path)))],
			globs: globsFor([...list, ...few], known),
			files: list,
			element,
			because: `they are listed under “${element}”`
		});
	}
	const { splits, left } = yield* splitsIn(files.filter(({ path }) => !taken.has(path)));
	// Kinds that are told apart within the same files have the same globs.
	const globs = new Map<readonly DataFile[], Map<string, string[]>>();
	const globsOf = (among: readonly DataFile[], world: string): string[] => {
		let here = globs.get(among);
		if (!here) globs.set(among, (here = new Map()));
		let own = here.get(world);
		if (!own) {
			own = globsFor(
				among.filter(({ path }) => worldOf(path) === world),
				known
			);
			here.set(world, own);
		}
		return [...own];
	};
	for (const { word, where, files: own, among, because } of splits)
		for (const list of groupedBy(own, ({ path, facts }) =>
			JSON.stringify([worldOf(path), facts.at, isNamed({ path, facts })])
		).values()) {
			const place = worldOf(list[0]!.path);
			const world = fileNameOf(place);
			yield;
			drafts.push({
				name: world ? `${world}.${word}` : word,
				names: [word],
				globs: globsOf(among, place),
				files: list,
				where,
				because,
				...(list.every(isSingle) ? { single: true } : {})
			});
		}
	return { drafts, left };
}

/** Files that were taken for lists of records, but have the same names in them as others beside: each is one record. */
function structures(files: readonly DataFile[]): DataFile[] {
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
function* joinAlike(
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

/** Names of files that say nothing of what is in them: their folder does. */
const ANY_FILE = /^(?:all|data|list|rows|values|contents?|records?|entries|index|main)$/i;

/** What a file on its own calls what it holds. */
const fileWord = (path: string): string => {
	const folder = fileNameOf(folderOf(path));
	return folder !== '' && ANY_FILE.test(stemOf(path)) ? folder : stemOf(path);
};

/** A name that no kind has: with what tells the files apart from those of the kind that has it, or with a number. */
function nameFor(
	{ name, files }: Draft,
	taken: ReadonlyMap<string, Draft>,
	names: ReadonlySet<string>
): string {
	const own = name.toLowerCase();
	const other = taken.get(own);
	if (!other) return unique(own, names);
	const ending = endingOf(files[0]!.path).slice(1).toLowerCase();
	const above = fileNameOf(folderOf(folderOf(files[0]!.path))).toLowerCase();
	const tried = [
		...(ending !== '' && ending !== endingOf(other.files[0]!.path).slice(1).toLowerCase()
			? [`${own}_${ending}`]
			: []),
		...(/^[\w-]+$/.test(above) && above !== own ? [`${above}_${own}`] : [])
	];
	return tried.find((one) => !names.has(one)) ?? unique(own, names);
}

const unique = (name: string, taken: ReadonlySet<string>): string => {
	let unused = name;
	for (let nth = 2; taken.has(unused); nth++) unused = `${name}-${nth}`;
	return unused;
};

/** What the one record of each file leaves out in any of them. */
const exceptOf = (files: readonly DataFile[]) => [...new Set(files.flatMap(({ except = [] }) => except))];

function groupOf(
	kind: string,
	said: KindGuide | null,
	draft: Omit<Draft, 'name'>,
	texts: boolean,
	isId?: (name: string) => boolean
): Group {
	const { files, element, where } = draft;
	return {
		kind,
		said,
		names: [kind, ...draft.names],
		globs: draft.globs,
		files,
		...(draft.id ? { id: draft.id } : {}),
		...(files[0]?.except === undefined ? {} : { except: exceptOf(files) }),
		...(element === undefined ? {} : { element }),
		...(where ? { where } : {}),
		...(draft.keyParts === undefined ? {} : { keyParts: draft.keyParts }),
		...(draft.spare === undefined ? {} : { spare: draft.spare }),
		...(draft.severalIds ? { severalIds: true } : {}),
		key: said?.key ?? same(files.map(({ facts }) => facts.key)) ?? null,
		at: draft.single ? null : same(files.map(({ facts }) => facts.at)),
		sketch: columnsOf(files, isId),
		because: draft.because,
		texts,
		twinOf: null
	};
}

/** The draft with the key that its records have by themselves, and the field that names those without it. */
function spared(draft: Draft, written: Written): Draft {
	const { files } = draft;
	const read = same(files.map(({ facts }) => facts.key));
	const key = read ?? (read === null ? nearlyKey(files, written) : null);
	if (!key) return draft;
	const under = (spare: string) =>
		files.map((file) => ({ ...file, facts: underKey(file.facts, key, spare) }));
	if (haveSeveral(files, key)) return { ...draft, severalIds: true, files: under(`${key}[0]`) };
	const spare = spareKey(files, key, written);
	return spare ? { ...draft, spare, files: under(spare) } : draft;
}

/** The shortest of some parts of their paths that tells the files of a draft apart. */
const tellingApart = (
	{ files, globs }: Draft,
	parts: readonly NonNullable<KindGuide['id']>[]
): NonNullable<KindGuide['id']> =>
	parts.find(
		(which) => new Set(files.map(({ path }) => nameFromPath(path, which, globs))).size === files.length
	) ?? 'path';

/** The draft under the key that names its records best; as it is where they are under names. In steps. */
function* keyed(draft: Draft, written: Written): Generator<void, Draft & { otherKeys?: readonly string[] }> {
	const { files } = draft;
	const fixed = formatOf(files[0]!.facts.format!)?.traits.fixedIds === true;
	if (fixed || files.some(isNamed)) return draft;
	const own = spared(draft, written);
	if (own !== draft) return own;
	const [key, ...otherKeys] = yield* keysOf(files, written);
	// What no field names is known by its place, which files have in common.
	const keyParts = key === undefined ? keyPartsOf(files) : null;
	if (keyParts) {
		const { parts, within } = keyParts;
		return {
			...draft,
			keyParts: parts,
			...(within ? { id: draft.id ?? tellingApart(draft, ['file', 'folder', 'both']) } : {}),
			files: files.map((file) => ({ ...file, facts: underParts(file.facts, parts) }))
		};
	}
	if (key === undefined)
		return !draft.id && (files.length > 1 || isSingle(files[0]!))
			? { ...draft, id: tellingApart(draft, ['file', 'both']) }
			: draft;
	// Of files that are one record each, a field that only some call an id is no better than their names.
	if (draft.id && !/(^|[._-])(id|key|uid|guid|ident)$/i.test(key))
		return { ...draft, otherKeys: [key, ...otherKeys] };
	const { id: _, ...others } = draft;
	return {
		...others,
		otherKeys,
		files: files.map((file) => ({ ...file, facts: underKey(file.facts, key) }))
	};
}

/**
 * The kinds that files form. Those that the guide claims are as it says; the others are detected from folders, names and
 * columns. In steps.
 */
export function* groupSteps(
	guide: Guide,
	files: readonly DataFile[]
): Generator<void, { groups: Group[]; languages: Languages | null }> {
	const claimed = new Map<string, DataFile[]>();
	const free: DataFile[] = [];
	const parts: DataFile[] = [];
	for (const file of files) {
		if (file.facts.parts) yield;
		parts.push(...partsOf(file));
	}
	for (const file of parts) {
		if (file.facts.format === null || file.facts.count === 0) continue;
		const claim = claimsOf(guide, file.path)[file.spec ?? 0];
		if (!claim) free.push(file);
		else addTo(claimed, claim.kind, file);
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
					because: 'the field guide says so',
					...(said.id ? { id: said.id } : {})
				},
				guide.words?.kind === kind
			)
		);
	}
	const families = guide.words ? [] : languagesIn(free);
	const inWords = new Set(families.flatMap((family) => family.files.map(({ path }) => path)));
	families.forEach((family, nth) => {
		const kind = unique(nth === 0 ? 'text' : textsName(family), names);
		names.add(kind);
		const codes = Object.keys(family.languages).join(', ');
		groups.push(
			groupOf(
				kind,
				null,
				{
					names: ['text'],
					globs: family.globs,
					files: family.files,
					because: `their paths differ in a language (${codes}), and they have the same keys`
				},
				true
			)
		);
	});
	const rest = free.filter(({ path }) => !inWords.has(path));
	const paths = indexOf(new Set(files.filter(({ facts }) => facts.format !== null).map(({ path }) => path)));
	const worldOf = worldsIn(rest);
	const { drafts, left } = yield* told(rest, paths, worldOf);
	const written = yield* writtenIn(free);
	yield;
	const isId = idsIn(free);
	yield;
	const constants = free[0] ? constantsIn(left, free[0].facts.pool, written) : [];
	const apart = new Set(constants.map(({ file }) => file));
	const plain = left.filter((file) => !apart.has(file));
	for (const { facts } of plain) {
		columnNames(facts);
		if (facts.shapes.length > MANY_SHAPES) yield;
	}
	yield;
	const single = draftsFor(structures(plain), paths);
	yield;
	const others = yield* joinAlike(single, paths, worldOf);
	yield;
	const taken = new Map<string, Draft>();
	for (const draft of [...drafts, ...constants.map(fromConstants), ...others]) {
		const { name: _, otherKeys, ...own } = yield* keyed(draft, written);
		yield;
		const kind = nameFor(draft, taken, names);
		names.add(kind);
		taken.set(kind, draft);
		const group = groupOf(kind, null, own, false, isId);
		groups.push(otherKeys && otherKeys.length > 0 ? { ...group, otherKeys } : group);
		yield;
	}
	return { groups, languages: families[0] ?? null };
}

/** What texts beside the game's main ones are called: as their file, without the language. */
const textsName = ({ globs }: Languages): string =>
	stemOf(globs[0]!.replace(/[._-]\{language\}|\{language\}[._-]/, '')).replace(/\*/g, '') || 'text';

/** Everything by which some record is named. */
function idsIn(files: readonly DataFile[]): (name: string) => boolean {
	const [first] = files;
	if (!first) return () => false;
	const { pool } = first.facts;
	// A place for each text of the game: of hundreds of thousands of ids that is sooner done than a set of them.
	const isId = new Uint8Array(pool.size);
	for (const { facts } of files) {
		const { ids, written } = facts;
		for (let nth = 0; nth < ids.length; nth++) if (written[nth] === 1) isId[ids[nth]!] = 1;
	}
	return (name) => isId[pool.find(name)] === 1;
}

/** A file as what holds records of one kind each: its parts, as far as they are known. */
function partsOf(file: DataFile): DataFile[] {
	const { parts } = file.facts;
	if (!parts) return [file];
	const all = partFacts(file.facts);
	const collections = all.filter(({ at }) => at).length;
	return all.map((facts, nth) => {
		const { spec, element, except } = parts[nth]!;
		return {
			path: file.path,
			facts,
			spec,
			...(element === undefined ? {} : { element }),
			...(except === undefined ? {} : { except }),
			...(collections > 1 ? { collections } : {})
		};
	});
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
