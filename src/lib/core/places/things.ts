// What stands on a map, by what the guide says of positions.
import {
	beside,
	fieldOf,
	fillPattern,
	isPattern,
	mentionsIn,
	pathMatcher,
	type LinkGuide,
	type Mention,
	type PlaceGuide,
	type ThingGuide
} from '../guide';
import { derived, isChanged, type Stack, type Table } from '../stack';
import type { Span } from './days';
import { groundFrom, type Ground } from './ground';
import { networkOf, reached, type Link, type Network } from './network';

/** Something that stands on a map. Numbers that are none are null. */
export interface Thing extends Span {
	kind: string;
	id: string;
	row: number;
	x: number | null;
	y: number | null;
	z: number | null;
	angle: number | null;
	radius: number | null;
	amount: number | null;
	/** Whether my mod changed or added it. */
	mine: boolean;
}

/** What leads from one thing to another of its kind. */
export interface MapLink {
	/** The kind of what it leads between, and the ids of both ends. */
	between: string;
	from: string;
	to: string;
	both: boolean;
	width: number | null;
	/** The record that says so: the thing that it leaves, or one of its own. */
	kind: string;
	id: string;
	/** Its field that names what it leads to, what is written there, and from where to where in that the id is. */
	field: string;
	value: string;
	span: readonly [number, number];
	mine: boolean;
}

/** The map of a record, with all that stands on it. */
export interface PlaceMap {
	kind: string;
	id: string;
	guide: PlaceGuide;
	things: readonly Thing[];
	links: readonly MapLink[];
	ground: Ground | null;
	/** What everything has to lead to, and from what it must be reached. */
	goal: string | null;
	start: string | null;
}

const isTrue = (text: string | undefined): boolean => /^(?:true|1|yes|on)$/i.test(text ?? '');

/** What a value names, by the rule of its field; the value itself where it has none. */
function namedBy(table: Table, path: string): (value: string) => string | null {
	const reference = fieldOf(table.guide, path)?.reference;
	return (value) => (reference ? mentionsIn(reference, value)[0]?.id : value) || null;
}

/** The rows of a kind by the map that they stand on. */
const rowsByMap = (table: Table, field: string): ReadonlyMap<string, readonly number[]> =>
	derived(table, `rows by ${field}`, () => {
		const rows = new Map<string, number[]>();
		const named = namesIn(table, field);
		for (let row = 0; row < table.count; row++) {
			const id = named(row);
			if (id === null) continue;
			const list = rows.get(id);
			if (list) list.push(row);
			else rows.set(id, [row]);
		}
		return rows;
	});

/** What the values of a field name in each row; the same text is asked once. */
function namesIn(table: Table, field: string): (row: number) => string | null {
	const column = table.column(field);
	const named = namedBy(table, field);
	const known = new Map<number, string | null>();
	return (row) => {
		const text = column[row]!;
		let id = known.get(text);
		if (id === undefined) known.set(text, (id = text > 0 ? named(table.pool.at(text)) : null));
		return id;
	};
}

/** The values of a field in each row; undefined where there is none, or no field. */
function valuesIn(table: Table, path: string | undefined): (row: number) => string | undefined {
	const column = path === undefined ? null : table.column(path);
	return (row) => (column && column[row]! > 0 ? table.pool.at(column[row]!) : undefined);
}

/** The numbers of a field in each row; null where it has none. The same text is read once. */
function numbersIn(table: Table, path: string | undefined): (row: number) => number | null {
	const column = path === undefined ? null : table.column(path);
	if (!column) return () => null;
	return (row) => {
		const number = column[row]! > 0 ? table.pool.number(column[row]!) : NaN;
		return Number.isFinite(number) ? number : null;
	};
}

const idIn = (table: Table, row: number): string => table.pool.at(table.rows.ids[row]!);

/** The rows of what stands on a map. */
const rowsOn = (table: Table, { in: field }: ThingGuide, id: string): readonly number[] =>
	field === undefined
		? Array.from({ length: table.count }, (_, row) => row)
		: (rowsByMap(table, field).get(id) ?? []);

/** What of a kind stands on a map; a change of another kind leaves it as it is. */
const thingsOf = (table: Table, guide: ThingGuide, id: string): readonly Thing[] =>
	derived(table, `things ${JSON.stringify([id, guide])}`, () => thingsFrom(table, guide, id));

function thingsFrom(table: Table, guide: ThingGuide, id: string): Thing[] {
	const numbers = (path: string | undefined) => numbersIn(table, path);
	const [x, y, z, angle] = [guide.x, guide.y, guide.z, guide.angle].map(numbers);
	const [radius, amount, from, until] = [guide.radius, guide.amount, guide.from, guide.until].map(numbers);
	return rowsOn(table, guide, id).map((row) => ({
		kind: table.kind,
		id: idIn(table, row),
		row,
		x: x!(row),
		y: y!(row),
		z: z!(row),
		angle: angle!(row),
		radius: radius!(row),
		amount: amount!(row),
		from: from!(row),
		until: until!(row),
		mine: isChanged(table, row)
	}));
}

/** What the values of a field name in each row, each with its place in the value; the same text is asked once. */
function mentionsOf(table: Table, path: string): (row: number) => readonly [string, Mention][] {
	const column = table.column(path);
	const reference = fieldOf(table.guide, path)?.reference;
	const known = new Map<number, [string, Mention][]>([[0, []]]);
	return (row) => {
		const text = Math.max(column[row]!, 0);
		let found = known.get(text);
		if (!found) {
			const value = table.pool.at(text);
			const mentions = reference ? mentionsIn(reference, value) : [{ id: value, from: 0, to: value.length }];
			const there = mentions.filter(({ id }) => id !== '' && !reference?.none.includes(id));
			known.set(text, (found = there.map((mention) => [value, mention])));
		}
		return found;
	};
}

/** The fields of a kind that a path of the guide means: those of each item, where it speaks of a list. */
const fieldsBy = ({ columns }: Table, path: string): string[] =>
	isPattern(path) ? columns.filter(pathMatcher(path)) : [path];

/** The links that leave the things of a map by fields of theirs. */
function ownLinks(table: Table, guide: ThingGuide, things: readonly Thing[]): MapLink[] {
	if (guide.to === undefined) return [];
	const ways = fieldsBy(table, guide.to).map((field) => ({
		field,
		leads: mentionsOf(table, field),
		both: valuesIn(table, guide.both && beside(field, guide.both)),
		width: numbersIn(table, guide.width && beside(field, guide.width))
	}));
	const links: MapLink[] = [];
	for (const { kind, id, row, mine } of things) {
		if (kind !== table.kind) continue;
		for (const { field, leads, both, width } of ways)
			for (const [value, { id: to, from, to: end }] of leads(row))
				links.push({
					between: kind,
					from: id,
					to,
					both: isTrue(both(row)),
					width: width(row),
					kind,
					id,
					field,
					value,
					span: [from, end],
					mine
				});
	}
	return links;
}

/** The kind of things that records of a kind lead between; undefined where their ends name none of the map. */
export function linkedBy(
	stack: Stack,
	{ things }: PlaceGuide,
	{ kind, from }: LinkGuide
): string | undefined {
	const named = fieldOf(stack.guide.kinds[kind], from)?.reference?.kinds ?? [];
	return things.find((one) => named.includes(one.kind))?.kind;
}

/** The links of a kind of records of which an end stands on a map. */
function linksOf(stack: Stack, place: PlaceGuide, guide: LinkGuide, things: readonly Thing[]): MapLink[] {
	const table = stack.tables.get(guide.kind);
	const between = linkedBy(stack, place, guide);
	if (!table || between === undefined) return [];
	const there = new Set(things.flatMap(({ kind, id }) => (kind === between ? [id] : [])));
	const [from, to] = [namesIn(table, guide.from), mentionsOf(table, guide.to)];
	const [both, width] = [valuesIn(table, guide.both), numbersIn(table, guide.width)];
	const found: MapLink[] = [];
	for (let row = 0; row < table.count; row++) {
		const start = from(row);
		const [[value, end] = []] = to(row);
		if (start === null || !end || !(there.has(start) || there.has(end.id))) continue;
		found.push({
			between,
			from: start,
			to: end.id,
			both: isTrue(both(row)),
			width: width(row),
			kind: table.kind,
			id: idIn(table, row),
			field: guide.to,
			value: value!,
			span: [end.from, end.to],
			mine: isChanged(table, row)
		});
	}
	return found;
}

/** The ground of a map, from the highest layer that has its file. */
function groundOf({ layers }: Stack, guide: PlaceGuide, id: string): Ground | null {
	const path = guide.ground && fillPattern(guide.ground.file, (name) => (name === 'id' ? id : undefined));
	if (!path) return null;
	const file = layers.findLast((layer) => layer.on !== false && layer.files.has(path))?.files.get(path);
	const text = file?.text?.text ?? (file ? new TextDecoder().decode(file.bytes()) : undefined);
	return text === undefined ? null : groundFrom(text);
}

/** The ids of the maps of a kind; of the one map that is no record, its name. */
export const mapsOf = (stack: Stack, kind: string): string[] => {
	const guide = stack.guide.places?.[kind];
	if (!guide) return [];
	return guide.title === undefined ? [...(stack.tables.get(kind)?.byId.keys() ?? [])] : [kind];
};

const made = new WeakMap<Stack, Map<string, PlaceMap | undefined>>();

/**
 * The map of a record; undefined where the guide says of no such map, or there is no such record. Made once for the
 * same stack, for its checks and for whoever looks at it.
 */
export function mapOf(stack: Stack, kind: string, id: string): PlaceMap | undefined {
	let known = made.get(stack);
	if (!known) made.set(stack, (known = new Map()));
	const name = JSON.stringify([kind, id]);
	if (!known.has(name)) known.set(name, mapFrom(stack, kind, id));
	return known.get(name);
}

function mapFrom(stack: Stack, kind: string, id: string): PlaceMap | undefined {
	const guide = stack.guide.places?.[kind];
	const table = stack.tables.get(kind);
	const record = guide?.title === undefined ? table?.byId.get(id) : undefined;
	if (!guide || !(record || (guide.title !== undefined && id === kind))) return undefined;
	/** What the record of the map names, or the guide itself. */
	const named = (said: string | undefined): string | null => {
		const value = said !== undefined && record ? record.value(said) : said;
		return value ? (record ? namedBy(table!, said!)(value) : value) : null;
	};
	const withTable = guide.things.flatMap((one) => {
		const own = stack.tables.get(one.kind);
		return own ? [[own, one] as const] : [];
	});
	const things = withTable.flatMap(([own, one]) => thingsOf(own, one, id));
	return {
		kind,
		id,
		guide,
		things,
		links: [
			...withTable.flatMap(([own, one]) => ownLinks(own, one, things)),
			...(guide.links ?? []).flatMap((one) => linksOf(stack, guide, one, things))
		],
		ground: groundOf(stack, guide, id),
		goal: named(guide.goal),
		start: named(guide.start)
	};
}

/** The kinds of things that lead to each other. */
export const linkedKinds = (stack: Stack, guide: PlaceGuide): string[] => [
	...new Set([
		...guide.things.flatMap(({ kind, to }) => (to === undefined ? [] : [kind])),
		...(guide.links ?? []).flatMap((one) => linkedBy(stack, guide, one) ?? [])
	])
];

/** The network that the things of a kind are on a map. */
export function networkIn({ things, links }: Pick<PlaceMap, 'things' | 'links'>, kind: string): Network {
	return networkOf(
		things.flatMap((one) =>
			one.kind !== kind || one.x === null || one.y === null ? [] : [{ id: one.id, x: one.x, y: one.y }]
		),
		links.flatMap(({ between, from, to, both, width }): Link[] =>
			between !== kind ? [] : [{ from, to, width }, ...(both ? [{ from: to, to: from, width }] : [])]
		)
	);
}

/** A network on a map, with what no links lead to the goal of the map, and what none lead to from its start. */
interface Stray {
	network: Network;
	cut: ReadonlySet<string>;
	lost: ReadonlySet<string>;
}

const strays = new WeakMap<PlaceMap, Map<string, Stray>>();

/**
 * The things of a kind that no links lead to the goal of their map, and those that none lead to from its start; made
 * once for the same map.
 */
export function strayIn(map: PlaceMap, kind: string): Stray {
	let known = strays.get(map);
	if (!known) strays.set(map, (known = new Map()));
	let stray = known.get(kind);
	if (!stray) known.set(kind, (stray = strayFrom(map, kind)));
	return stray;
}

function strayFrom(map: PlaceMap, kind: string): Stray {
	const network = networkIn(map, kind);
	const without = (end: string | null, way: 'into' | 'out') => {
		if (end === null || !network.points.has(end)) return new Set<string>();
		const good = reached(network, [end], way);
		return new Set([...network.points.keys()].filter((id) => !good.has(id)));
	};
	return { network, cut: without(map.goal, 'into'), lost: without(map.start, 'out') };
}
