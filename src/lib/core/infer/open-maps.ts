// Maps whose names are values: ids, languages, days, or the names of things that a thing holds, as deep as they go.
import { largest } from '../gather';
import type { Column, Sketch } from './sketch';

/** Names in a map from which on they may be values, and share of the records with the map that have one of them. */
const NAMES = { least: 12, share: 0.5 };
/** Share of the columns below such a map that must be of sorts which recur, and of the names that have one that does. */
const ALIKE = 0.9;
const RECURS = 0.05;
/** A name is rare if it is in so small a share of what has the map; so many must have the map for that to tell. */
const [RARE, HOLDERS] = [0.1, 4];
/** Of things, at least half of the names are there no more often than this. */
const AGAIN = 2;
/**
 * Things under rare names beside fields: how many columns they have in common at least (more in the record itself); what
 * share of the things has such a column; what share of these columns a thing must have; and how many of the things must.
 */
const THINGS = { inside: 2, atTop: 3, common: 0.5, most: 0.8, share: 0.9 };
/** Maps in maps that are opened. */
const DEEPEST = 8;

/** Whether a part of a path is a value's place on the line of its holder and no name. */
export const isPlace = (name: string): boolean => /^#\d+$/.test(name);

/** Maps whose names are values, by the pattern of what holds them, with the names in them that are fields all the same. */
type OpenMaps = Map<string, ReadonlySet<string>>;

const NONE: ReadonlySet<string> = new Set();

/** Calls `each` with every map that a column is in, the name in it, and what follows. */
function eachMap({ path }: Column, each: (map: string, name: string, rest: string) => void): void {
	for (let dot = -1, first = true; first || dot > 0; dot = path.indexOf('.', dot + 1), first = false) {
		const rest = path.slice(dot + 1);
		const name = /^[^.[]*/.exec(rest)![0];
		// The record itself is a map too.
		if (name !== '' && !isPlace(name)) each(dot < 0 ? '' : path.slice(0, dot), name, rest.slice(name.length));
	}
}

/** What a column below a name is: what follows the name, and its type. */
const sortOf = (rest: string, { types }: Column): string => `${rest} ${types.indexOf(Math.max(...types))}`;

/** The names in a map, each with how many have it. */
type Names = Map<string, number>;

/** How many have an open map, by its pattern: more than there are records, where it is in an open map itself. */
type Holders = Map<string, number>;

/** What is counted of a map. */
interface Below {
	names: Names;
	/** The names that few have. */
	rare: Names;
	/** How many have the map. */
	holders: number;
	/** How many names have each sort of column below them, and how many of the rare ones have each column. */
	sorts: Map<string, number>;
	columns: Map<string, number>;
}

/** How many have a column that is below a name of a map: of what is in an open map, each name there counts. */
const having = (column: Column, map: string, rest: string): number =>
	map.includes('*') && !rest.includes('[') ? column.cells : column.records;

function namesIn({ columns }: Sketch): Map<string, Names> {
	const maps = new Map<string, Names>();
	for (const column of columns.values())
		eachMap(column, (map, name, rest) => {
			let names = maps.get(map);
			if (!names) maps.set(map, (names = new Map()));
			names.set(name, Math.max(names.get(name) ?? 0, having(column, map, rest)));
		});
	return maps;
}

/** Whether all names of a map are values: each has the same below it, and none is in most records with the map. */
function areValues({ names, sorts, holders }: Below): boolean {
	const columns = [...sorts.values()].reduce((sum, count) => sum + count, 0);
	const alike = [...sorts.values()].filter((count) => count >= Math.max(3, names.size * RECURS));
	if (alike.reduce((sum, count) => sum + count, 0) < columns * ALIKE) return false;
	const most = largest(names.values());
	const mean = [...names.values()].reduce((sum, count) => sum + count, 0) / names.size;
	return mean <= holders * NAMES.share || mean <= most * NAMES.share;
}

/** The maps in which things of one sort are under rare names, beside fields; whatever else there is in each of them. */
function mapsOfThings({ columns }: Sketch, maps: ReadonlyMap<string, Below>): OpenMaps {
	const common = new Map<string, ReadonlySet<string>>();
	for (const [map, { names, rare, columns: below }] of maps) {
		if (rare.size < NAMES.least || rare.size < names.size * NAMES.share) continue;
		// Parts that a record may have come again in others; names of things hardly do.
		if ([...rare.values()].filter((count) => count <= AGAIN).length < rare.size / 2) continue;
		const some = [...below].filter(([rest, count]) => rest !== '' && count >= rare.size * THINGS.common);
		if (some.length >= (map === '' ? THINGS.atTop : THINGS.inside))
			common.set(map, new Set(some.map(([rest]) => rest)));
	}
	const found: OpenMaps = new Map();
	if (common.size === 0) return found;
	const counted = new Map<string, Names>();
	for (const column of columns.values())
		eachMap(column, (map, name, rest) => {
			if (!common.get(map)?.has(rest)) return;
			const own = counted.get(map) ?? new Map<string, number>();
			counted.set(map, own);
			own.set(name, (own.get(name) ?? 0) + 1);
		});
	for (const [map, counts] of counted) {
		const { names, rare } = maps.get(map)!;
		const isThing = (name: string) => (counts.get(name) ?? 0) >= common.get(map)!.size * THINGS.most;
		if ([...rare.keys()].filter(isThing).length < rare.size * THINGS.share) continue;
		found.set(map, new Set([...names.keys()].filter((name) => !rare.has(name) && !isThing(name))));
	}
	return found;
}

function openMaps(whole: Sketch, isId: (name: string) => boolean, holding: Holders): OpenMaps {
	const maps = new Map<string, Below>();
	for (const [map, names] of namesIn(whole)) {
		if (names.size < NAMES.least) continue;
		const holders = holding.get(map) ?? whole.count;
		const most = map === '' ? holders : largest(names.values());
		const limit = most < HOLDERS ? 0 : Math.max(1, most * RARE);
		const rare = new Map([...names].filter(([name, count]) => count <= limit && name !== '*'));
		maps.set(map, { names, rare, holders, sorts: new Map(), columns: new Map() });
	}
	if (maps.size === 0) return new Map();
	const addTo = (counts: Map<string, number>, sort: string) => counts.set(sort, (counts.get(sort) ?? 0) + 1);
	for (const column of whole.columns.values())
		eachMap(column, (map, name, rest) => {
			const below = maps.get(map);
			if (!below) return;
			addTo(below.sorts, sortOf(rest, column));
			if (below.rare.has(name)) addTo(below.columns, rest);
		});
	const found = mapsOfThings(whole, maps);
	for (const [map, below] of maps) {
		// Fields of a record have names of their own, however many there are: only ids are none.
		const { names } = below;
		if (found.has(map)) continue;
		if (map === '' && [...names.keys()].filter(isId).length < names.size * 0.8) continue;
		if (areValues(below)) found.set(map, NONE);
	}
	for (const [map, fields] of found)
		for (const [name, count] of maps.get(map)!.names)
			if (!fields.has(name)) {
				const inside = map === '' ? '*' : `${map}.*`;
				holding.set(inside, (holding.get(inside) ?? 0) + count);
			}
	return found;
}

/** The path with the outermost name of an open map left open. */
function opened(path: string, maps: OpenMaps): string {
	for (let dot = -1, first = true; first || dot > 0; dot = path.indexOf('.', dot + 1), first = false) {
		const fields = maps.get(dot < 0 ? '' : path.slice(0, dot));
		if (!fields) continue;
		const rest = path.slice(dot + 1);
		const name = /^[^.[]*/.exec(rest)![0];
		if (name !== '' && name !== '*' && !isPlace(name) && !fields.has(name))
			return `${path.slice(0, dot + 1)}*${rest.slice(name.length)}`;
	}
	return path;
}

/**
 * How the columns of a kind are called where the names in some of its maps are values: these left open, in maps within
 * maps too. Null where there are no such maps.
 * @param read the columns, each named as a function of its path says
 */
export function openNames(
	whole: Sketch,
	isId: (name: string) => boolean,
	read: (nameOf: (path: string) => string) => Sketch
): { nameOf: (path: string) => string; sketch: Sketch } | null {
	const rounds: OpenMaps[] = [];
	const holding: Holders = new Map();
	const nameOf = (path: string) => rounds.reduce(opened, path);
	let sketch = whole;
	while (rounds.length < DEEPEST) {
		const maps = openMaps(sketch, isId, holding);
		if (maps.size === 0) break;
		rounds.push(maps);
		const next = read(nameOf);
		const isSame = next.columns.size === sketch.columns.size;
		sketch = next;
		if (isSame) break;
	}
	return rounds.length > 0 ? { nameOf, sketch } : null;
}
