// Columns of a kind as they are meant: places of tuples apart from each other, and maps whose names are values (ids,
// languages, days) as one column.
import { patternOf } from '../guide';
import type { DataFile } from './group';
import { readSketch, sketchOfAll, type Column, type Sketch } from './sketch';

/** Values of a list beyond which it is no tuple. */
const WIDEST = 8;
/** Names in a map from which on they may be values, and share of the records with the map that have one of them. */
const NAMES = { least: 12, share: 0.5 };
/** Share of the columns below such a map that must be of sorts which recur, and of the names that have one that does. */
const ALIKE = 0.9;
const RECURS = 0.05;
/** Share of the values of two places that may be the same. */
const COMMON = 0.1;

/** The pattern of a path in which the last list item keeps its number. */
const withPlace = (path: string): string => {
	const at = path.lastIndexOf('[');
	return patternOf(path.slice(0, at)) + path.slice(at);
};

/** Whether a part of a path is a value's place on the line of its holder and no name. */
export const isPlace = (name: string): boolean => /^#\d+$/.test(name);

const isNumber = ({ values }: Column, number: (text: number) => number): boolean =>
	values.length > 0 && values.every((value) => !Number.isNaN(number(value)));

/** Whether the places of a list differ in what is there. */
function isTuple(places: readonly Column[], number: (text: number) => number): boolean {
	if (places.length < 2 || places.length > WIDEST) return false;
	// Later places may be left out.
	for (let at = 1; at < places.length; at++) if (places[at]!.cells > places[at - 1]!.cells) return false;
	const [first, ...others] = places as [Column, ...Column[]];
	const numeric = isNumber(first, number);
	if (others.some((place) => isNumber(place, number) !== numeric)) return true;
	if (numeric) return places.every(({ cells }) => cells === first.cells);
	const seen = new Set(first.values);
	return others.every(({ values }) => {
		if (values.length < 3 || first.values.length < 3) return false;
		let both = 0;
		for (const value of values) if (seen.has(value)) both++;
		return both <= Math.min(values.length, first.values.length) * COMMON;
	});
}

/** Lists whose items have a meaning by their place, by the pattern of the list with `[]` for the place. */
function tuplesIn(files: readonly DataFile[], whole: Sketch): Set<string> {
	const lists = new Set([...whole.columns.keys()].filter((path) => path.endsWith('[]')));
	if (lists.size === 0) return lists;
	const { pool } = files[0]!.facts;
	const number = (text: number) => pool.number(text);
	const byPlace = readSketch(
		files.map(({ facts }) => facts),
		(path) => (lists.has(patternOf(path)) && path.endsWith(']') ? withPlace(path) : '')
	);
	const places = new Map<string, Column[]>();
	for (const column of byPlace.columns.values()) {
		const list = patternOf(column.path);
		const at = Number(/\[(\d+)\]$/.exec(column.path)?.[1] ?? WIDEST);
		const own = places.get(list) ?? [];
		places.set(list, own);
		own[at] = column;
	}
	const found = new Set<string>();
	for (const [list, own] of places)
		if (own.length <= WIDEST && Array.from(own).every(Boolean) && isTuple(own, number)) found.add(list);
	return found;
}

/** Maps whose names are values, by the pattern of what holds them. */
function openMaps(whole: Sketch, isId: (name: string) => boolean): Set<string> {
	interface Below {
		names: Map<string, number>;
		sorts: Map<string, number>;
	}
	const maps = new Map<string, Below>();
	for (const { path, records, types } of whole.columns.values())
		for (let dot = -1, first = true; first || dot > 0; dot = path.indexOf('.', dot + 1), first = false) {
			// The record itself is a map too.
			const map = dot < 0 ? '' : path.slice(0, dot);
			const rest = path.slice(dot + 1);
			const name = /^[^.[]*/.exec(rest)![0];
			if (name === '' || isPlace(name)) continue;
			const own = maps.get(map) ?? {
				names: new Map<string, number>(),
				sorts: new Map<string, number>()
			};
			maps.set(map, own);
			own.names.set(name, Math.max(own.names.get(name) ?? 0, records));
			const sort = `${rest.slice(name.length)} ${types.indexOf(Math.max(...types))}`;
			own.sorts.set(sort, (own.sorts.get(sort) ?? 0) + 1);
		}
	const found = new Set<string>();
	for (const [map, { names, sorts }] of maps) {
		if (names.size < NAMES.least) continue;
		// Fields of a record have names of their own, however many there are: only ids are none.
		if (map === '' && [...names.keys()].filter(isId).length < names.size * 0.8) continue;
		const most = Math.max(...names.values());
		const mean = [...names.values()].reduce((sum, count) => sum + count, 0) / names.size;
		// Every name has the same below it.
		const columns = [...sorts.values()].reduce((sum, count) => sum + count, 0);
		const alike = [...sorts.values()].filter((count) => count >= Math.max(3, names.size * RECURS));
		const share = alike.reduce((sum, count) => sum + count, 0) / columns;
		if (share < ALIKE) continue;
		if (mean <= whole.count * NAMES.share || mean <= most * NAMES.share) found.add(map);
	}
	return found;
}

/** The path with the names of open maps left open. */
function opened(path: string, maps: ReadonlySet<string>): string {
	if (maps.has('')) return path.replace(/^[^.[]+/, '*');
	for (let dot = path.indexOf('.'); dot > 0; dot = path.indexOf('.', dot + 1)) {
		if (!maps.has(path.slice(0, dot))) continue;
		const rest = path.slice(dot + 1);
		const name = /^[^.[]*/.exec(rest)![0];
		if (isPlace(name)) continue;
		return `${path.slice(0, dot)}.*${rest.slice(name.length)}`;
	}
	return path;
}

const refined = { plain: new WeakMap<Sketch, Sketch>(), byIds: new WeakMap<Sketch, Sketch>() };

/** The columns of some files together, each as meant. Made once for the same files. */
export function columnsOf(files: readonly DataFile[], isId?: (name: string) => boolean): Sketch {
	const whole = sketchOfAll(files);
	const known = isId ? refined.byIds : refined.plain;
	let found = known.get(whole);
	if (found) return found;
	const tuples = tuplesIn(files, whole);
	const maps = openMaps(whole, isId ?? (() => false));
	found =
		tuples.size === 0 && maps.size === 0
			? whole
			: readSketch(
					files.map(({ facts }) => facts),
					(path) => {
						const pattern = patternOf(path);
						return opened(tuples.has(pattern) ? withPlace(path) : pattern, maps);
					}
				);
	known.set(whole, found);
	return found;
}
