// Parallel trees: folders beside each other that hold files of the same names with many of the same ids, as rule sets
// and modes do. Each is a world of its own: what has an id in one of them is not what has it in another.
import { addTo } from '../gather';
import type { DataFile } from './group';
import { folderOf } from './paths';

/** Trees beside each other beyond which they are add-ons, not worlds. */
const MOST_TREES = 4;
/** Files of the same names in two trees, at least, and their share of those of the smaller. */
const SHARED = { files: 2, share: 0.5 };
/** Share of the ids that files of one name have in common from which on they mean other things by them. */
const SAME_IDS = 0.1;

/** The folders at a level, with their files by the path within. */
type Trees = Map<string, Map<string, DataFile[]>>;

function treesBelow(files: readonly DataFile[]): Map<string, Trees> {
	const levels = new Map<string, Trees>();
	for (const file of files) {
		const parts = file.path.split('/');
		for (let depth = 0; depth < parts.length - 1; depth++) {
			const above = parts.slice(0, depth).join('/');
			const trees: Trees = levels.get(above) ?? new Map();
			levels.set(above, trees);
			const tree = parts.slice(0, depth + 1).join('/');
			const own = trees.get(tree) ?? new Map<string, DataFile[]>();
			trees.set(tree, own);
			const within = parts.slice(depth + 1).join('/');
			addTo(own, within, file);
		}
	}
	return levels;
}

/** Share of the ids of the smaller of two files that the other has too. */
function sameIds(a: readonly DataFile[], b: readonly DataFile[]): number {
	const idsOf = (list: readonly DataFile[]) =>
		new Set(list.flatMap(({ facts }) => Array.from(facts.ids).filter((_, nth) => facts.written[nth] === 1)));
	const [few, many] = [idsOf(a), idsOf(b)].sort((x, y) => x.size - y.size) as [Set<number>, Set<number>];
	let both = 0;
	for (const id of few) if (many.has(id)) both++;
	return few.size === 0 ? 0 : both / few.size;
}

/** Whether two trees are worlds beside each other. */
function areWorlds(a: ReadonlyMap<string, DataFile[]>, b: ReadonlyMap<string, DataFile[]>): boolean {
	const both = [...a.keys()].filter((path) => b.has(path));
	if (both.length < SHARED.files || both.length < Math.min(a.size, b.size) * SHARED.share) return false;
	const alike = both.filter((path) => sameIds(a.get(path)!, b.get(path)!) >= SAME_IDS);
	return alike.length >= both.length / 2;
}

/** The world that each file is in, by its folder; empty for those that are in none. */
export function worldsIn(files: readonly DataFile[]): (path: string) => string {
	const worlds = new Set<string>();
	for (const trees of treesBelow(files).values()) {
		if (trees.size < 2 || trees.size > MOST_TREES * 2) continue;
		const list = [...trees];
		const found = new Set<string>();
		for (let a = 0; a < list.length; a++)
			for (let b = a + 1; b < list.length; b++)
				if (areWorlds(list[a]![1], list[b]![1])) found.add(list[a]![0]).add(list[b]![0]);
		if (found.size <= MOST_TREES) for (const tree of found) worlds.add(tree);
	}
	const known = new Map<string, string>();
	const within = (folder: string): string => {
		if (folder === '' || worlds.has(folder)) return folder;
		let world = known.get(folder);
		if (world === undefined) known.set(folder, (world = within(folderOf(folder))));
		return world;
	};
	return (path) => within(folderOf(path));
}
