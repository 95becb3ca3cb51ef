// What is done on the map, as intentions.
import { group } from 'd3-array';
import { groundAt } from '$core/places';
import type { Intention } from '$core/edits';
import type { MapPage, MapView } from '$core/views';
import { within, written, type Standing } from './scene';

/** New values of things, by field. */
export type Values = Map<Standing, Record<string, string>>;

/** Several steps as one, with its title; null for none. */
export const asOne = (title: string, steps: Intention[]): Intention | null =>
	steps.length < 2 ? (steps[0] ?? null) : { do: 'several', title, steps };

/** Values of several things as one step; null where nothing changes. */
export const setAll = (title: string, values: Values): Intention | null =>
	asOne(
		title,
		[...group(values, ([{ kind }]) => kind.kind)].map(([kind, some]) => ({
			do: 'cells',
			kind,
			cells: some.flatMap(([{ id }, fields]) =>
				Object.entries(fields).map(([field, value]) => ({ id, field, value }))
			)
		}))
	);

/** Positions of things, each within the map and as its kind writes them. */
export function setPlaces(
	map: MapPage['map'],
	places: readonly (readonly [Standing, number, number])[]
): Values {
	return new Map(
		places.map(([thing, x, y]) => [
			thing,
			{
				[thing.kind.fields.x]: written(within(map.x, x), thing.kind.decimals),
				[thing.kind.fields.y]: written(within(map.y, y), thing.kind.decimals)
			}
		])
	);
}

const mean = (numbers: readonly number[]) => numbers.reduce((sum, one) => sum + one, 0) / numbers.length;

export type Arrangement = 'row' | 'column' | 'spread' | 'mirror';

/** Several things brought into an order among themselves. */
export function arranged(things: readonly Standing[], how: Arrangement): [Standing, number, number][] {
	const [middle, centre] = [mean(things.map(({ x }) => x)), mean(things.map(({ y }) => y))];
	if (how === 'row') return things.map((thing) => [thing, thing.x, centre]);
	if (how === 'column') return things.map((thing) => [thing, middle, thing.y]);
	if (how === 'mirror') return things.map((thing) => [thing, 2 * middle - thing.x, thing.y]);
	// Evenly between the first and the last, along the axis on which they are further apart.
	const [xs, ys] = [things.map(({ x }) => x), things.map(({ y }) => y)];
	const isWide = Math.max(...xs) - Math.min(...xs) >= Math.max(...ys) - Math.min(...ys);
	const sorted = [...things].sort((a, b) => (isWide ? a.x - b.x : a.y - b.y));
	const [first, last] = [sorted[0]!, sorted.at(-1)!];
	return sorted.map((thing, nth) => {
		const share = nth / (sorted.length - 1);
		return [thing, first.x + share * (last.x - first.x), first.y + share * (last.y - first.y)];
	});
}

/** Heights or depths taken from the ground, never inside of it. */
export function fromGround(map: MapPage['map'], view: MapView, things: readonly Standing[]): Values {
	const values: Values = new Map();
	const rows = view.ground;
	if (!rows || !map.ground) return values;
	for (const thing of things) {
		const ground = groundAt({ rows, columns: rows[0]?.length ?? 0 }, map, thing.x, thing.y);
		if (ground === null || thing.kind.fields.z === null) continue;
		const unit = 10 ** thing.kind.heights;
		const rounded =
			map.ground.says === 'depth' ? Math.floor(ground * unit) / unit : Math.ceil(ground * unit) / unit;
		values.set(thing, { [thing.kind.fields.z]: written(rounded, thing.kind.heights) });
	}
	return values;
}

/** The angle of a thing turned by some degrees, from 0 up to 360. */
export const turned = (angle: number, by: number): string =>
	String(Math.round((((angle + by) % 360) + 360) % 360));

/** A name for another one that none of these has: `knot_6` after `knot_5`. */
export function nextId(id: string, taken: ReadonlySet<string>): string {
	const [, stem = id, between = '_'] = /^(.*?)([_-]?)\d*$/.exec(id) ?? [];
	for (let nth = 2; ; nth++) {
		const next = `${stem}${between || '_'}${nth}`;
		if (!taken.has(next)) return next;
	}
}

/** The value of the field that leads to a thing. */
export const leadsTo = ({ reference: { before, after } }: Standing['kind'], id: string): string =>
	before + id + after;
