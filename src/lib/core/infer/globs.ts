// By which globs files are claimed: the fewest that hold them and, where it can be, no other file that is data.
import type { DataFile } from './group';
import { endingOf, fileNameOf, folderOf } from './paths';

/** The paths of all files that are data, by what globs can tell them by. */
export interface PathIndex {
	/** Sorted, of each ending. */
	byEnding: ReadonlyMap<string, readonly string[]>;
	byName: ReadonlyMap<string, readonly string[]>;
	/** How many of each ending a folder has. */
	byFolder: ReadonlyMap<string, ReadonlyMap<string, number>>;
}

const add = <T>(map: Map<string, T[]>, key: string, value: T) => {
	const list = map.get(key);
	if (list) list.push(value);
	else map.set(key, [value]);
};

/** What globs can tell paths by. */
export function indexOf(paths: Iterable<string>): PathIndex {
	const [byEnding, byName] = [new Map<string, string[]>(), new Map<string, string[]>()];
	const byFolder = new Map<string, Map<string, number>>();
	for (const path of [...paths].sort()) {
		const [ending, folder] = [endingOf(path), folderOf(path)];
		add(byEnding, ending, path);
		add(byName, fileNameOf(path), path);
		const counts = byFolder.get(folder) ?? new Map<string, number>();
		byFolder.set(folder, counts.set(ending, (counts.get(ending) ?? 0) + 1));
	}
	return { byEnding, byName, byFolder };
}

/** The first of sorted paths that is not before a text. */
function firstFrom(paths: readonly string[], text: string): number {
	let [low, high] = [0, paths.length];
	while (low < high) {
		const middle = (low + high) >> 1;
		if (paths[middle]! < text) low = middle + 1;
		else high = middle;
	}
	return low;
}

/** How many of sorted paths are below a folder; all do below the empty one. */
const countBelow = (paths: readonly string[], folder: string): number =>
	// A nought is what follows a slash.
	folder === '' ? paths.length : firstFrom(paths, `${folder}0`) - firstFrom(paths, `${folder}/`);

const sharedFolder = (folders: readonly string[]): string =>
	folders.reduce((above, folder) => {
		while (above !== '' && folder !== above && !folder.startsWith(`${above}/`)) above = folderOf(above);
		return above;
	});

/** Globs that hold some files and, where it can be, no other file that is data. */
export function globsFor(files: readonly DataFile[], known: PathIndex): string[] {
	const paths = new Set(files.map(({ path }) => path));
	const endings = [...new Set([...paths].map(endingOf))];
	if (paths.size < 3) return [...paths];
	const [names, folders] = [new Map<string, string[]>(), new Map<string, string[]>()];
	for (const path of paths) {
		add(names, fileNameOf(path), path);
		add(folders, folderOf(path), path);
	}
	const shared = sharedFolder([...folders.keys()]);
	const below = (folder: string, ending: string) => `${folder === '' ? '' : `${folder}/`}**/*${ending}`;
	const like = endings.reduce((sum, ending) => sum + countBelow(known.byEnding.get(ending) ?? [], shared), 0);
	// A few strange files among many do no harm: what is in them is told by what it says.
	if (like - paths.size <= paths.size * 0.1) return endings.map((ending) => below(shared, ending));
	// Files of one name in several folders, where all of that name are meant.
	const byName = [...names].filter(
		([name, list]) => list.length > 1 && countBelow(known.byName.get(name) ?? [], shared) === list.length
	);
	const done = new Set(byName.flatMap(([, list]) => list));
	const byFolder = [...folders].flatMap(([folder, own]) => {
		const counts = known.byFolder.get(folder);
		const here = own.filter((path) => !done.has(path));
		const all = endings.reduce((sum, ending) => sum + (counts?.get(ending) ?? 0), 0);
		if (all > own.length || here.length < 2) return here;
		return [...new Set(here.map(endingOf))].map((ending) => `${folder}/*${ending}`);
	});
	return [...byName.map(([name]) => `${shared === '' ? '' : `${shared}/`}**/${name}`), ...byFolder];
}
