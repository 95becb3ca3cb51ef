// What is on a map as the page works with it: things by number, where they are drawn, and which are there on a day.
import { isThere } from '$core/places';
import type { MapKind, MapLinkKind, MapPage, MapView } from '$core/views';

/** One thing on the map; its position may be one that is not written yet. */
export interface Standing {
	nth: number;
	kind: MapKind;
	id: string;
	name: string | null;
	x: number;
	y: number;
	z: number | null;
	angle: number | null;
	radius: number | null;
	amount: number | null;
	from: number | null;
	until: number | null;
	mine: boolean;
	/** Whether nothing leads from it to the goal, or to it from the start. */
	cut: boolean;
	lost: boolean;
	snag: boolean;
}

/** What leads from one thing to another. */
export interface Leading {
	from: Standing;
	/** The id of what it leads to, and the thing itself where it is on the map. */
	toId: string;
	to: Standing | undefined;
	both: boolean;
	/** The record that says so; null where it is the thing that it leaves. */
	record: { of: MapLinkKind; id: string } | null;
	/** Its field that names what it leads to, what is written there, and from where to where in that the id is. */
	field: string;
	value: string;
	span: readonly [number, number];
}

/** What of a thing is drawn. */
export type Mark = Pick<Standing, 'x' | 'y' | 'angle' | 'amount' | 'mine' | 'cut' | 'lost' | 'snag'> & {
	kind: Pick<MapKind, 'nth' | 'letter'>;
};

/** What of a link is drawn. */
export interface Drawn {
	from: Mark;
	to: Mark | undefined;
	both: boolean;
}

/** The things that have a place. */
export function standingIn({ kinds, things }: MapView): Standing[] {
	const all: Standing[] = [];
	const byNumber: (Standing | undefined)[] = [];
	const { id, name, z, angle, radius, amount, from, until } = things;
	for (let nth = 0; nth < id.length; nth++) {
		const x = things.x[nth]!;
		const y = things.y[nth]!;
		if (x === null || y === null) continue;
		const thing: Standing = {
			nth: all.length,
			kind: kinds[things.kind[nth]!]!,
			id: id[nth]!,
			name: name === null ? null : name[nth]!,
			x,
			y,
			z: z === null ? null : z[nth]!,
			angle: angle === null ? null : angle[nth]!,
			radius: radius === null ? null : radius[nth]!,
			amount: amount === null ? null : amount[nth]!,
			from: from === null ? null : from[nth]!,
			until: until === null ? null : until[nth]!,
			mine: false,
			cut: false,
			lost: false,
			snag: false
		};
		all.push(thing);
		byNumber[nth] = thing;
	}
	for (const mark of ['mine', 'cut', 'lost', 'snag'] as const)
		for (const nth of things[mark]) {
			const thing = byNumber[nth];
			if (thing) thing[mark] = true;
		}
	return all;
}

/** What leads from the things of a map to others, found among all of them. */
export function leadingIn({ kinds, linkKinds, links }: MapView, all: readonly Standing[]): Leading[] {
	const byId = new Map<MapKind, Map<string, Standing>>();
	for (const nth of new Set(links.between)) byId.set(kinds[nth]!, new Map());
	for (const one of all) byId.get(one.kind)?.set(one.id, one);
	const leading: Leading[] = [];
	for (let nth = 0; nth < links.id.length; nth++) {
		const ends = byId.get(kinds[links.between[nth]!]!)!;
		const from = ends.get(links.from[nth]!);
		if (!from) continue;
		const of = linkKinds[links.kind[nth]!];
		const toId = links.to[nth]!;
		leading.push({
			from,
			toId,
			to: ends.get(toId),
			both: links.both[nth]!,
			record: of ? { of, id: links.id[nth]! } : null,
			field: links.field[nth]!,
			value: links.value[nth]!,
			span: links.span[nth]!
		});
	}
	return leading;
}

/** The links of which what they lead between is there. */
export function linksAmong(leading: readonly Leading[], things: readonly Standing[]): readonly Leading[] {
	const there = new Set(things);
	return leading.filter(({ from, to }) => there.has(from) && (!to || there.has(to)));
}

export const keyOf = ({ kind, id }: Pick<Standing, 'kind' | 'id'>): string => `${kind.kind}/${id}`;

/** The things with some keys, in the order of these. */
export function withKeys(all: readonly Standing[], keys: ReadonlySet<string>): Standing[] {
	const idsOf = new Map<MapKind, Set<string>>();
	const found = new Map<string, Standing>();
	for (const one of all) {
		let ids = idsOf.get(one.kind);
		if (!ids) {
			const before = keyOf({ kind: one.kind, id: '' });
			const own = [...keys].filter((key) => key.startsWith(before));
			idsOf.set(one.kind, (ids = new Set(own.map((key) => key.slice(before.length)))));
		}
		if (ids.has(one.id)) found.set(keyOf(one), one);
	}
	return [...keys].flatMap((key) => found.get(key) ?? []);
}

/** The things that are there on a day; all of them where no day is asked for. */
export const onDay = (
	all: readonly Standing[],
	days: MapPage['map']['days'],
	day: number | null
): readonly Standing[] =>
	days === null || day === null ? all : all.filter((thing) => isThere(days, thing, day));

/** Where places of the map are on the screen. */
export interface Sight {
	/** Pixels of the whole view. */
	width: number;
	height: number;
	/** Pixels for a unit of the map, and those from the left and the top to its lowest numbers. */
	scale: number;
	left: number;
	top: number;
	map: MapPage['map'];
}

export const across = ({ left, scale, map }: Sight, x: number): number => left + (x - map.x[0]) * scale;
export const along = ({ top, scale, map }: Sight, y: number): number =>
	top + (map.upwards ? map.y[1] - y : y - map.y[0]) * scale;
/** The place of the map that is at a pixel. */
export const placeAt = ({ left, top, scale, map }: Sight, right: number, down: number): [number, number] => {
	const [x, y] = [(right - left) / scale, (down - top) / scale];
	return [map.x[0] + x, map.upwards ? map.y[1] - y : map.y[0] + y];
};

/** A number as positions of a kind are written. */
export const written = (value: number, decimals: number): string => value.toFixed(decimals);

/** A number between the ends of the map. */
export const within = ([low, high]: [number, number], value: number): number =>
	Math.min(high, Math.max(low, value));

/** A step of a grid of about so many pixels: 1, 2 or 5 and zeros. */
export function stepOf(scale: number, pixels = 90): number {
	const wanted = pixels / scale;
	const power = 10 ** Math.floor(Math.log10(wanted));
	return [1, 2, 5, 10].map((part) => part * power).find((step) => step >= wanted)!;
}
