// Columns of a kind as they are meant: places of tuples apart from each other, and maps whose names are values (ids,
// languages, days) as one column.
import { patternOf } from '../guide';
import type { DataFile } from './group';
import { openNames } from './open-maps';
import { readSketch, sketchOfAll, type Column, type Sketch } from './sketch';
import { runsOf } from './together';

/** Values of a list beyond which it is no tuple. */
const WIDEST = 8;
/** Values of a place below which they are few. */
const FEW = 30;
/** Share of the values of two places that may be the same. */
const COMMON = 0.1;

/** The name of the column of a path that ends in a list item, with the number of that item. */
const withPlace = (name: string, path: string): string =>
	name.slice(0, name.lastIndexOf('[')) + path.slice(path.lastIndexOf('['));

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
	return others.every((place) => {
		const { values } = place;
		if (values.length < 3 || first.values.length < 3) return false;
		// A few values that are all different have none in common by chance.
		if (first.filled < FEW && [first, place].every(({ filled, values: all }) => all.length > filled * 0.8))
			return false;
		let both = 0;
		for (const value of values) if (seen.has(value)) both++;
		return both <= Math.min(values.length, first.values.length) * COMMON;
	});
}

/**
 * Lists whose items have a meaning by their place, by the name of their column.
 * @param nameOf the name of the column of a path
 */
function tuplesIn(files: readonly DataFile[], whole: Sketch, nameOf: (path: string) => string): Set<string> {
	const lists = new Set([...whole.columns.keys()].filter((path) => path.endsWith('[]')));
	if (lists.size === 0) return lists;
	const { pool } = files[0]!.facts;
	const number = (text: number) => pool.number(text);
	const byPlace = readSketch(
		runsOf(files).map(({ cells }) => cells),
		(path) => {
			if (!path.endsWith(']')) return '';
			const name = nameOf(path);
			return lists.has(name) ? withPlace(name, path) : '';
		}
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

const refined = { plain: new WeakMap<Sketch, Sketch>(), byIds: new WeakMap<Sketch, Sketch>() };

/** The columns of some files together, each as meant. Made once for the same files. */
export function columnsOf(files: readonly DataFile[], isId?: (name: string) => boolean): Sketch {
	const whole = sketchOfAll(files);
	const known = isId ? refined.byIds : refined.plain;
	let found = known.get(whole);
	if (found) return found;
	const all = runsOf(files).map(({ cells }) => cells);
	const open = openNames(whole, isId ?? (() => false), (nameOf) =>
		readSketch(all, (path) => nameOf(patternOf(path)))
	);
	const nameOf = (path: string) => (open ? open.nameOf(patternOf(path)) : patternOf(path));
	found = open?.sketch ?? whole;
	const tuples = tuplesIn(files, found, nameOf);
	if (tuples.size > 0)
		found = readSketch(all, (path) => {
			const name = nameOf(path);
			return tuples.has(name) ? withPlace(name, path) : name;
		});
	known.set(whole, found);
	return found;
}
