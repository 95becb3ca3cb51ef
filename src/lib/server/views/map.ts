// Maps of places: which there are, what stands on one, and the ways on it.
import { fieldOf, fillPattern, type ThingGuide } from '$core/guide';
import {
	countDays,
	linkedBy,
	linkedKinds,
	mapOf,
	mapsOf,
	mendingLink,
	networkIn,
	strayIn,
	shortestWay,
	type PlaceMap,
	type Thing
} from '$core/places';
import { displayName, type Stack, type Table } from '$core/stack';
import type {
	Around,
	MapKind,
	MapLinkKind,
	MapLinks,
	MapPage,
	MapThings,
	MapView,
	MapWay
} from '$core/views';
import { NotThere } from '../faults';
import type { Model } from '../model';
import type { Named } from '$core/views';
import { named, targetOf } from './field';

/** Whether it is known of anything where it stands. */
export const hasPlaces = (stack: Stack): boolean =>
	Object.keys(stack.guide.places ?? {}).some((kind) => mapsOf(stack, kind).length > 0);

/** A map by its record, or by its title where it is none. */
function mapNamed(stack: Stack, kind: string, id: string): Named {
	const record = stack.tables.get(kind)?.byId.get(id);
	const { title } = stack.guide.places![kind]!;
	return title === undefined && record ? named(stack, record) : { kind, id, name: title ?? id };
}

/** All maps, in the order of the guide. */
const mapsIn = (stack: Stack): MapPage['maps'] =>
	Object.keys(stack.guide.places ?? {}).flatMap((kind) =>
		mapsOf(stack, kind).map((id) => ({
			...mapNamed(stack, kind, id),
			kindTitle: stack.guide.kinds[kind]?.title ?? ''
		}))
	);

function placeOf(stack: Stack, kind: string, id: string): PlaceMap {
	const map = mapOf(stack, kind, id);
	if (!map) throw new NotThere(`There is no map ${id}.`);
	return map;
}

/** The picture of a map, from the highest layer that has it; null where there is none. */
function pictureOf(
	layers: Model['layers'],
	pattern: string | undefined,
	id: string
): MapPage['map']['picture'] {
	const path = pattern && fillPattern(pattern, (name) => (name === 'id' ? id : undefined));
	const layer = path && layers.findLast(({ on, files }) => on && files.some((file) => file.path === path));
	return path && layer ? { layer: layer.id, path } : null;
}

/** The page of a map; of the first one where none is named. Null where the game has none. @throws NotThere */
export function mapPageOf({ stack, layers }: Model, kind?: string, id?: string): MapPage | null {
	const maps = mapsIn(stack);
	const first = maps[0];
	if (!first) return null;
	const [ofKind, ofId] = kind === undefined || id === undefined ? [first.kind, first.id] : [kind, id];
	const guide = stack.guide.places?.[ofKind];
	if (!guide || !maps.some((one) => one.kind === ofKind && one.id === ofId))
		throw new NotThere(`There is no map ${ofId}.`);
	return {
		maps,
		map: {
			...mapNamed(stack, ofKind, ofId),
			isRecord: guide.title === undefined,
			found: guide.found ?? null,
			x: guide.x,
			y: guide.y,
			upwards: guide.upwards,
			unit: guide.unit ?? '',
			ground: guide.ground ? { says: guide.ground.says, unit: guide.ground.unit ?? '' } : null,
			picture: pictureOf(layers, guide.picture, ofId),
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

/** What is around an id in the values of a field. */
function aroundIn(table: Table, path: string | undefined): Around {
	const reference = path === undefined ? undefined : fieldOf(table.guide, path)?.reference;
	return { before: reference?.before ?? '', after: reference?.after ?? '' };
}

/** Whether records of a kind have their ids written. */
const isKeyed = (table: Table): boolean =>
	table.count === 0 || (table.record(0).presences.at(-1)?.written ?? false);

function kindOf(table: Table, { x, y, z, angle, radius, to, both }: ThingGuide, nth: number): MapKind {
	const { title, plural = title } = table.guide;
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
		keyed: isKeyed(table),
		reference: aroundIn(table, to),
		between: (to !== undefined && fieldOf(table.guide, to)?.reference?.list) || null
	};
}

/** The kinds of records that lead between things of a map. */
function linkKindsOf(stack: Stack, { guide, links }: PlaceMap, kinds: readonly MapKind[]): MapLinkKind[] {
	return (guide.links ?? []).flatMap((one): MapLinkKind[] => {
		const table = stack.tables.get(one.kind);
		const between = kinds.findIndex(({ kind }) => kind === linkedBy(stack, guide, one));
		if (!table || between < 0) return [];
		const model = links.find(({ kind }) => kind === one.kind);
		return [
			{
				kind: one.kind,
				title: table.guide.title,
				between,
				fields: { from: one.from, to: one.to, both: one.both ?? null },
				keyed: isKeyed(table),
				from: aroundIn(table, one.from),
				to: aroundIn(table, one.to),
				model: model ? { id: model.id, from: model.from, to: model.to } : null
			}
		];
	});
}

/** The links of a map in columns. */
function linkColumns(
	{ links }: PlaceMap,
	kinds: readonly MapKind[],
	linkKinds: readonly MapLinkKind[]
): MapLinks {
	const number = new Map(kinds.map(({ kind }, nth) => [kind, nth]));
	const ofLink = new Map(linkKinds.map(({ kind }, nth) => [kind, nth]));
	return {
		between: links.map(({ between }) => number.get(between)!),
		from: links.map(({ from }) => from),
		to: links.map(({ to }) => to),
		both: links.map(({ both }) => both),
		kind: links.map(({ kind }) => ofLink.get(kind) ?? -1),
		id: links.map(({ id }) => id),
		field: links.map(({ field }) => field),
		value: links.map(({ value }) => value),
		span: links.map(({ span }) => span),
		mine: links.map(({ mine }) => mine)
	};
}

/** A column; null where it says nothing. */
const columnOf = <T>(values: (T | null)[]): (T | null)[] | null =>
	values.every((value) => value === null) ? null : values;

/** The numbers of those of which something is so. */
function those<T>(all: readonly T[], is: (one: T) => boolean): number[] {
	const found: number[] = [];
	all.forEach((one, nth) => {
		if (is(one)) found.push(nth);
	});
	return found;
}

/** The numbers of the things that a set names by kind and id. */
const thoseIn = (things: readonly Thing[], named: ReadonlySet<string>): number[] =>
	named.size === 0 ? [] : those(things, ({ kind, id }) => named.has(`${kind}/${id}`));

/** Things from which nothing leads to the goal, or to which nothing leads from the start, by kind and id. */
function straying(stack: Stack, map: PlaceMap): Record<'cut' | 'lost', Set<string>> {
	const found = { cut: new Set<string>(), lost: new Set<string>() };
	if (map.goal === null && map.start === null) return found;
	for (const kind of linkedKinds(stack, map.guide)) {
		const { cut, lost } = strayIn(map, kind);
		for (const id of cut) found.cut.add(`${kind}/${id}`);
		for (const id of lost) found.lost.add(`${kind}/${id}`);
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
			const isNamed = table.guide.name !== undefined || table.guide.texts.some(({ name }) => name);
			return [
				[
					kind,
					({ row, id }: Thing) => {
						const shown = isNamed ? displayName(stack, table.record(row)) : id;
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

/** What was asked for last of each state, so that a map that is opened again is there at once. */
const seen = new WeakMap<Model, Map<string, MapView>>();

/** Maps of one state that are kept: those between which somebody goes back and forth. */
const KEPT = 3;

/** Everything on a map. @throws NotThere */
export function mapViewOf(model: Model, kind: string, id: string): MapView {
	const known = seen.get(model) ?? new Map<string, MapView>();
	seen.set(model, known);
	const name = JSON.stringify([kind, id]);
	const view = known.get(name) ?? mapViewFrom(model, kind, id);
	// The one that was asked for longest ago is the first.
	known.delete(name);
	known.set(name, view);
	if (known.size > KEPT) known.delete(known.keys().next().value!);
	return view;
}

function mapViewFrom({ stack, snags, project }: Model, kind: string, id: string): MapView {
	const map = placeOf(stack, kind, id);
	const kinds = map.guide.things.flatMap((one, nth) => {
		const table = stack.tables.get(one.kind);
		return table ? [kindOf(table, one, nth)] : [];
	});
	const number = new Map(kinds.map((one, nth) => [one.kind, nth]));
	const { cut, lost } = straying(stack, map);
	const faulty = new Set(
		snags.flatMap((snag) => (snag.kind && snag.record ? [`${snag.kind}/${snag.record}`] : []))
	);
	const { things } = map;
	const names = namesOn(stack, map);
	const columns: MapThings = {
		kind: things.map((one) => number.get(one.kind)!),
		id: things.map((one) => one.id),
		name: columnOf(things.map((one) => names.get(one.kind)!(one))),
		x: things.map(({ x }) => x),
		y: things.map(({ y }) => y),
		z: columnOf(things.map(({ z }) => z)),
		angle: columnOf(things.map(({ angle }) => angle)),
		radius: columnOf(things.map(({ radius }) => radius)),
		amount: columnOf(things.map(({ amount }) => amount)),
		from: columnOf(things.map(({ from }) => from)),
		until: columnOf(things.map(({ until }) => until)),
		mine: those(things, ({ mine }) => mine),
		cut: thoseIn(things, cut),
		lost: thoseIn(things, lost),
		snag: thoseIn(things, faulty)
	};
	const linkKinds = linkKindsOf(stack, map, kinds);
	return {
		version: project.version,
		kinds,
		linkKinds,
		things: columns,
		links: linkColumns(map, kinds, linkKinds),
		ground: map.ground?.rows ?? null,
		goal: map.goal,
		start: map.start,
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
