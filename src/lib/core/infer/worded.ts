// Files that may form a kind together because a word or a field tells it: the same in all files of a world.
import { selectFacts } from '../facts';
import { groupedBy } from '../gather';
import { isAlone, isSingle, shared, type Draft } from './drafts';
import { globsFor, type PathIndex } from './globs';
import type { DataFile } from './group';
import { isNamed } from './keys';
import { fileNameOf, folderOf, stemOf } from './paths';
import { columnNames } from './sketch';
import { splitsIn } from './splits';

/** Share of the ids of files that are in several of them from which on these are no parts of one kind. */
const SAME_IDS = 0.3;

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
export function* told(
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
