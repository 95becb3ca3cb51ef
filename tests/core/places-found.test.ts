// Maps that nobody described: told from fields that are named and spread as places are, and never held against anything.
import { expect, test } from 'vitest';
import { checkStack } from '$core/checks';
import { EMPTY_GUIDE, parseGuide, type Guide } from '$core/guide';
import { buildLinks } from '$core/links';
import { assembleStack } from '$core/model';
import { mapOf, mapsOf } from '$core/places';
import type { Stack } from '$core/stack';
import { randomBy } from '../random';

const stackOf = (
	files: Record<string, string>,
	guide: Guide = EMPTY_GUIDE,
	mine: Record<string, string> = {}
): Stack => {
	const bytes = (some: Record<string, string>) =>
		new Map(Object.entries(some).map(([path, text]) => [path, new TextEncoder().encode(text)]));
	return assembleStack(
		[
			{ id: 'game', title: 'Game', owner: 'game', files: bytes(files) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytes(mine) }
		],
		guide
	);
};
const random = randomBy(7);
const upTo = (most: number) => Math.floor(random() * most);
const NAMES = [
	'alder',
	'birch',
	'cedar',
	'damson',
	'elder',
	'fir',
	'gorse',
	'hazel',
	'ivy',
	'juniper',
	'larch',
	'maple'
];

test('huts with x and y on one map, paths between them as records, and a sign beside the huts', () => {
	const huts = [
		'id,title,x,y,beds',
		...NAMES.map((id) => `${id},The ${id},${upTo(400)},${upTo(300)},${upTo(9)}`)
	];
	const paths = [
		'id,from,to,steep',
		...NAMES.slice(1).map((id, nth) => `p${nth},${id},${NAMES[nth]},${upTo(5)}`)
	];
	const signs = [
		'id,x,y,text',
		...NAMES.slice(0, 8).map((id) => `sign_${id},${upTo(400)},${upTo(300)},To the ${id}`)
	];
	const stack = stackOf({
		'tables/huts.csv': `${huts.join('\n')}\n`,
		'tables/paths.csv': `${paths.join('\n')}\n`,
		'signs/near.csv': `${signs.join('\n')}\n`
	});
	const { map } = stack.guide.places!;
	expect(map).toMatchObject({ title: 'Map', upwards: false });
	expect(map!.found!.sure).toBeLessThan(0.9);
	expect(map!.things.map(({ kind, x, y }) => [kind, x, y]).sort()).toEqual([
		['huts', 'x', 'y'],
		['near', 'x', 'y']
	]);
	expect(map!.links).toEqual([{ kind: 'paths', from: 'from', to: 'to' }]);
	expect(map!.x[0]).toBe(0);
	expect(map!.x[1]).toBeGreaterThanOrEqual(
		Math.max(...huts.slice(1).map((line) => Number(line.split(',')[2])))
	);
	const drawn = mapOf(stack, 'map', 'map')!;
	expect(drawn.things).toHaveLength(20);
	expect(drawn.links).toHaveLength(11);
	expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	// What was only found is no reason to warn: a hut of mine may stand outside of it.
	const moved = huts.map((line, nth) => (nth === 3 ? line.replace(/,\d+,\d+,/, ',5000,-20,') : line));
	const mine = stackOf(
		{ 'tables/huts.csv': `${huts.join('\n')}\n`, 'tables/paths.csv': `${paths.join('\n')}\n` },
		EMPTY_GUIDE,
		{ 'tables/huts.csv': `${moved.join('\n')}\n` }
	);
	expect(checkStack(mine, buildLinks(mine)).filter(({ rule }) => rule === 'off-the-map')).toEqual([]);
});

test('rooms of a level by the field that names it, places as lists, heights, angles', () => {
	const levels = ['cellar', 'attic', 'yard'].map((id) => ({ id, title: `The ${id}`, wide: 40 }));
	const lamps = NAMES.flatMap((name, nth) =>
		[1, 2].map((one) => ({
			id: `${name}_${one}`,
			level: levels[(nth + one) % 3]!.id,
			position: [upTo(4000) / 100, upTo(4000) / 100],
			facing: upTo(360)
		}))
	);
	const stack = stackOf({
		'data/levels.json': `${JSON.stringify(levels, null, '\t')}\n`,
		'data/lamps.json': `${JSON.stringify(lamps, null, '\t')}\n`
	});
	expect(mapsOf(stack, 'levels').sort()).toEqual(['attic', 'cellar', 'yard']);
	expect(stack.guide.places!.levels!.things).toEqual([
		{ kind: 'lamps', in: 'level', x: 'position[0]', y: 'position[1]', angle: 'facing' }
	]);
	const there = mapOf(stack, 'levels', 'yard')!.things;
	const wanted = lamps.filter(({ level }) => level === 'yard');
	expect(there.map(({ id, x, y, angle }) => [id, x, y, angle])).toEqual(
		wanted.map(({ id, position: [x, y], facing }) => [id, x, y, facing])
	);
});

test('of three numbers the flattest is the height, and one may lead to the next', () => {
	const buoys = NAMES.map((id, nth) => ({
		id,
		pos_x: upTo(900),
		pos_y: upTo(9),
		pos_z: upTo(900),
		next: NAMES[nth + 1] ?? null
	}));
	const stack = stackOf({ 'buoys.json': `${JSON.stringify(buoys, null, '\t')}\n` });
	expect(stack.guide.places!.map!.things).toEqual([
		{ kind: 'buoys', x: 'pos_x', y: 'pos_z', z: 'pos_y', to: 'next' }
	]);
	expect(mapOf(stack, 'map', 'map')!.links).toHaveLength(NAMES.length - 1);
});

test.each([
	['ids', 'exits[]', (to: string[]) => ({ exits: to })],
	[
		'records with an id each',
		'exits[].to',
		(to: string[]) => ({ exits: to.map((one) => ({ to: one, wide: 2 })) })
	],
	['one text', 'exits', (to: string[]) => ({ exits: to.join(', ') })]
])('what leads to several by a list of %s', (_, to, written) => {
	const coves = NAMES.map((id, nth) => ({
		id,
		x: upTo(900),
		y: upTo(900),
		...written([NAMES[(nth + 1) % 12]!, NAMES[(nth + 5) % 12]!])
	}));
	const stack = stackOf({ 'coves.json': `${JSON.stringify(coves, null, '\t')}\n` });
	expect(stack.guide.places!.map!.things).toEqual([{ kind: 'coves', x: 'x', y: 'y', to }]);
	const { links } = mapOf(stack, 'map', 'map')!;
	expect(links.map((link) => `${link.from} ${link.to}`).sort()).toEqual(
		NAMES.flatMap((id, nth) => [`${id} ${NAMES[(nth + 1) % 12]}`, `${id} ${NAMES[(nth + 5) % 12]}`]).sort()
	);
	for (const { to: end, value, span } of links) expect(value.slice(...span)).toBe(end);
	expect(new Set(links.map(({ from, field, span }) => `${from} ${field} ${span[0]}`)).size).toBe(24);
});

test('sizes, places in a picture, numbers that repeat and texts are no map', () => {
	const rows = NAMES.map((id, nth) => ({
		id,
		size_x: upTo(90),
		size_y: upTo(90),
		icon: { x: (nth % 2) * 32, y: (nth % 3) * 32 },
		x: nth % 2,
		y: nth % 3
	}));
	const words = ['id,x,y', ...NAMES.map((id) => `${id},left of ${id},right of ${id}`)];
	const stack = stackOf({
		'things.json': `${JSON.stringify(rows, null, '\t')}\n`,
		'words.csv': `${words.join('\n')}\n`
	});
	expect(stack.guide.places).toBeUndefined();
});

test('what people said of a map stays as said, and what they said is none is not found again', () => {
	const huts = ['id,x,y', ...NAMES.map((id) => `${id},${upTo(400)},${upTo(300)}`)];
	const files = { 'huts.csv': `${huts.join('\n')}\n` };
	const kinds = 'kinds: { hut: { title: Hut, files: [huts.csv], key: id } }';
	expect(Object.keys(stackOf(files, parseGuide(`guide: 1\n${kinds}\n`)).guide.places!)).toEqual(['map']);
	expect(stackOf(files, parseGuide(`guide: 1\nnoPlaces: [map]\n${kinds}\n`)).guide.places).toBeUndefined();
	const said =
		'places: { wood: { title: The wood, x: [0, 500], y: [0, 500], things: [{ kind: hut, x: x, y: y }] } }';
	const { places } = stackOf(files, parseGuide(`guide: 1\n${kinds}\n${said}\n`)).guide;
	expect(Object.keys(places!)).toEqual(['wood']);
	expect(places!.wood!.found).toBeUndefined();
});

test('of two maps one can be rejected, and the other keeps its name', () => {
	const near = ['id,x,y', ...NAMES.map((id) => `${id},${upTo(40)},${upTo(40)}`)];
	const far = NAMES.map((id) => ({
		id: `far_${id}`,
		x: 9000 + upTo(400),
		y: 9000 + upTo(400),
		deep: upTo(9)
	}));
	const files = { 'near/huts.csv': `${near.join('\n')}\n`, 'far/wrecks.json': `${JSON.stringify(far)}\n` };
	const kindsOf = (guide: Guide) =>
		Object.entries(stackOf(files, guide).guide.places ?? {}).map(([name, { things }]) => [
			name,
			things[0]!.kind
		]);
	const [first, second] = kindsOf(EMPTY_GUIDE);
	expect([first![0], second![0]]).toEqual(['map', 'map_2']);
	expect(kindsOf(parseGuide('guide: 1\nnoPlaces: [map]\n'))).toEqual([second]);
	expect(kindsOf(parseGuide('guide: 1\nnoPlaces: [map_2]\n'))).toEqual([first]);
});
