// How records stand to each other: who hangs on whom, what is most alike, which values a field takes, what another
// program changed.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { bytesOf, applyPlan, invertPlan } from '$core/change';
import { planFor, planToBring } from '$core/edits';
import { EMPTY_GUIDE, guideWithNotes, parseGuide, targetKey, targetOf, type Note } from '$core/guide';
import {
	buildLinks,
	chainsIn,
	linksAround,
	linksFrom,
	linksTo,
	looseLinks,
	placeOf,
	recordAt,
	usesOf,
	type Links
} from '$core/links';
import { valuesTaken } from '$core/numbers';
import { mostLike } from '$core/search';
import { isEditable, fileContent, buildStack, valueOf, withFiles, type Stack } from '$core/stack';
import { assembleStack } from '$core/model';
import { decode } from '$core/text';
import { gameFiles, gameGuide, makeGame } from '../../bench/game';
import { BASE, HEAD, stackOf } from './game';
import './sample-parts';

const game = makeGame({ records: 1500, files: 40, seed: 9 });
const made = assembleStack(
	[
		{
			id: 'base',
			title: 'Base',
			owner: 'game',
			files: new Map([...gameFiles(game)].map(({ path, text }) => [path, new TextEncoder().encode(text)]))
		}
	],
	parseGuide(gameGuide())
);
const links = buildLinks(made);
const recordOf = (stack: Stack, kind: string, id: string) => stack.tables.get(kind)!.byId.get(id)!;

describe('references of a made-up game', () => {
	test('every record, value and reference that was made is there', () => {
		for (const [kind, things] of Object.entries(game.things)) {
			const table = made.tables.get(kind)!;
			expect(table.count).toBe(things.length);
			for (const thing of things) {
				const record = table.byId.get(thing.id)!;
				const named = new Map(
					linksFrom(links, record)
						.filter((link) => !link.text)
						.map((link) => [link.field, link.to?.id])
				);
				expect(Object.fromEntries(named)).toEqual(thing.references);
				for (const [field, value] of Object.entries(thing.values))
					if (!['about'].includes(field) && kind !== 'gear')
						expect(valueOf(record, field)).toBe(String(value));
			}
		}
		expect([...looseLinks(links)]).toEqual([]);
	});
	test('used by is the inverse of uses', () => {
		const users = new Map<string, number>();
		for (const thing of Object.values(game.things).flat())
			for (const id of Object.values(thing.references)) users.set(id, (users.get(id) ?? 0) + 1);
		for (const thing of Object.values(game.things).flat()) {
			const record = recordOf(made, thing.kind, thing.id);
			expect(linksTo(links, record).filter((link) => !link.text)).toHaveLength(users.get(thing.id) ?? 0);
			expect(usesOf(links, record)).toBe(users.get(thing.id) ?? 0);
			expect(links.users.uses[placeOf(links, record)]).toBe(users.get(thing.id) ?? 0);
			expect(recordAt(links, placeOf(links, record)).id).toBe(thing.id);
		}
	});
	test('around a record stand those that lead to it and those it leads to, each by the shortest way', () => {
		const call = game.things.call[0]!;
		const { nodes, edges, more } = linksAround(links, recordOf(made, 'call', call.id), 2, 500);
		const far = new Map(nodes.map((node) => [node.record.id, node.far]));
		expect(far.get(call.references.hazard!)).toBe(1);
		expect(far.get(call.references.vessel!)).toBe(1);
		const hazard = game.things.hazard.find(({ id }) => id === call.references.hazard)!;
		expect(far.get(hazard.references.lane!)).toBe(2);
		expect(more).toBe(false);
		const places = new Set(nodes.map(({ place }) => place));
		expect(edges.every(({ from, to }) => places.has(from) && places.has(to))).toBe(true);
		expect(linksAround(links, recordOf(made, 'call', call.id), 4, 10)).toMatchObject({ more: true });
		expect(linksAround(links, recordOf(made, 'call', call.id), 4, 10).nodes.length).toBe(10);
	});
});

describe('values and likeness', () => {
	test('a field takes each value as often as records have it', () => {
		const taken = valuesTaken(made.tables.get('vessel')!, 'grade');
		expect(taken.reduce((sum, { count }) => sum + count, 0)).toBe(game.things.vessel.length);
		for (const { value, count } of taken)
			expect(game.things.vessel.filter(({ values }) => String(values.grade) === value)).toHaveLength(count);
		expect(taken.map(({ count }) => count)).toEqual(taken.map(({ count }) => count).sort((a, b) => b - a));
	});
	test('a copy is most like its original, then what differs least; ids and long texts do not count', () => {
		const stack = stackOf(
			{},
			{
				'carts.tsv': `${HEAD}a\t20\toak_2\tshoe\t\t0\tk.a\nfar\t90\toak_4\tdrum\t\t4\tk.b\ntwin\t20\toak_2\tshoe\t\t0\tk.c\nnear\t22\toak_2\tshoe\t\t0\tk.d\nmid\t60\toak_2\tdrum\t\t0\tk.e\n`
			}
		);
		const table = stack.tables.get('cart')!;
		const found = mostLike(table.byId.get('a')!);
		expect(found.map(({ row }) => table.record(row).id)).toEqual(['twin', 'near', 'mid', 'far']);
		expect(found[0]).toMatchObject({ likeness: 1, differs: [] });
		expect(found[1]!.differs).toEqual(['load']);
		for (let at = 1; at < found.length; at++)
			expect(found[at]!.likeness).toBeLessThanOrEqual(found[at - 1]!.likeness);
	});
	test('likeness is the same both ways', () =>
		fc.assert(
			fc.property(fc.nat(), fc.nat(), (a, b) => {
				const table = made.tables.get('engine')!;
				const [x, y] = [a % table.count, b % table.count];
				fc.pre(x !== y);
				const of = (from: number, to: number) =>
					mostLike(table.record(from), table.count).find(({ row }) => row === to)?.likeness ?? NaN;
				expect(of(x, y)).toBeCloseTo(of(y, x), 9);
			}),
			{ numRuns: 20 }
		));
});

test('an id that a new record of another kind takes over is meant by whoever named it, as if told from nothing', () => {
	const guide = `guide: 1
kinds:
  a: { title: A, files: [a.tsv], key: id, merge: record }
  b: { title: B, files: [b.tsv], key: id, merge: record }
  c: { title: C, files: [c.tsv], key: id, merge: record, fields: { to: { type: reference, reference: { kinds: [a, b] } } } }
`;
	const files = (all: Record<string, string>) =>
		new Map(Object.entries(all).map(([path, text]) => [path, new TextEncoder().encode(text)]));
	const base = {
		id: 'base',
		title: 'Base',
		owner: 'game' as const,
		files: files({ 'a.tsv': 'id\nx\n', 'b.tsv': 'id\ny\n', 'c.tsv': 'id\tto\none\ty\n' })
	};
	const stack = assembleStack(
		[base, { id: 'mine', title: 'Mine', owner: 'me', files: new Map() }],
		parseGuide(guide)
	);
	const links = buildLinks(stack);
	const next = buildStack(
		stack.layers.map((layer) =>
			isEditable(layer)
				? withFiles(
						layer,
						new Map([['a.tsv', decode(new TextEncoder().encode('id\ny\n'))]]),
						stack.guide,
						stack.pool
					)
				: layer
		),
		stack.guide,
		stack.pool,
		stack
	);
	const target = (of: Links) => linksFrom(of, of.stack.tables.get('c')!.record(0))[0]!.to?.kind;
	expect(target(links)).toBe('b');
	expect(target(buildLinks(next))).toBe('a');
	expect(target(buildLinks(next, links))).toBe('a');
});

describe('chains', () => {
	/** The chains of carts of which each leads to another: `a>b` or to nothing. */
	const chains = (rows: string[]) => {
		const base = `${HEAD}${rows.map((row) => `${row.split('>')[0]}\t20\toak_2\t\t${row.split('>')[1] ?? ''}\t0\tcart.x`).join('\n')}\n`;
		const stack = stackOf({}, { 'carts.tsv': base });
		const table = stack.tables.get('cart')!;
		return chainsIn(buildLinks(stack), table, 'next').map((step) => ({
			...step,
			id: table.pool.at(table.rows.ids[step.row]!)
		}));
	};
	test('grow together towards their ends; loose ends and circles are marked', () => {
		const steps = new Map(
			chains(['a>c', 'b>c', 'c>d', 'd', 'e', 'f>gone', 'x>y', 'y>x']).map((step) => [step.id, step])
		);
		expect([...steps.keys()].sort()).toEqual(['a', 'b', 'c', 'd', 'f', 'x', 'y']);
		expect(['a', 'b', 'c', 'd'].map((id) => steps.get(id)!.left)).toEqual([2, 2, 1, 0]);
		expect(steps.get('c')!.place).toBe((steps.get('a')!.place + steps.get('b')!.place) / 2);
		expect(steps.get('f')).toMatchObject({ loose: 'gone', to: -1 });
		expect(['x', 'y'].filter((id) => steps.get(id)!.circle)).toHaveLength(1);
	});
	test('every record stands in one place, whatever leads to what', () =>
		fc.assert(
			fc.property(
				fc.array(fc.option(fc.nat(9), { nil: null }), { minLength: 1, maxLength: 10 }),
				(targets) => {
					const rows = targets.map((to, nth) =>
						to === null || to >= targets.length ? `k${nth}` : `k${nth}>k${to}`
					);
					const steps = chains(rows);
					const linked = new Set(
						targets.flatMap((to, nth) => (to === null || to >= targets.length ? [] : [`k${nth}`, `k${to}`]))
					);
					expect(new Set(steps.map(({ id }) => id))).toEqual(linked);
					expect(new Set(steps.map(({ left, place }) => `${left} ${place}`)).size).toBe(steps.length);
					// Cut at the marked links, every walk comes to an end.
					const byRow = new Map(steps.map((step) => [step.row, step]));
					for (const step of steps) {
						let now: (typeof steps)[number] | undefined = step;
						for (let walked = 0; now && !now.circle && now.to >= 0; walked++) {
							expect(walked).toBeLessThan(steps.length);
							const next: (typeof steps)[number] = byRow.get(now.to)!;
							expect(next.left).toBe(now.left - 1);
							now = next;
						}
					}
				}
			)
		));
});

describe('what another program changed', () => {
	test('becomes a plan of values that can be taken back, bytes that are no text too', () =>
		fc.assert(
			fc.property(
				fc.nat(200),
				fc.option(fc.uint8Array({ maxLength: 40 }), { nil: null }),
				fc.boolean(),
				(load, bytes, drop) => {
					const stack = stackOf({
						'carts.tsv': `${HEAD}hand\t21\toak_4\t\t\t0\tcart.hand\n`,
						'keep.json': '{ "a": 1 }\n'
					});
					const outside = new Map([
						[
							'carts.tsv',
							decode(new TextEncoder().encode(`${HEAD}hand\t${load}\toak_4\t\t\t0\tcart.hand\n`))
						],
						...(bytes ? [['art/a.bin', decode(bytes, 'iso-8859-1')] as const] : []),
						...(drop ? [['keep.json', null] as const] : [])
					]);
					const plan = planToBring(stack, outside);
					const files = new Map([...stack.mine!.files].map(([path, file]) => [path, fileContent(file)]));
					const next = applyPlan(files, plan);
					for (const [path, file] of outside) {
						if (file === null) expect(next.has(path)).toBe(false);
						else expect(bytesOf(next.get(path)!)).toEqual(bytesOf(file));
					}
					expect(
						plan.values
							.filter(({ id }) => id === 'hand')
							.map(({ field, before, after }) => [field, before, after])
					).toEqual(load === 21 ? [] : [['load', '21', String(load)]]);
					const back = applyPlan(next, invertPlan(files, plan));
					expect([...back].map(([path, file]) => [path, bytesOf(file)]).sort()).toEqual(
						[...files].map(([path, file]) => [path, bytesOf(file)]).sort()
					);
				}
			)
		));
	test('several fields are copied from one record to another as one step', () => {
		const stack = stackOf();
		const plan = planFor(
			stack,
			{
				do: 'fill',
				kind: 'cart',
				id: 'hand',
				from: 'Pony cart',
				values: [
					{ field: 'load', value: '60' },
					{ field: 'wheel', value: 'oak_4' },
					{ field: 'mark', value: '0' }
				]
			},
			'mymod'
		);
		expect(plan.title).toBe('Set 2 fields of Hand cart from Pony cart');
		expect(plan.values.map(({ field, before, after }) => [field, before, after])).toEqual([
			['load', '20', '60'],
			['wheel', 'oak_2', 'oak_4']
		]);
		expect(plan.changes.map(({ path }) => path)).toEqual(['carts.tsv']);
	});
});

describe('notes in the guide file', () => {
	const note = fc.record({
		on: fc.record(
			{
				kind: fc.string({ minLength: 1 }),
				record: fc.string({ minLength: 1 }),
				field: fc.string({ minLength: 1 })
			},
			{ requiredKeys: ['kind'] }
		),
		nickname: fc.string().map((text) => text.trim()),
		note: fc.string().map((text) => text.trim())
	});
	test('go in and come out again, and nothing else of the guide changes', () =>
		fc.assert(
			fc.property(fc.array(note, { maxLength: 5 }), (notes: Note[]) => {
				const text =
					'# a remark of people\nguide: 1\nkinds:\n  cart: { title: Cart, files: [carts.tsv] } # all of wood\n';
				const written = guideWithNotes(text, notes);
				expect(parseGuide(written).notes).toEqual(notes);
				expect(written).toContain('# a remark of people');
				expect(written).toContain('# all of wood');
				expect(parseGuide(guideWithNotes(written, [])).notes).toEqual([]);
				for (const { on } of notes) expect(targetOf(targetKey(on))).toEqual(on);
			})
		));
	test('can begin a guide where there is none', () => {
		const on = { file: 'carts.tsv' };
		const guide = parseGuide(guideWithNotes(null, [{ on, nickname: 'wagons', note: '' }]));
		expect(guide).toEqual({ ...EMPTY_GUIDE, notes: [{ on, nickname: 'wagons', note: '' }] });
		expect(Object.keys(BASE)).toContain('carts.tsv');
	});
});
