// What stands on a map, by what the guide says of positions.
import { fieldOf, fillPattern, mentionsIn, type PlaceGuide, type ThingGuide } from '../guide';
import { isChanged, type Stack, type Table } from '../stack';
import type { Span } from './days';
import { groundFrom, type Ground } from './ground';
import { networkOf, type Link, type Network } from './network';

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
	/** What it leads to, and whether that leads back. */
	to: string | null;
	both: boolean;
	width: number | null;
	/** Whether my mod changed or added it. */
	mine: boolean;
}

/** The map of a record, with all that stands on it. */
export interface PlaceMap {
	kind: string;
	id: string;
	guide: PlaceGuide;
	things: Thing[];
	ground: Ground | null;
	/** What everything has to lead to. */
	goal: string | null;
}

const numberIn = (text: string | undefined): number | null =>
	text === undefined || text.trim() === '' || !Number.isFinite(Number(text)) ? null : Number(text);

const isTrue = (text: string | undefined): boolean => /^(?:true|1|yes|on)$/i.test(text ?? '');

/** What a value names, by the rule of its field; the value itself where it has none. */
function namedBy(table: Table, path: string): (value: string) => string | null {
	const reference = fieldOf(table.guide, path)?.reference;
	return (value) => (reference ? mentionsIn(reference, value)[0]?.id : value) || null;
}

const grouped = new WeakMap<Table, Map<string, Map<string, number[]>>>();

/** The rows of a kind by the map that they stand on; made once for the same table. */
function rowsByMap(table: Table, field: string): ReadonlyMap<string, readonly number[]> {
	let known = grouped.get(table);
	if (!known) grouped.set(table, (known = new Map()));
	let rows = known.get(field);
	if (rows) return rows;
	known.set(field, (rows = new Map()));
	const column = table.column(field);
	const named = namedBy(table, field);
	const lists = new Map<number, number[] | null>();
	for (let row = 0; row < table.count; row++) {
		const text = column[row]!;
		let list = lists.get(text);
		if (list === undefined) {
			const id = text > 0 ? named(table.pool.at(text)) : null;
			list = id === null ? null : (rows.get(id) ?? []);
			if (id !== null) rows.set(id, list!);
			lists.set(text, list);
		}
		list?.push(row);
	}
	return rows;
}

function thingsOf(table: Table, guide: ThingGuide, id: string): Thing[] {
	const valueIn = (path: string | undefined) => {
		const column = path === undefined ? null : table.column(path);
		return (row: number) => (column && column[row]! > 0 ? table.pool.at(column[row]!) : undefined);
	};
	const [x, y, z, angle, radius, amount] = [
		guide.x,
		guide.y,
		guide.z,
		guide.angle,
		guide.radius,
		guide.amount
	].map(valueIn);
	const [from, until, to, both, width] = [guide.from, guide.until, guide.to, guide.both, guide.width].map(
		valueIn
	);
	const leads = guide.to === undefined ? () => null : namedBy(table, guide.to);
	return (rowsByMap(table, guide.in).get(id) ?? []).map((row) => ({
		kind: table.kind,
		id: table.pool.at(table.rows.ids[row]!),
		row,
		x: numberIn(x!(row)),
		y: numberIn(y!(row)),
		z: numberIn(z!(row)),
		angle: numberIn(angle!(row)),
		radius: numberIn(radius!(row)),
		amount: numberIn(amount!(row)),
		from: numberIn(from!(row)),
		until: numberIn(until!(row)),
		to: leads(to!(row) ?? ''),
		both: isTrue(both!(row)),
		width: numberIn(width!(row)),
		mine: isChanged(table, row)
	}));
}

/** The ground of a map, from the highest layer that has its file. */
function groundOf({ layers }: Stack, guide: PlaceGuide, id: string): Ground | null {
	const path = guide.ground && fillPattern(guide.ground.file, (name) => (name === 'id' ? id : undefined));
	if (!path) return null;
	const file = layers.findLast((layer) => layer.on !== false && layer.files.has(path))?.files.get(path);
	const text = file?.text?.text ?? (file ? new TextDecoder().decode(file.bytes()) : undefined);
	return text === undefined ? null : groundFrom(text);
}

/** The map of a record; undefined where the guide says of no such map, or there is no such record. */
export function mapOf(stack: Stack, kind: string, id: string): PlaceMap | undefined {
	const guide = stack.guide.places?.[kind];
	const table = stack.tables.get(kind);
	const record = table?.byId.get(id);
	if (!guide || !table || !record) return undefined;
	const goal = guide.goal === undefined ? undefined : record.value(guide.goal);
	return {
		kind,
		id,
		guide,
		things: guide.things.flatMap((one) => {
			const own = stack.tables.get(one.kind);
			return own ? thingsOf(own, one, id) : [];
		}),
		ground: groundOf(stack, guide, id),
		goal: goal ? namedBy(table, guide.goal!)(goal) : null
	};
}

/** The kinds of things that lead to each other. */
export const linkedKinds = ({ things }: PlaceGuide): string[] =>
	things.flatMap(({ kind, to }) => (to === undefined ? [] : [kind]));

/** The network that the things of a kind are on a map. */
export function networkIn({ things }: Pick<PlaceMap, 'things'>, kind: string): Network {
	const own = things.filter((thing) => thing.kind === kind);
	const links = own.flatMap(({ id, to, both, width }): Link[] =>
		to === null ? [] : [{ from: id, to, width }, ...(both ? [{ from: to, to: id, width }] : [])]
	);
	return networkOf(
		own.flatMap(({ id, x, y }) => (x === null || y === null ? [] : [{ id, x, y }])),
		links
	);
}
