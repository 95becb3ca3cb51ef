// What is done on the map, as intentions.
import { group } from 'd3-array';
import { groundAt } from '$core/places';
import type { Intention } from '$core/edits';
import type { Around, MapLinkKind, MapPage, MapView } from '$core/views';
import { within, written, type Leading, type Standing } from './scene';

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

/** The value of a field that names a record. */
const naming = ({ before, after }: Around, id: string): string => before + id + after;

/** A name for a record that leads between two things: that of its model, with these two for those that are in it. */
function linkName(
	{ id, from, to }: NonNullable<MapLinkKind['model']>,
	ends: [string, string]
): string | null {
	const [first, last] = [id.indexOf(from), id.lastIndexOf(to)];
	return first < 0 || last < first + from.length
		? null
		: id.slice(0, first) +
				ends[0] +
				id.slice(first + from.length, last) +
				ends[1] +
				id.slice(last + to.length);
}

/** Whether things of a kind can be led to others: by a field of theirs, or by a record like one that is there. */
export const canLead = ({ linkKinds, kinds }: MapView, kind: Standing['kind']): boolean =>
	kind.fields.to !== null ||
	linkKinds.some(({ between, model }) => kinds[between] === kind && model !== null);

/** A new link from a thing to another of its kind, one way or both; null where nothing can say that. */
export function newLink(
	view: MapView,
	links: readonly Leading[],
	from: Standing,
	toId: string,
	both: boolean
): Intention | null {
	const { kind } = from;
	const back = (field: string | null) => (both && field !== null ? { [field]: 'true' } : {});
	if (kind.fields.to !== null)
		return setAll(
			`Lead ${from.id} to ${toId}`,
			new Map([[from, { [kind.fields.to]: naming(kind.reference, toId), ...back(kind.fields.both) }]])
		);
	const of = view.linkKinds.find(({ between, model }) => view.kinds[between] === kind && model !== null);
	if (!of) return null;
	const taken = new Set(links.flatMap(({ record }) => (record?.of === of ? [record.id] : [])));
	const named = linkName(of.model!, [from.id, toId]);
	const newId = named !== null && !taken.has(named) ? named : nextId(of.model!.id, taken);
	const values = {
		[of.fields.from]: naming(of.from, from.id),
		[of.fields.to]: naming(of.to, toId),
		...back(of.fields.both)
	};
	return { do: 'stand', kind: of.kind, id: of.model!.id, ...(of.keyed ? { newId } : {}), values };
}

/** Whether a link can lead back: there is a field that says so. */
export const bothField = ({ from, record }: Leading): string | null =>
	record ? record.of.fields.both : from.kind.fields.both;

/** Values of the record that says of a link where it leads. */
const setLink = ({ from, record }: Leading, values: Record<string, string>): Intention => ({
	do: 'cells',
	kind: record?.of.kind ?? from.kind.kind,
	cells: Object.entries(values).map(([field, value]) => ({ id: record?.id ?? from.id, field, value }))
});

export const setBoth = (link: Leading, both: boolean): Intention =>
	setLink(link, { [bothField(link)!]: String(both) });

/** Leads a link to another thing. */
export const leadTo = (link: Leading, toId: string): Intention =>
	setLink(
		link,
		link.record
			? { [link.record.of.fields.to]: naming(link.record.of.to, toId) }
			: { [link.from.kind.fields.to!]: naming(link.from.kind.reference, toId) }
	);

/** Takes a link out. */
export const withoutLink = (link: Leading): Intention =>
	link.record
		? { do: 'clear', kind: link.record.of.kind, ids: [link.record.id] }
		: setLink(link, { [link.from.kind.fields.to!]: '' });
