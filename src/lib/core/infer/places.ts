// What stands somewhere: two numbers of a record that are named and spread as a place on a map is, what says on which
// map, and what leads from one to another.
import {
	FOLDER,
	type FieldGuide,
	type Guide,
	type KindGuide,
	type LinkGuide,
	type PlaceGuide,
	type ThingGuide
} from '../guide';
import type { Group } from './group';
import { wordsOf } from './likeness';
import { placesOf } from './sketch';
import { finding, said } from './sure';

/** Names of the two axes of a map: the second one grows upwards on maps of the world. */
const AXES = [
	{ across: 'x', along: 'y', upwards: false },
	{ across: 'x', along: 'z', upwards: false },
	{ across: 'lon', along: 'lat', upwards: true },
	{ across: 'lng', along: 'lat', upwards: true },
	{ across: 'long', along: 'lat', upwards: true },
	{ across: 'longitude', along: 'latitude', upwards: true },
	{ across: 'east', along: 'north', upwards: true },
	{ across: 'easting', along: 'northing', upwards: true },
	{ across: 'col', along: 'row', upwards: false },
	{ across: 'column', along: 'row', upwards: false }
].map((axes) => ({
	...axes,
	// `x`, `pos_x`, `x_pos`, `posX` and `posx`, as the whole last name of the path.
	name: new RegExp(
		`^((?:.*[._])?(?:pos|map|grid|tile|coord|loc|start|spawn)?_?)(${axes.across})((?:_?(?:pos|coord))?)$`,
		'i'
	)
}));

/** Words of pairs of numbers that are no place on a map. */
const OTHER = new Set(
	'size scale offset speed velocity icon sprite frame pivot anchor texture tex uv rotation rot min max width height force gravity margin padding'.split(
		' '
	)
);

/** Lists of two or three numbers that are a place. */
const LISTS = /^(?:pos|position|coord|coordinate|coords|at|xy|xyz|location|place|spot)$/i;

/** Those whose names say of which of the two is written first. */
const NAMED_LISTS = [
	{ name: /(?:^|[._])lat_?(?:lng|lon|long)$/i, first: 'along' },
	{ name: /(?:^|[._])(?:lng|lon|long)_?lat$/i, first: 'across' }
] as const;

/** Words of what is a map, or says which. */
const MAPS = new Set(
	'map level world zone area region room bay scene place island floor sector field stage chart'.split(' ')
);

const LEADS = new Set(
	'next to target lead link goto path exit neighbour neighbor border adjacent connect connection'.split(' ')
);
const ENDS: readonly [RegExp, RegExp][] = [
	[/^from|(?:^|[_.])from$|From$/, /^to|(?:^|[_.])to$|To$/],
	[/^(?:a|start|source|src|begin)$/i, /^(?:b|end|target|dst|goal|destination)$/i]
];

/** Share of the records that have a place, least number of records, and share of places that are different. */
const [MOST, LEAST, DIFFERENT] = [0.9, 4, 0.6];
/** How many times as far one axis may go as the other. */
const STRETCH = 20;

/** Whether no word of a path says that its numbers are something else. */
const isPlace = (path: string): boolean => !wordsOf(path).some((word) => OTHER.has(word));

/** Paths of fields that are named as the two axes are. */
function pairsNamed(paths: readonly string[]): { x: string; y: string; upwards: boolean }[] {
	const there = new Set(paths);
	const found: { x: string; y: string; upwards: boolean }[] = [];
	for (const x of paths) {
		if (x.endsWith('[0]')) {
			const list = x.slice(0, -3);
			const y = `${list}[1]`;
			const named = there.has(y) ? NAMED_LISTS.find(({ name }) => name.test(list)) : undefined;
			if (named) found.push({ ...(named.first === 'across' ? { x, y } : { x: y, y: x }), upwards: true });
			else if (there.has(y) && LISTS.test(list.slice(list.lastIndexOf('.') + 1)) && isPlace(x))
				found.push({ x, y, upwards: false });
			continue;
		}
		for (const { name, along, upwards } of AXES) {
			const fit = name.exec(x);
			if (!fit) continue;
			const [, before = '', own = '', after = ''] = fit;
			const upper = own === own.toUpperCase();
			const first = own[0] === own[0]!.toUpperCase();
			const other = upper ? along.toUpperCase() : first ? along[0]!.toUpperCase() + along.slice(1) : along;
			const y = before + other + after;
			if (there.has(y) && isPlace(x)) found.push({ x, y, upwards });
		}
	}
	return found;
}

/** The numbers of paths in each record; NaN where there is none. */
function numbersAt(group: Group, paths: readonly string[]): number[][] {
	const rows: number[][] = [];
	for (const { facts } of group.files) {
		const { pool, shape, firsts, values } = facts;
		const places = placesOf(facts).map((here) => paths.map((path) => here.of(path)));
		for (let nth = 0; nth < facts.count; nth++)
			rows.push(
				places[shape[nth]!]!.map((at) => {
					const text = at === undefined ? 0 : values[firsts[nth]! + at]!;
					return text > 0 ? pool.number(text) : NaN;
				})
			);
	}
	return rows;
}

interface Ends {
	low: number;
	high: number;
}

const endsOf = (numbers: readonly number[]): Ends => ({
	low: numbers.reduce((low, one) => Math.min(low, one), Infinity),
	high: numbers.reduce((high, one) => Math.max(high, one), -Infinity)
});

interface Spot {
	thing: ThingGuide;
	upwards: boolean;
	x: Ends;
	y: Ends;
	/** Records with a place, of how many, and how many places are different. */
	hits: number;
	all: number;
	different: number;
}

/** Where the records of a kind stand, by two of their fields; null where none look like it. */
function spotOf(group: Group, fields: Readonly<Record<string, FieldGuide>>): Spot | null {
	const paths = [...group.sketch.columns.keys()];
	const candidates = pairsNamed(paths).flatMap((pair): Spot[] => {
		if ([pair.x, pair.y].some((path) => fields[path]?.reference !== undefined)) return [];
		const rows = numbersAt(group, [pair.x, pair.y]);
		const whole = rows.filter(([x, y]) => Number.isFinite(x) && Number.isFinite(y));
		if (whole.length < LEAST || whole.length < rows.length * MOST) return [];
		const [x, y] = [endsOf(whole.map(([one]) => one!)), endsOf(whole.map(([, one]) => one!))];
		const [wide, high] = [x.high - x.low, y.high - y.low];
		if (!(wide > 0 && high > 0) || wide > high * STRETCH || high > wide * STRETCH) return [];
		const different = new Set(whole.map(([a, b]) => `${a} ${b}`)).size;
		// What repeats itself more is a size, or a place in a picture.
		if (different < LEAST || different < whole.length * DIFFERENT) return [];
		return [
			{
				thing: { kind: group.kind, x: pair.x, y: pair.y },
				upwards: pair.upwards,
				x,
				y,
				hits: whole.length,
				all: rows.length,
				different
			}
		];
	});
	// Of x, y and z the height is what goes less far than the two others.
	const flat = candidates.toSorted((a, b) => reach(b) - reach(a));
	const [best] =
		candidates.length > 1 && flat[0]!.thing.x === flat[1]!.thing.x && reach(flat[0]!) > 2 * reach(flat[1]!)
			? flat
			: candidates;
	return best ? { ...best, thing: { ...best.thing, ...besides(best.thing, paths, group) } } : null;
}

const reach = ({ y }: Spot): number => y.high - y.low;

/** Whether the numbers of a field lie between two ends. */
function isWithin(group: Group, path: string, low: number, high: number): boolean {
	const numbers = numbersAt(group, [path]).flatMap(([one]) => (Number.isNaN(one) ? [] : [one!]));
	return numbers.length > 0 && numbers.every((one) => one >= low && one <= high);
}

/** The height, the angle and the radius of what stands somewhere, by the names that fields have. */
function besides({ x, y }: ThingGuide, paths: readonly string[], group: Group): Partial<ThingGuide> {
	const lastWord = (path: string) => wordsOf(path).at(-1) ?? '';
	const free = paths.filter((path) => path !== x && path !== y && !path.endsWith('[]'));
	const isThird = (path: string) =>
		x.endsWith('[0]')
			? path === x.replace(/0\]$/, '2]')
			: /^[xyz]$/.test(lastWord(path)) && path.slice(0, -1).toLowerCase() === x.slice(0, -1).toLowerCase();
	const third = free.find(isThird);
	const angle = free.find(
		(path) =>
			['angle', 'facing', 'heading', 'bearing', 'yaw'].includes(lastWord(path)) &&
			isWithin(group, path, -360, 360)
	);
	const radius = free.find(
		(path) => ['radius', 'reach'].includes(lastWord(path)) && isWithin(group, path, 0, Infinity)
	);
	return {
		...(third ? { z: third } : {}),
		...(angle ? { angle } : {}),
		...(radius ? { radius } : {})
	};
}

/** What a field names, where that are ids of one kind as they are. */
const namedBy = (field: FieldGuide | undefined): string | null => {
	const { kinds, weight, names } = field?.reference ?? { kinds: [] };
	return kinds.length === 1 && !weight && !names ? kinds[0]! : null;
};

/** What a field names, where that is one id. */
const targetOf = (field: FieldGuide | undefined): string | null =>
	field?.reference?.list ? null : namedBy(field);

/** The field that says on which map records stand: one that names maps by its name or by theirs. */
function mapField(
	{ fields }: KindGuide,
	{ kind, count }: { kind: string; count: number },
	kinds: Readonly<Record<string, KindGuide>>,
	counts: ReadonlyMap<string, number>
): { field: string; map: string } | null {
	for (const [field, about] of Object.entries(fields)) {
		const map = targetOf(about);
		if (map === null || map === kind || field.includes('[') || (counts.get(map) ?? 0) * 2 > count) continue;
		const words = [
			...(field === FOLDER ? [] : wordsOf(field)),
			...wordsOf(map),
			...wordsOf(kinds[map]?.title ?? '')
		];
		if (words.some((word) => MAPS.has(word))) return { field, map };
	}
	return null;
}

/** Whether a path is of one field, or of the items of one list. */
const isPlain = (path: string): boolean => (path.match(/[[*]/g)?.length ?? 0) <= Number(path.includes('[]'));

/** The field by which records lead to others of their kind: it names one of them, or some. */
const leadsBy = ({ fields, inherits }: KindGuide, kind: string): string | undefined =>
	Object.entries(fields).find(
		([path, field]) =>
			namedBy(field) === kind &&
			path !== inherits?.from &&
			isPlain(path) &&
			wordsOf(path).some((word) => LEADS.has(word))
	)?.[0];

/** The two fields of a kind of records that name things of one kind, the one that it leaves first. */
function linkBetween({ fields }: KindGuide, between: string): { from: string; to: string } | null {
	const ends = Object.entries(fields).flatMap(([path, field]) =>
		targetOf(field) === between && !path.includes('[') ? [path] : []
	);
	if (ends.length !== 2) return null;
	const [a, b] = ends as [string, string];
	const turned = ENDS.some(([from, to]) => from.test(b) && to.test(a));
	return turned ? { from: b, to: a } : { from: a, to: b };
}

/** Ends that are whole in steps of 1, 2 or 5 and zeros, a little beyond what was seen. */
function rounded(all: readonly Ends[]): [number, number] {
	const [low, high] = [Math.min(...all.map((one) => one.low)), Math.max(...all.map((one) => one.high))];
	const power = 10 ** Math.floor(Math.log10((high - low) / 5));
	const step = [1, 2, 5, 10].map((part) => part * power).find((one) => one * 10 >= high - low)!;
	const down = low >= 0 && low < (high - low) / 4 ? 0 : Math.floor(low / step) * step;
	const trim = (value: number) => Number(value.toPrecision(12));
	return [trim(down), trim(Math.ceil(high / step) * step)];
}

/** A name for a map that no kind has. */
function freeName(name: string, taken: (name: string) => boolean): string {
	for (let nth = 1; ; nth++) {
		const next = nth === 1 ? name : `${name}_${nth}`;
		if (!taken(next)) return next;
	}
}

/** What makes one map of several kinds of things. */
interface Sheet {
	map: string | null;
	spots: Spot[];
}

/** Whether things of two kinds may stand on one map: both go over much of the same. */
const isSameSheet = (a: Spot, b: Spot): boolean =>
	a.upwards === b.upwards &&
	(['x', 'y'] as const).every((axis) => {
		const shared = Math.min(a[axis].high, b[axis].high) - Math.max(a[axis].low, b[axis].low);
		return shared >= Math.min(a[axis].high - a[axis].low, b[axis].high - b[axis].low) / 2;
	});

function sheetsOf(spots: readonly (readonly [Spot, string | null])[]): Sheet[] {
	const sheets: Sheet[] = [];
	for (const [spot, map] of spots) {
		const same = sheets.find(
			(sheet) => sheet.map === map && (map !== null || sheet.spots.every((one) => isSameSheet(one, spot)))
		);
		if (same) same.spots.push(spot);
		else sheets.push({ map, spots: [spot] });
	}
	return sheets;
}

/**
 * The maps of a game, by what its records look like; those of texts and twins are none, nor what people spoke of. In
 * steps.
 */
export function* placesIn(
	groups: readonly Group[],
	kinds: Readonly<Record<string, KindGuide>>,
	{ places: known = {}, noPlaces = [] }: Guide
): Generator<void, Record<string, PlaceGuide>> {
	const placed = new Set(Object.values(known).flatMap(({ things }) => things.map(({ kind }) => kind)));
	const counts = new Map(groups.map(({ kind, sketch }) => [kind, sketch.count]));
	const spots: (readonly [Spot, string | null])[] = [];
	for (const group of groups) {
		const about = kinds[group.kind];
		if (group.texts || group.twinOf || placed.has(group.kind) || !about) continue;
		yield;
		const spot = spotOf(group, about.fields);
		if (!spot) continue;
		const on = mapField(about, { kind: group.kind, count: group.sketch.count }, kinds, counts);
		const to = leadsBy(about, group.kind);
		const thing = { ...spot.thing, ...(on ? { in: on.field } : {}), ...(to ? { to } : {}) };
		spots.push([{ ...spot, thing }, on?.map ?? null]);
	}
	const standing = new Set(spots.map(([{ thing }]) => thing.kind));
	const found: Record<string, PlaceGuide> = {};
	/** Those of maps that were rejected, too: what comes after one keeps its own. */
	const names = new Set<string>();
	for (const { map, spots: own } of sheetsOf(spots)) {
		const name =
			map ??
			freeName('map', (one) => names.has(one) || [kinds, known].some((all) => Object.hasOwn(all, one)));
		names.add(name);
		if (noPlaces.includes(name) || Object.hasOwn(known, name)) continue;
		yield;
		const links = groups.flatMap(({ kind }): LinkGuide[] => {
			const about = kinds[kind];
			if (!about || standing.has(kind)) return [];
			const between = own.find(({ thing }) => linkBetween(about, thing.kind));
			return between ? [{ kind, ...linkBetween(about, between.thing.kind)! }] : [];
		});
		const [first] = own as [Spot, ...Spot[]];
		found[name] = {
			...(map === null ? { title: name === 'map' ? 'Map' : name.replace('map_', 'Map ') } : {}),
			x: rounded(own.map(({ x }) => x)),
			y: rounded(own.map(({ y }) => y)),
			upwards: first.upwards,
			things: own.map(({ thing }) => thing),
			...(links.length > 0 ? { links } : {}),
			found: finding(
				map === null ? 0.75 : 0.85,
				own
					.map(
						({ thing, hits, all, different }) =>
							`“${thing.x}” and “${thing.y}” of ${thing.kind} are numbers in ${said(hits)} of ${said(all)} records, which are in ${said(different)} different places.`
					)
					.join(' ')
			)
		};
	}
	return found;
}
