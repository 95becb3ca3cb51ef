// Which script loads which: a call whose argument names other scripts, followed from those that nothing loads.
import { addTo } from '../gather';
import type { Facts } from '../facts';
import { spokenBy } from '../scripts';
import { isEditable, type Layer, type Stack } from '../stack';

/** A script that the game would see, with the layer whose version it is. */
export interface Script {
	path: string;
	layer: Layer;
	facts: Facts;
}

/** One load: the text that names a script, on a line (from 1), and the script; null where there is none. */
export interface Load {
	line: number;
	text: string;
	path: string | null;
}

/** Which script loads which. */
export interface Loading {
	/** The call that loads scripts; null where none was found. */
	call: string | null;
	scripts: readonly Script[];
	/** The loads of each script in their order; scripts that load none have none. */
	loads: ReadonlyMap<string, readonly Load[]>;
	/** Scripts that load others and that nothing loads. */
	entries: readonly string[];
	/** Scripts that nothing loads, in folders from which others are loaded. */
	unloaded: readonly string[];
	/** Scripts that load each other in a circle, each circle from its first to its first. */
	circles: readonly (readonly string[])[];
}

const SCRIPT = /\.(?:lua|js|py|nut|as|gd|rb|script)$/i;
/** Names that a call which loads others usually has. */
const LOADS = /(?:^|[._])(?:load|require|include|import|dofile|exec|run)/i;
/** Loads from which on a call with another name is taken for one. */
const MANY = 5;

const inFiles = new WeakMap<Layer['files'], readonly Omit<Script, 'layer'>[]>();

/** The scripts among the files of a layer; looked for once. */
function scriptsAmong(files: Layer['files']): readonly Omit<Script, 'layer'>[] {
	let found = inFiles.get(files);
	if (!found) {
		found = [...files].flatMap(([path, { facts }]) =>
			SCRIPT.test(path) && facts && facts.prose.length > 0 ? [{ path, facts }] : []
		);
		inFiles.set(files, found);
	}
	return found;
}

/** The scripts that the game would see, in the order of layers and paths. */
export function scriptsOf({ layers }: Stack): Script[] {
	const found = new Map<string, Script>();
	for (const layer of layers)
		for (const script of scriptsAmong(layer.files)) found.set(script.path, { ...script, layer });
	return [...found.values()].sort((a, b) => (a.path < b.path ? -1 : 1));
}

type Finder = (from: string, text: string) => string | null;

/** Finds the script that a text names in another: by its path or name, with or without its ending, dots for slashes. */
function finder(scripts: readonly Script[]): Finder {
	const paths = new Map(scripts.map(({ path }) => [path.toLowerCase(), path]));
	const endings = [...new Set(scripts.map(({ path }) => /\.[^.]+$/.exec(path)![0].toLowerCase()))];
	return (from, text) => {
		const folder = from.slice(0, from.lastIndexOf('/') + 1).toLowerCase();
		const plain = text.toLowerCase().replace(/^\.?\//, '');
		for (const name of [plain, plain.replaceAll('.', '/')])
			for (const at of ['', folder])
				for (const ending of ['', ...endings]) {
					const path = paths.get(at + name + ending);
					if (path !== undefined && path !== from) return path;
				}
		return null;
	};
}

let last: { paths: string; find: Finder } | null = null;

/** The same as `finder`, the same object as long as the paths are the same. */
function finderFor(scripts: readonly Script[]): Finder {
	const paths = scripts.map(({ path }) => path).join('\n');
	if (last?.paths !== paths) last = { paths, find: finder(scripts) };
	return last.find;
}

/** A text that a script gives to a call as its first, and the script that it names. */
interface Said extends Load {
	from: string;
	call: string;
}

const heard = new WeakMap<Facts, { find: Finder; said: Said[] }>();

/** What a script gives to calls; found out once for the same script among the same others. */
function saidIn({ path: from, facts }: Script, find: Finder): Said[] {
	const old = heard.get(facts);
	if (old?.find === find) return old.said;
	const said = spokenBy(facts).flatMap(({ line, spoken }) =>
		spoken
			.filter(({ argument }) => argument === 1)
			.map(({ call, text }) => ({ from, line, call, text, path: find(from, text) }))
	);
	heard.set(facts, { find, said });
	return said;
}

/** The call that loads scripts: the one whose texts name most of them. */
function loaderIn(said: readonly { call: string; path: string | null }[]): string | null {
	const calls = new Map<string, { all: number; found: Set<string> }>();
	for (const { call, path } of said) {
		const seen = calls.get(call) ?? { all: 0, found: new Set<string>() };
		seen.all++;
		if (path !== null) seen.found.add(path);
		calls.set(call, seen);
	}
	const [best] = [...calls]
		.filter(
			([call, { all, found }]) =>
				found.size > 0 &&
				(LOADS.test(call) ? found.size * 2 >= all : found.size >= MANY && found.size >= all * 0.8)
		)
		.sort(([, a], [, b]) => b.found.size - a.found.size);
	return best?.[0] ?? null;
}

function circlesIn(loads: ReadonlyMap<string, readonly Load[]>): string[][] {
	const circles: string[][] = [];
	const state = new Map<string, 'open' | 'done'>();
	const way: string[] = [];
	const visit = (path: string): void => {
		if (state.get(path) === 'done') return;
		if (state.get(path) === 'open') {
			circles.push([...way.slice(way.indexOf(path)), path]);
			return;
		}
		state.set(path, 'open');
		way.push(path);
		for (const load of loads.get(path) ?? []) if (load.path !== null) visit(load.path);
		way.pop();
		state.set(path, 'done');
	};
	for (const path of loads.keys()) visit(path);
	return circles;
}

const known = new WeakMap<Stack, Loading>();
/** The latest of those that stand on the same lowest layer. */
const latest = new WeakMap<Layer['files'], { told: string | undefined; loading: Loading }>();

const areSame = (one: readonly Script[], other: readonly Script[]): boolean =>
	one.length === other.length &&
	one.every(({ path, facts }, nth) => path === other[nth]!.path && facts === other[nth]!.facts);

/** Which script of a stack loads which; worked out once for the same scripts. */
export function loadingOf(stack: Stack): Loading {
	let loading = known.get(stack);
	if (loading) return loading;
	const scripts = scriptsOf(stack);
	const told = stack.guide.loader;
	const ground = stack.layers[0]?.files;
	const old = ground && latest.get(ground);
	if (old && old.told === told && areSame(old.loading.scripts, scripts))
		loading = { ...old.loading, scripts };
	else loading = loadingIn(scripts, told);
	if (ground) latest.set(ground, { told, loading });
	known.set(stack, loading);
	return loading;
}

/** @param told the call that the guide names */
function loadingIn(scripts: readonly Script[], told: string | undefined): Loading {
	const find = finderFor(scripts);
	const said = scripts.flatMap((script) => saidIn(script, find));
	const call = told ?? loaderIn(said);
	const loads = new Map<string, Load[]>();
	const loaded = new Set<string>();
	for (const { from, line, text, path, ...one } of said) {
		if (one.call !== call) continue;
		addTo(loads, from, { line, text, path });
		if (path !== null) loaded.add(path);
	}
	const folderOf = (path: string) => path.slice(0, path.lastIndexOf('/') + 1);
	const folders = new Set([...loaded].map(folderOf));
	return {
		call,
		scripts,
		loads,
		entries: [...loads.keys()].filter((path) => !loaded.has(path)),
		unloaded: scripts
			.map(({ path }) => path)
			.filter((path) => !loaded.has(path) && !loads.has(path) && folders.has(folderOf(path))),
		circles: circlesIn(loads)
	};
}

/** Whether the game loads all its own scripts by other scripts, so that one which nothing loads is never run. */
export function loadsAll({ scripts, unloaded, call }: Loading): boolean {
	if (call === null) return false;
	const left = new Set(unloaded);
	return scripts.every(({ path, layer }) => isEditable(layer) || !left.has(path));
}
