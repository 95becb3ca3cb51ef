// Maps of places: which there are, what stands on one, and the ways on it.
import { fieldOf, type ThingGuide } from '$core/guide';
import {
	countDays,
	linkedKinds,
	mapOf,
	mendingLink,
	networkIn,
	reached,
	shortestWay,
	type PlaceMap,
	type Thing
} from '$core/places';
import { displayName, type Stack, type Table } from '$core/stack';
import type { MapKind, MapPage, MapThings, MapView, MapWay } from '$core/views';
import { NotThere } from '../faults';
import type { Model } from '../model';
import { named, targetOf } from './field';

/** Whether the guide says of anything where it stands. */
export const hasPlaces = ({ guide, tables }: Stack): boolean =>
	Object.keys(guide.places ?? {}).some((kind) => (tables.get(kind)?.count ?? 0) > 0);

/** All maps, in the order of the guide. */
function mapsIn(stack: Stack): MapPage['maps'] {
	return Object.keys(stack.guide.places ?? {}).flatMap((kind) => {
		const table = stack.tables.get(kind);
		return (table?.records ?? []).map((record) => ({
			...named(stack, record),
			kindTitle: table!.guide.title
		}));
	});
}

function placeOf(stack: Stack, kind: string, id: string): PlaceMap {
	const map = mapOf(stack, kind, id);
	if (!map) throw new NotThere(`There is no map ${id}.`);
	return map;
}

/** The page of a map; of the first one where none is named. Null where the game has none. @throws NotThere */
export function mapPageOf({ stack }: Model, kind?: string, id?: string): MapPage | null {
	const maps = mapsIn(stack);
	const first = maps[0];
	if (!first) return null;
	const [ofKind, ofId] = kind === undefined || id === undefined ? [first.kind, first.id] : [kind, id];
	const guide = stack.guide.places?.[ofKind];
	const record = stack.tables.get(ofKind)?.byId.get(ofId);
	if (!guide || !record) throw new NotThere(`There is no map ${ofId}.`);
	return {
		maps,
		map: {
			...named(stack, record),
			x: guide.x,
			y: guide.y,
			upwards: guide.upwards,
			unit: guide.unit ?? '',
			ground: guide.ground ? { says: guide.ground.says, unit: guide.ground.unit ?? '' } : null,
			days: guide.days ?? null,
			hasGoal: guide.goal !== undefined
		}
	};
}

/** Digits behind the point with which a field is written at most, among its first values. */
function decimalsOf(table: Table, path: string): number {
	const said = fieldOf(table.guide, path);
	if (said?.decimals !== undefined) return said.decimals;
	if (said?.type === 'whole') return 0;
	const column = table.column(path);
	let most = 0;
	for (let row = 0; row < Math.min(table.count, 500); row++)
		most = Math.max(most, /\.(\d+)$/.exec(table.pool.at(column[row]!))?.[1]!.length ?? 0);
	return most;
}

function kindOf(table: Table, { x, y, z, angle, radius, to, both }: ThingGuide, nth: number): MapKind {
	const { title, plural = title } = table.guide;
	const reference = to === undefined ? undefined : fieldOf(table.guide, to)?.reference;
	return {
		kind: table.kind,
		title,
		plural,
		nth,
		letter: title.slice(0, 1).toUpperCase(),
		fields: {
			x,
			y,
			z: z ?? null,
			angle: angle ?? null,
			radius: radius ?? null,
			to: to ?? null,
			both: both ?? null
		},
		decimals: Math.max(decimalsOf(table, x), decimalsOf(table, y)),
		heights: z === undefined ? 0 : decimalsOf(table, z),
		keyed: table.count === 0 || (table.record(0).presences.at(-1)?.written ?? false),
		reference: { before: reference?.before ?? '', after: reference?.after ?? '' }
	};
}

/** Things from which nothing leads to the goal, by kind and id. */
function cutOff(map: PlaceMap): Set<string> {
	const found = new Set<string>();
	if (map.goal === null) return found;
	for (const kind of linkedKinds(map.guide)) {
		const network = networkIn(map, kind);
		if (!network.points.has(map.goal)) continue;
		const good = reached(network, [map.goal], 'into');
		for (const id of network.points.keys()) if (!good.has(id)) found.add(`${kind}/${id}`);
	}
	return found;
}

/** How the things of each kind are called: by their name, or by what they are; null where an id is all there is. */
function namesOn(stack: Stack, { guide }: PlaceMap): Map<string, (thing: Thing) => string | null> {
	return new Map(
		guide.things.flatMap(({ kind, what }) => {
			const table = stack.tables.get(kind);
			if (!table) return [];
			const reference = what === undefined ? undefined : fieldOf(table.guide, what)?.reference;
			const column = what === undefined ? null : table.column(what);
			const known = new Map<number, string | null>();
			return [
				[
					kind,
					({ row, id }: Thing) => {
						const shown = displayName(stack, table.record(row));
						if (shown !== id || !column || !reference) return shown === id ? null : shown;
						const text = column[row]!;
						if (!known.has(text)) {
							const target = targetOf(stack, table.record(row), what!, reference, table.pool.at(text));
							known.set(text, target && displayName(stack, target));
						}
						return known.get(text) ?? null;
					}
				] as const
			];
		})
	);
}

/** Everything on a map. @throws NotThere */
export function mapViewOf({ stack, snags, project }: Model, kind: string, id: string): MapView {
	const map = placeOf(stack, kind, id);
	const kinds = map.guide.things.flatMap((one, nth) => {
		const table = stack.tables.get(one.kind);
		return table ? [kindOf(table, one, nth)] : [];
	});
	const number = new Map(kinds.map((one, nth) => [one.kind, nth]));
	const cut = cutOff(map);
	const faulty = new Set(
		snags.flatMap((snag) => (snag.kind && snag.record ? [`${snag.kind}/${snag.record}`] : []))
	);
	const { things } = map;
	const names = namesOn(stack, map);
	const columns: MapThings = {
		kind: things.map((one) => number.get(one.kind)!),
		id: things.map((one) => one.id),
		name: things.map((one) => names.get(one.kind)!(one)),
		x: things.map(({ x }) => x),
		y: things.map(({ y }) => y),
		z: things.map(({ z }) => z),
		angle: things.map(({ angle }) => angle),
		radius: things.map(({ radius }) => radius),
		amount: things.map(({ amount }) => amount),
		from: things.map(({ from }) => from),
		until: things.map(({ until }) => until),
		to: things.map(({ to }) => to),
		both: things.map(({ both }) => both),
		mine: things.map(({ mine }) => mine),
		cut: things.map((one) => cut.has(`${one.kind}/${one.id}`)),
		snag: things.map((one) => faulty.has(`${one.kind}/${one.id}`))
	};
	return {
		version: project.version,
		kinds,
		things: columns,
		ground: map.ground?.rows ?? null,
		goal: map.goal,
		days: map.guide.days ? countDays(map.guide.days, things) : []
	};
}

/** The way from one thing to another of its kind, or what would make one. @throws NotThere */
export function wayOn(
	{ stack }: Model,
	place: { kind: string; id: string },
	kind: string,
	from: string,
	to: string
): MapWay {
	const network = networkIn(placeOf(stack, place.kind, place.id), kind);
	const way = shortestWay(network, from, to);
	const narrowest = way?.narrowest;
	return {
		points: way?.points ?? [],
		length: way?.length ?? 0,
		narrowest: narrowest ? { from: narrowest.from, to: narrowest.to, width: narrowest.width! } : null,
		mend: way ? null : mendingLink(network, from, [to])
	};
}
