// Maps: reachability and ways against a plain reference, days against counting by hand, and 5,000 random edits of positions.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyPlan, bytesOf, invertPlan } from '$core/change';
import { myFiles, planFor } from '$core/edits';
import { checkStack } from '$core/checks';
import { parseGuide } from '$core/guide';
import { assembleStack } from '$core/model';
import {
	countDays,
	dayIn,
	groundAt,
	groundFrom,
	isThere,
	mapOf,
	mapsOf,
	meet,
	mendingLink,
	networkIn,
	networkOf,
	reached,
	strayIn,
	shortestWay,
	type Link,
	type Point
} from '$core/places';
import { randomBy } from '../random';

/** All lengths of shortest ways between points (Floyd and Warshall), over a table of all pairs. */
function allLengths(points: readonly Point[], links: readonly Link[]): number[][] {
	const nth = new Map(points.map(({ id }, at) => [id, at]));
	const lengths = points.map((_, a) => points.map((__, b) => (a === b ? 0 : Infinity)));
	for (const { from, to } of links) {
		const [a, b] = [nth.get(from)!, nth.get(to)!];
		lengths[a]![b] = Math.min(
			lengths[a]![b]!,
			Math.hypot(points[a]!.x - points[b]!.x, points[a]!.y - points[b]!.y)
		);
	}
	for (let by = 0; by < points.length; by++)
		for (let a = 0; a < points.length; a++)
			for (let b = 0; b < points.length; b++)
				lengths[a]![b] = Math.min(lengths[a]![b]!, lengths[a]![by]! + lengths[by]![b]!);
	return lengths;
}

test('what can be reached, the shortest way and its narrowest link are those of a plain reference, on 500 networks', () => {
	let ways = 0;
	for (let seed = 0; seed < 500; seed++) {
		const random = randomBy(seed);
		const upTo = (most: number) => Math.floor(random() * most);
		const points = Array.from({ length: 1 + upTo(14) }, (_, at) => ({
			id: `p${at}`,
			x: upTo(100),
			y: upTo(100)
		}));
		const links = Array.from({ length: upTo(points.length * 2 + 1) }, (): Link => ({
			from: `p${upTo(points.length)}`,
			to: `p${upTo(points.length)}`,
			width: random() < 0.2 ? null : upTo(9)
		}));
		const network = networkOf(points, [...links, { from: 'p0', to: 'nowhere', width: 1 }]);
		const lengths = allLengths(points, links);
		for (const [a, from] of points.entries()) {
			expect([...reached(network, [from.id])].sort()).toEqual(
				points
					.filter((_, b) => lengths[a]![b]! < Infinity)
					.map(({ id }) => id)
					.sort()
			);
			expect([...reached(network, [from.id], 'into')].sort()).toEqual(
				points
					.filter((_, b) => lengths[b]![a]! < Infinity)
					.map(({ id }) => id)
					.sort()
			);
			for (const [b, to] of points.entries()) {
				const way = shortestWay(network, from.id, to.id);
				expect(way?.length ?? Infinity).toBeCloseTo(lengths[a]![b]!, 9);
				if (!way) continue;
				ways++;
				// Each step is a link, and none of them is narrower than the one that is told.
				const steps = way.points
					.slice(1)
					.map((id, at) => links.filter((link) => link.from === way.points[at] && link.to === id));
				expect(steps.every((some) => some.length > 0)).toBe(true);
				if (way.narrowest)
					expect(way.points.join(' ')).toContain(`${way.narrowest.from} ${way.narrowest.to}`);
			}
			const mend = mendingLink(network, from.id, ['p0']);
			if (lengths[a]![0]! < Infinity || !mend) continue;
			const mended = networkOf(points, [...links, { ...mend, width: null }]);
			expect(reached(mended, [from.id]).has('p0')).toBe(true);
			const others = points.flatMap((start, s) =>
				points.flatMap((end, e) =>
					lengths[a]![s]! < Infinity && lengths[e]![0]! < Infinity && s !== e
						? [Math.hypot(start.x - end.x, start.y - end.y)]
						: []
				)
			);
			expect(mend.length).toBeCloseTo(Math.min(...others), 9);
		}
	}
	expect(ways).toBeGreaterThan(5000);
});

describe('days', () => {
	const days = { title: 'Day', first: 1, last: 28, repeats: true };
	test('begin again, and a span goes over the turn', () => {
		expect([1, 28, 29, 56, 57, 0, -27].map((day) => dayIn(days, day))).toEqual([1, 28, 1, 28, 1, 28, 1]);
		const night = { from: 27, until: 2 };
		expect([26, 27, 28, 1, 2, 3, 29, 55].map((day) => isThere(days, night, day))).toEqual([
			false,
			true,
			true,
			true,
			true,
			false,
			true,
			true
		]);
		expect(isThere({ ...days, repeats: false }, night, 28)).toBe(false);
		expect(isThere(days, { from: 9, until: null }, 9)).toBe(true);
		expect(isThere(days, { from: null, until: null }, 400)).toBe(true);
	});
	test('on which nothing is there, or much more than on others, are told', () => {
		const spans = Array.from({ length: 27 }, (_, nth) => ({ from: nth + 1, until: null }));
		const piled = [...spans, ...Array.from({ length: 9 }, () => ({ from: 9, until: null }))];
		const told = countDays(days, piled).filter(({ is }) => is);
		expect(told).toEqual([
			{ day: 9, count: 10, is: 'pile' },
			{ day: 28, count: 0, is: 'gap' }
		]);
		expect(countDays(days, [{ from: null, until: null }]).every(({ is }) => is === null)).toBe(true);
	});
});

const GUIDE = `
guide: 1
kinds:
  bay: { title: Bay, files: ['bays/*/bay.json'], id: folder, at: null, fields: { goal: { type: text } } }
  mark:
    title: Mark
    files: ['bays/*/marks.json']
    key: id
    at: ''
    fields:
      '#folder': { reference: { kinds: [bay] } }
      x: { type: decimal }
      y: { type: decimal }
      next: { reference: { kinds: [mark] } }
      both: { type: switch }
  wreck:
    title: Wreck
    files: ['bays/*/wrecks.lst']
    id: folder
    written: { layout: { shape: positional, head: [[count]], record: [[day, x, y]], count: count } }
    fields: { '#folder': { reference: { kinds: [bay] } } }
places:
  bay:
    x: [0, 900]
    y: [0, 900]
    ground: { file: 'bays/{id}/ground.txt', says: depth }
    days: { last: 28, repeats: true }
    goal: goal
    things:
      - { kind: mark, in: '#folder', x: x, y: y, to: next, both: both }
      - { kind: wreck, in: '#folder', x: x, y: y, from: day }
`;
const FILES = {
	'bays/tern/bay.json': '{ "goal": "a" }\n',
	'bays/tern/ground.txt': '0 10\n20 30\n',
	'bays/tern/marks.json':
		'[\n\t{ "id": "a", "x": 10.500000, "y": 20.250000, "next": "b" },\n\t{ "id": "b", "x": 100.000000, "y": 7.125000, "next": "c", "both": true },\n\t{ "id": "c", "x": 300.000000, "y": 300.000000 }\n]\n',
	'bays/tern/wrecks.lst': '3\n1 100 200 # first\n9 5 5\n9 6 6 # two of day 9\n',
	'bays/auk/bay.json': '{ "goal": "x" }\n',
	'bays/auk/marks.json': '[\n\t{ "id": "x", "x": 1.000000, "y": 2.000000 }\n]\n',
	'bays/auk/wrecks.lst': '0\n'
};
const bytesIn = (files: Record<string, string>) =>
	new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));
const stack = assembleStack(
	[
		{ id: 'base', title: 'Base', owner: 'game', files: bytesIn(FILES) },
		{ id: 'mine', title: 'Mine', owner: 'me', files: new Map() }
	],
	parseGuide(GUIDE)
);

test('a map has what its records say, each of its own folder, with its ground', () => {
	const tern = mapOf(stack, 'bay', 'tern')!;
	expect(tern.goal).toBe('a');
	expect(tern.things.map(({ kind, id, x, y, from }) => [kind, id, x, y, from])).toEqual([
		['mark', 'a', 10.5, 20.25, null],
		['mark', 'b', 100, 7.125, null],
		['mark', 'c', 300, 300, null],
		['wreck', 'tern#1', 100, 200, 1],
		['wreck', 'tern#2', 5, 5, 9],
		['wreck', 'tern#3', 6, 6, 9]
	]);
	expect(tern.links.map(({ kind, id, from, to, both }) => [kind, id, from, to, both])).toEqual([
		['mark', 'a', 'a', 'b', false],
		['mark', 'b', 'b', 'c', true]
	]);
	expect(mapOf(stack, 'bay', 'auk')!.things.map(({ id }) => id)).toEqual(['x']);
	expect(mapOf(stack, 'bay', 'gull')).toBeUndefined();
	const network = networkIn(tern, 'mark');
	expect([...reached(network, ['a'], 'into')]).toEqual(['a']);
	expect([...reached(network, ['c'])].sort()).toEqual(['b', 'c']);
	expect([0, 450, 900].map((x) => groundAt(tern.ground!, tern.guide, x, 0))).toEqual([0, 5, 10]);
	expect(groundAt(tern.ground!, tern.guide, 450, 450)).toBe(15);
	expect(groundAt(tern.ground!, tern.guide, 901, 0)).toBeNull();
	expect(groundFrom('1 2\n3\n')).toBeNull();
});

test('5,000 moves: the numbers of these positions change in the style of their file, and nothing else; undone byte for byte', () => {
	const before = myFiles(stack);
	const plain = new TextDecoder();
	const MARKS = 'bays/tern/marks.json';
	const WRECKS = 'bays/tern/wrecks.lst';
	fc.assert(
		fc.property(
			fc.constantFrom('a', 'b', 'c', '1', '2', '3'),
			fc.integer({ min: 0, max: 900_000_000 }),
			fc.integer({ min: 0, max: 900_000_000 }),
			(id, across, along) => {
				const isMark = /[a-c]/.test(id);
				const path = isMark ? MARKS : WRECKS;
				const [x, y] = isMark
					? [across / 1e6, along / 1e6]
					: [Math.round(across / 1e6), Math.round(along / 1e6)];
				const record = isMark ? id : `tern#${id}`;
				const plan = planFor(
					stack,
					{
						do: 'cells',
						kind: isMark ? 'mark' : 'wreck',
						cells: [
							{ id: record, field: 'x', value: String(x) },
							{ id: record, field: 'y', value: String(y) }
						]
					},
					'one'
				);
				const after = applyPlan(before, plan);
				expect([...after.keys()]).toEqual([path]);
				const text = plain.decode(bytesOf(after.get(path)!));
				// Read by other hands: the lines of the file, cut by hand.
				const old = FILES[path].split('\n');
				const now = text.split('\n');
				const line = isMark ? 1 + 'abc'.indexOf(id) : Number(id);
				expect(now.filter((_, at) => at !== line)).toEqual(old.filter((_, at) => at !== line));
				const wanted = isMark
					? old[line]!.replace(/"x": [\d.]+, "y": [\d.]+/, `"x": ${x.toFixed(6)}, "y": ${y.toFixed(6)}`)
					: old[line]!.replace(/^(\d+) \d+ \d+/, `$1 ${x} ${y}`);
				expect(now[line]).toBe(wanted);
				expect([...applyPlan(after, invertPlan(before, plan))]).toEqual([...before]);
			}
		),
		{ numRuns: 5000 }
	);
});

test('another one at a point: the count in the head follows, the model stays, and ids are asked for where there are some', () => {
	const plan = planFor(
		stack,
		{ do: 'stand', kind: 'wreck', id: 'tern#2', values: { x: '70', y: '80' } },
		'one'
	);
	const text = new TextDecoder().decode(
		bytesOf(applyPlan(myFiles(stack), plan).get('bays/tern/wrecks.lst')!)
	);
	expect(text).toBe('4\n1 100 200 # first\n9 5 5\n9 70 80\n9 6 6 # two of day 9\n');
	const mark = planFor(
		stack,
		{ do: 'stand', kind: 'mark', id: 'c', newId: 'd', values: { x: '7', y: '8.5' } },
		'one'
	);
	expect(
		new TextDecoder().decode(bytesOf(applyPlan(myFiles(stack), mark).get('bays/tern/marks.json')!))
	).toContain('{ "id": "d", "x": 7.000000, "y": 8.500000 }\n]');
	expect(() => planFor(stack, { do: 'stand', kind: 'mark', id: 'c', values: {} }, 'one')).toThrow(
		/has an id of its own/
	);
});

test('some of a file are left out in one step, its count follows, and its commentary goes with its line', () => {
	const plan = planFor(stack, { do: 'clear', kind: 'wreck', ids: ['tern#1', 'tern#3'] }, 'one');
	expect(plan.title).toBe('Remove 2 wreck');
	const text = new TextDecoder().decode(
		bytesOf(applyPlan(myFiles(stack), plan).get('bays/tern/wrecks.lst')!)
	);
	expect(text).toBe('1\n9 5 5\n');
});

test('what stands outside of its map is a snag, unless the limits of its fields say so, and the game does it itself', () => {
	const mod = (files: Record<string, string>) =>
		checkStack(
			assembleStack(
				[
					{ id: 'base', title: 'Base', owner: 'game', files: bytesIn(FILES) },
					{ id: 'mine', title: 'Mine', owner: 'me', files: bytesIn(files) }
				],
				parseGuide(GUIDE)
			)
		).flatMap(({ rule, record, severity, layer }) =>
			rule === 'off-the-map' ? [[record, severity, layer]] : []
		);
	const marks = FILES['bays/tern/marks.json'];
	expect(mod({ 'bays/tern/marks.json': marks.replace('"x": 100.000000', '"x": 1000.000000') })).toEqual([
		['b', 'warns', 'mine']
	]);
	expect(mod({ 'bays/tern/marks.json': marks.replace('"x": 100.000000', '"x": 900.000000') })).toEqual([]);
});

const ROADS = `
guide: 1
kinds:
  town: { title: Town, files: [towns.csv], key: id, fields: { x: { type: whole }, y: { type: whole } } }
  road:
    title: Road
    files: [roads.csv]
    key: id
    fields: { start: { reference: { kinds: [town] } }, finish: { reference: { kinds: [town] } }, two_way: { type: switch } }
places:
  map:
    title: The coast
    x: [0, 100]
    y: [0, 100]
    goal: ark
    start: cay
    things: [{ kind: town, x: x, y: y, apart: 5 }]
    links: [{ kind: road, from: start, to: finish, both: two_way, width: width }]
`;
const TOWNS = 'id,x,y\nark,10,10\nbay,40,10\ncay,90,90\ndun,12,13\n';

test('one map for all, links that are records of their own, and towns that stand too close', () => {
	const roads = 'id,start,finish,two_way,width\nbay_ark,bay,ark,no,3\ncay_bay,cay,bay,yes,2.5\n';
	const whole = assembleStack(
		[
			{
				id: 'base',
				title: 'Base',
				owner: 'game',
				files: bytesIn({ 'towns.csv': TOWNS, 'roads.csv': roads })
			},
			{ id: 'mine', title: 'Mine', owner: 'me', files: new Map() }
		],
		parseGuide(ROADS)
	);
	expect(mapsOf(whole, 'map')).toEqual(['map']);
	const map = mapOf(whole, 'map', 'map')!;
	expect(mapOf(whole, 'map', 'town')).toBeUndefined();
	expect(map.things.map(({ id }) => id)).toEqual(['ark', 'bay', 'cay', 'dun']);
	expect(map.links).toMatchObject([
		{ between: 'town', from: 'bay', to: 'ark', both: false, width: 3, kind: 'road', id: 'bay_ark' },
		{ between: 'town', from: 'cay', to: 'bay', both: true, width: 2.5, kind: 'road', id: 'cay_bay' }
	]);
	const network = networkIn(map, 'town');
	expect(shortestWay(network, 'cay', 'ark')).toMatchObject({
		points: ['cay', 'bay', 'ark'],
		narrowest: { width: 2.5 }
	});
	expect([...reached(network, ['bay'])].sort()).toEqual(['ark', 'bay', 'cay']);
	expect(strayIn(map, 'town')).toMatchObject({ cut: new Set(['dun']), lost: new Set(['dun']) });
	// The base is never wrong: the same towns in a mod are looked at.
	const mod = assembleStack(
		[
			{
				id: 'base',
				title: 'Base',
				owner: 'game',
				files: bytesIn({ 'towns.csv': 'id,x,y\nark,10,10\n', 'roads.csv': roads })
			},
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytesIn({ 'towns.csv': TOWNS }) }
		],
		parseGuide(ROADS)
	);
	const told = checkStack(mod).filter(({ rule }) =>
		['on-top', 'leads-nowhere', 'never-reached'].includes(rule)
	);
	expect(told.map(({ rule, record, severity }) => [rule, record, severity])).toEqual([
		['leads-nowhere', 'dun', 'warns'],
		['never-reached', 'dun', 'warns'],
		['on-top', 'ark', 'warns'],
		['on-top', 'dun', 'warns']
	]);
	expect(told.find(({ rule }) => rule === 'never-reached')!.message).toBe(
		'Nothing leads here from `cay` (line 5). The shortest link that would: from ark to dun.'
	);
	expect(told.find(({ rule }) => rule === 'on-top')!.message).toContain(
		'It stands 3.61 from `dun`; two of these must be at least 5 apart (line 2).'
	);
	// A new road is one like another, between two towns.
	const plan = planFor(
		whole,
		{ do: 'stand', kind: 'road', id: 'bay_ark', newId: 'dun_ark', values: { start: 'dun', finish: 'ark' } },
		'one'
	);
	const text = new TextDecoder().decode(bytesOf(applyPlan(myFiles(whole), plan).get('roads.csv')!));
	expect(text).toBe(`${roads}dun_ark,dun,ark,no,3\n`);
});

test('what is there on no common day is not on top of another', () => {
	const days = { title: 'Day', first: 1, last: 7, repeats: true };
	fc.assert(
		fc.property(
			fc.array(fc.option(fc.integer({ min: 1, max: 7 }), { nil: null }), { minLength: 4, maxLength: 4 }),
			([from, until, start, end]) => {
				const a = { from: from!, until: from === null ? null : until! };
				const b = { from: start!, until: start === null ? null : end! };
				const common = [1, 2, 3, 4, 5, 6, 7].some((day) => isThere(days, a, day) && isThere(days, b, day));
				expect(meet(days, a, b)).toBe(common);
				expect(meet(days, b, a)).toBe(common);
				expect(meet(undefined, a, b)).toBe(true);
			}
		)
	);
});

test('a guide that speaks of a map or a thing of no kind says so', () => {
	expect(() => parseGuide(GUIDE.replace('- { kind: wreck,', '- { kind: wrack,'))).toThrow(
		'The field guide has no kind “wrack”, of which places.bay speaks.'
	);
	expect(() => parseGuide(GUIDE.replace('x: [0, 900]', 'x: [900, 0]'))).toThrow(
		/must be a lower and a higher number/
	);
});
