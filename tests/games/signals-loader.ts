// The loader of the made-up game Signals: what its engine would do with the files of the game and of mods, written from
// what the game means and without anything of ours. It takes all, or says what it would stop at.
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { indented, sections } from '../core/readers-told';
import type { Seen } from '../core/readers';

interface Light {
	type: 'lamp' | 'mast' | 'good';
	id?: string;
	pattern?: string;
	of?: string;
	plus?: Record<string, number>;
	times?: Record<string, number>;
	[field: string]: unknown;
}

/** A game as it runs. */
export interface Running {
	lamps: Map<string, Record<string, unknown>>;
	masts: Map<string, Record<string, unknown>>;
	goods: Map<string, Record<string, unknown>>;
	keepers: Seen;
	rounds: Seen;
	/** What it would stop at, or say in its log. */
	faults: string[];
}

/** All files of a game under the mods on top: a file of a mod stands for that of the game at the same path. */
function filesOf(folders: readonly string[]): Map<string, string> {
	const files = new Map<string, string>();
	for (const folder of folders)
		for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true }))
			if (entry.isFile()) {
				const path = join(entry.parentPath, entry.name);
				files.set(relative(folder, path), readFileSync(path, 'utf8'));
			}
	return files;
}

/** A lamp with what it inherits from the one that it is made of. */
function lampOf(
	light: Light,
	lights: ReadonlyMap<string, Light>,
	faults: string[],
	depth = 0
): Record<string, unknown> {
	if (light.of === undefined) return { ...light };
	const above = lights.get(light.of);
	if (!above || depth > 10) {
		faults.push(`${light.id ?? light.pattern}: there is no lamp ${light.of} to make it of`);
		return { ...light };
	}
	const made = { ...lampOf(above, lights, faults, depth + 1), ...light };
	for (const [field, more] of Object.entries(light.plus ?? {})) made[field] = Number(made[field]) + more;
	for (const [field, factor] of Object.entries(light.times ?? {})) made[field] = Number(made[field]) * factor;
	return made;
}

/** Starts a game with mods on top of it. */
export function run(...folders: string[]): Running {
	const faults: string[] = [];
	const files = filesOf(folders.filter((folder) => existsSync(folder)));
	const json = (path: string): unknown => {
		try {
			return JSON.parse(files.get(path)!) as unknown;
		} catch (error) {
			faults.push(`${path}: ${(error as Error).message}`);
			return path === 'data/fixed.json' ? { fixed: {} } : [];
		}
	};
	const lights = [...files.keys()]
		.filter((path) => /^data\/.*lights.*\.json$/.test(path))
		.flatMap((path) => json(path) as Light[]);
	const { fixed } = json('data/fixed.json') as { fixed: Record<string, unknown> };
	const of = (type: string) => lights.filter((light) => light.type === type);
	const byName = new Map(of('lamp').map((light) => [(light.id ?? light.pattern)!, light]));
	const named = (list: Light[]) =>
		new Map(list.filter(({ id }) => id !== undefined).map((light) => [light.id!, light]));
	const lamps = new Map([...named(of('lamp'))].map(([id, light]) => [id, lampOf(light, byName, faults)]));
	const [masts, goods] = [named(of('mast')), named(of('good'))];
	const titles = new Set([...masts.values()].map(({ title }) => title));
	const must = (there: boolean, what: string) => {
		if (!there) faults.push(what);
	};
	for (const [id, lamp] of lamps)
		for (const field of ['oil', 'reach', 'colour', 'beats'])
			must(lamp[field] !== undefined, `${id}: a lamp has to have ${field}`);
	for (const [id, mast] of masts) {
		must(lamps.has(mast.lamp as string), `${id}: there is no lamp ${String(mast.lamp)}`);
		const height = String(mast.height);
		const metres = height.startsWith('@') ? fixed[height.slice(1)] : mast.height;
		must(typeof metres === 'number' && metres > 0, `${id}: ${height} is no height`);
		for (const other of mast.sees as string[])
			must(masts.has(other), `${id}: there is no mast ${other} to see`);
		for (const [good, count] of mast.stores as [string, number][])
			must(goods.has(good) && Number.isInteger(count), `${id}: cannot store ${count} ${good}`);
	}
	const keepers = indented(files.get('people/keepers.txt') ?? '');
	for (const keeper of keepers) {
		must(masts.has(keeper.mast!), `a keeper lives at ${keeper.mast}, which is nowhere`);
		must(/^\d+$/.test(keeper.age ?? ''), `a keeper is ${keeper.age} years old`);
		must(
			!keeper['carries[0]'] || goods.has(keeper['carries[0]']),
			`a keeper carries ${keeper['carries[0]']}`
		);
	}
	const rounds = sections(files.get('data/rounds.rules') ?? '');
	for (const round of rounds)
		for (const [path, value] of Object.entries(round)) {
			if (path.startsWith('stops')) must(masts.has(value), `${round.id}: there is no stop ${value}`);
			if (path.endsWith('.good')) must(goods.has(value), `${round.id}: there is no ${value} to load`);
		}
	for (const [path, text] of files)
		if (path.endsWith('.pairs')) {
			const lines = text.split('\n').filter((line) => line !== '');
			must(lines.length % 2 === 0, `${path}: a line has no partner`);
			const there = new Set(lines.filter((_, nth) => nth % 2 === 0));
			for (const title of titles) must(there.has(title as string), `${path}: nothing for ${String(title)}`);
		}
	return { lamps, masts, goods, keepers, rounds, faults };
}
