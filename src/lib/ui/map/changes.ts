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

/** The list that an item of it is in, and its number; null where a field is in none. */
function itemOf(field: string): { list: string; at: number; rest: string } | null {
	const [, list, at, rest] = /^(.*?)\[(\d+)\](.*)$/.exec(field) ?? [];
	return list === undefined ? null : { list, at: Number(at), rest: rest! };
}

/** What leads from a thing by fields of its own. */
const ownOf = (links: readonly Leading[], { kind, id }: Pick<Standing, 'kind' | 'id'>): Leading[] =>
	links.filter(({ from, record }) => !record && from.kind === kind && from.id === id);

/** Values of one record. */
const setFields = (kind: string, id: string, values: Record<string, string>): Intention => ({
	do: 'cells',
	kind,
	cells: Object.entries(values).map(([field, value]) => ({ id, field, value }))
});

/** One more of the things that a thing names in a list; null where none is there that a new one could be like. */
function oneMore(own: readonly Leading[], from: Standing, toId: string, both: boolean): Intention | null {
	const { kind, id } = from;
	const [list, rest] = kind.fields.to!.split('[]') as [string, string];
	const title = `Lead ${id} to ${toId}`;
	const last = own.reduce((most, { field }) => Math.max(most, itemOf(field)?.at ?? -1), -1);
	const change = (how: 'insert' | 'copy', at: number): Intention => ({
		do: 'item',
		kind: kind.kind,
		id,
		list,
		at,
		change: how === 'copy' ? { how } : { how, value: naming(kind.reference, toId) }
	});
	const at = last + 1;
	const back = kind.fields.both?.startsWith(`${list}[]`)
		? { [kind.fields.both.replace('[]', `[${at}]`)]: String(both) }
		: both && kind.fields.both !== null
			? { [kind.fields.both]: 'true' }
			: {};
	if (rest !== '' && last < 0) return null;
	const values = {
		...(rest === '' ? {} : { [`${list}[${at}]${rest}`]: naming(kind.reference, toId) }),
		...back
	};
	return asOne(title, [
		rest === '' ? change('insert', at) : change('copy', last),
		...(Object.keys(values).length > 0 ? [setFields(kind.kind, id, values)] : [])
	]);
}

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
	if (kind.fields.to !== null) {
		const own = ownOf(links, from);
		if (kind.fields.to.includes('[]')) return oneMore(own, from, toId, both);
		const there = kind.between === null ? '' : (own[0]?.value ?? '');
		const gap = there.includes(`${kind.between} `) ? `${kind.between} ` : kind.between;
		const value = (there === '' ? '' : there + gap) + naming(kind.reference, toId);
		return setAll(
			`Lead ${from.id} to ${toId}`,
			new Map([[from, { [kind.fields.to]: value, ...back(kind.fields.both) }]])
		);
	}
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
export function bothField({ from, record, field }: Leading): string | null {
	if (record) return record.of.fields.both;
	const { both } = from.kind.fields;
	return both === null ? null : both.replace('[]', `[${itemOf(field)?.at ?? 0}]`);
}

/** Values of the record that says of a link where it leads; refused where that is another by now. */
const setLink = (
	{ from, record, field: own, value: was }: Leading,
	values: Record<string, string>
): Intention => ({
	do: 'cells',
	kind: record?.of.kind ?? from.kind.kind,
	cells: Object.entries(values).map(([field, value]) => ({
		id: record?.id ?? from.id,
		field,
		value,
		...(field === own ? { expected: was } : {})
	}))
});

export const setBoth = (link: Leading, both: boolean): Intention =>
	setLink(link, { [bothField(link)!]: String(both) });

/** Leads a link to another thing. */
export function leadTo(link: Leading, toId: string): Intention {
	const { field, value, span } = link;
	return setLink(link, { [field]: value.slice(0, span[0]) + toId + value.slice(span[1]) });
}

const withoutItem = (
	{ from }: Leading,
	id: string,
	{ list, at }: { list: string; at: number }
): Intention => ({
	do: 'item',
	kind: from.kind.kind,
	id,
	list,
	at,
	change: { how: 'remove' }
});

/** Takes a link out. */
export function withoutLink(link: Leading): Intention {
	const { from, record, field, value, span } = link;
	if (record) return { do: 'clear', kind: record.of.kind, ids: [record.id] };
	const item = itemOf(field);
	if (item) return withoutItem(link, from.id, item);
	const { between } = from.kind;
	if (between === null) return setLink(link, { [field]: '' });
	let start = 0;
	const parts = value.split(between).filter((part) => {
		const isOwn = span[0] >= start && span[1] <= start + part.length;
		start += part.length + between.length;
		return !isOwn;
	});
	return setLink(link, { [field]: parts.join(between).trimStart() });
}

/** What a copy of the thing that a link leaves says of where it leads: there alone. To be set in it, or done then. */
export function onlyTo(
	links: readonly Leading[],
	link: Leading,
	id: string
): { values: Record<string, string>; then: Intention[] } {
	const { from, field, toId, record } = link;
	if (record) return { values: {}, then: [] };
	const item = itemOf(field);
	if (!item) return { values: { [field]: naming(from.kind.reference, toId) }, then: [] };
	const others = ownOf(links, from)
		.map((one) => itemOf(one.field)!)
		.filter(({ at }) => at !== item.at)
		.sort((a, b) => b.at - a.at);
	return { values: {}, then: others.map((one) => withoutItem(link, id, one)) };
}
