// All paths that some layer has, files that are no data too: asked for by their name, in any case of its letters. And
// those few files of a layer of which there is something to say.
import { isGame } from '../stack';
import type { Facts } from '../facts';
import type { Layer, LayerFile, Stack } from '../stack';

/** The paths of the layers together. */
export interface Paths {
	has(path: string): boolean;
	/** A path that is the same but for the case of its letters. */
	folded(path: string): string | undefined;
	all(): Iterable<string>;
	count: number;
	/** The same as long as the paths are. */
	token: string;
}

interface Known {
	folded: Map<string, string>;
	token: string;
}

const known = new WeakMap<object, Known>();
let nth = 0;

const pathsIn = (layer: Layer): { has(path: string): boolean; keys(): Iterable<string>; size: number } =>
	layer.paths ?? layer.files;

function knownOf(layer: Layer): Known {
	const paths = pathsIn(layer);
	let found = known.get(paths);
	if (!found) {
		const all = [...paths.keys()];
		// The few files of a mod are detected by their names: each change makes a new list of them.
		const token = isGame(layer) ? String(++nth) : all.sort().join('|');
		found = { folded: new Map(all.map((path) => [path.toLowerCase(), path])), token };
		known.set(paths, found);
	}
	return found;
}

/** The paths of all layers of a stack. */
export function pathsOf({ layers }: Stack): Paths {
	const lists = layers.map((layer) => ({ layer, paths: pathsIn(layer) }));
	return {
		has: (path) => lists.some(({ paths }) => paths.has(path)),
		folded: (path) => {
			const wanted = path.toLowerCase();
			for (const { layer } of lists) {
				const found = knownOf(layer).folded.get(wanted);
				if (found !== undefined) return found;
			}
			return undefined;
		},
		*all() {
			for (const { paths } of lists) yield* paths.keys();
		},
		count: lists.reduce((sum, { paths }) => sum + paths.size, 0),
		get token() {
			return lists.map(({ layer }) => knownOf(layer).token).join('/');
		}
	};
}

/** What files are picked by. */
const PICKS = {
	problems: (facts: Facts) => facts.problems.length > 0,
	doubles: (facts: Facts) => facts.doubles.length > 0,
	prose: (facts: Facts) => facts.prose.length > 0,
	format: (facts: Facts) => facts.format !== null
};
type Pick = keyof typeof PICKS;

const picked = new WeakMap<Layer['files'], Map<Pick, [LayerFile, Facts][]>>();

/** The files of a layer that have problems, double ids, lines of a script, or a format; gone through once for the same files. */
export function filesWith({ files }: Layer, what: Pick): readonly [LayerFile, Facts][] {
	let known = picked.get(files);
	if (!known) picked.set(files, (known = new Map()));
	let found = known.get(what);
	if (!found) {
		found = [];
		for (const file of files.values())
			if (file.facts && PICKS[what](file.facts)) found.push([file, file.facts]);
		known.set(what, found);
	}
	return found;
}
