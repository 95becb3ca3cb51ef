// Layers over each other: who wins, what two of them change, what settles it, and orders that work.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { planFor, stackAfter } from '$core/edits';
import { parseGuide } from '$core/guide';
import {
	clashesOf,
	orderOf,
	settledStep,
	settledValues,
	valueByRule,
	waysFor,
	type Choice,
	type Clash
} from '$core/layers';
import { buildLinks } from '$core/links';
import { assembleStack, type LayerBytes } from '$core/model';
import { valueOf, type Stack } from '$core/stack';

const guideOf = (merge: 'record' | 'file') => `
guide: 1
identity: mod.json
kinds:
  mod: { title: Mod, files: [mod.json], at: null }
  cart:
    title: Cart
    plural: Carts
    files: ['data/*.json']
    key: id
    at: ''
    merge: ${merge}
    fields:
      load: { title: Load, type: whole }
      tags: { title: Tags, type: list, separator: '|' }
      next: { title: Next, type: reference, reference: { kinds: [cart] } }
`;

type Rows = Record<string, Record<string, string>>;
/** Files of a layer, each with its records. */
type Files = Record<string, Rows>;

const bytes = (text: string) => new TextEncoder().encode(text);
const fileText = (rows: Rows) =>
	JSON.stringify(Object.entries(rows).map(([id, fields]) => ({ id, ...fields })));
const layerOf = (
	id: string,
	owner: LayerBytes['owner'],
	files: Files,
	more: Record<string, string> = {}
): LayerBytes => ({
	id,
	title: id,
	owner,
	files: new Map([
		...Object.entries(files).map(([path, rows]) => [`data/${path}.json`, bytes(fileText(rows))] as const),
		...Object.entries(more).map(([path, text]) => [path, bytes(text)] as const)
	])
});

const stackFrom = (layers: LayerBytes[], merge: 'record' | 'file'): Stack =>
	assembleStack(layers, parseGuide(guideOf(merge)));

/** What the game sees, read plainly: a later file of a path hides the earlier one, or a later record the earlier one. */
function plainly(layers: readonly Files[], merge: 'record' | 'file'): Rows {
	const seen: Rows = {};
	if (merge === 'file') {
		const files: Files = {};
		// A file of a later layer is read where it comes in the order of layers.
		for (const layer of layers)
			for (const [path, rows] of Object.entries(layer)) {
				delete files[path];
				files[path] = rows;
			}
		for (const rows of Object.values(files))
			for (const [id, fields] of Object.entries(rows)) seen[id] = fields;
	} else
		for (const layer of layers)
			for (const rows of Object.values(layer))
				for (const [id, fields] of Object.entries(rows)) seen[id] = fields;
	return seen;
}

const rowsArb = (path: string): fc.Arbitrary<Rows> =>
	fc.dictionary(
		fc.constantFrom(`${path}_1`, `${path}_2`, `${path}_3`),
		fc.dictionary(fc.constantFrom('load', 'tags', 'next'), fc.constantFrom('1', '2', '3'), {
			minKeys: 1,
			noNullPrototype: true
		}),
		{ noNullPrototype: true }
	);
// Every id is in one file: a record in two files of one layer is a fault of its own.
const filesArb: fc.Arbitrary<Files> = fc
	.record({ a: rowsArb('a'), b: rowsArb('b') }, { requiredKeys: [] })
	.map(
		(files) =>
			Object.fromEntries(Object.entries(files).filter(([, rows]) => Object.keys(rows!).length > 0)) as Files
	);

/** What two or more layers change, found by trying every layer, record and field. */
function clashesPlainly(base: Files, layers: readonly Files[]): string[] {
	const rowsOf = (files: Files): Rows => Object.assign({}, ...Object.values(files)) as Rows;
	const game = rowsOf(base);
	const mods = layers.map(rowsOf);
	const ids = new Set(mods.flatMap((rows) => Object.keys(rows)));
	const found: string[] = [];
	for (const id of ids) {
		const having = mods.flatMap((rows, nth) => (rows[id] ? [[nth, rows[id]] as const] : []));
		if (having.length < 2) continue;
		for (const field of new Set(having.flatMap(([, fields]) => Object.keys(fields)))) {
			const under = game[id]?.[field];
			const first = having.findIndex(([, fields]) => fields[field] !== under);
			const rest = first < 0 ? [] : having.slice(first);
			if (rest.length < 2) continue;
			found.push(
				`${id}.${field}: ${rest.map(([nth, fields]) => `${nth}=${fields[field] ?? 'none'}`).join(' ')}`
			);
		}
	}
	return found.sort();
}

describe('layers over each other', () => {
	for (const merge of ['record', 'file'] as const)
		test(`what the game sees and what two layers change, beside a plain reader, merged by ${merge}`, () => {
			fc.assert(
				fc.property(filesArb, fc.array(filesArb, { minLength: 1, maxLength: 5 }), (base, mods) => {
					const stack = stackFrom(
						[layerOf('base', 'game', base), ...mods.map((files, nth) => layerOf(`m${nth}`, 'others', files))],
						merge
					);
					const expected = plainly([base, ...mods], merge);
					const table = stack.tables.get('cart')!;
					expect([...table.byId.keys()].sort()).toEqual(Object.keys(expected).sort());
					for (const [id, fields] of Object.entries(expected))
						for (const field of ['load', 'tags', 'next'])
							expect(valueOf(table.byId.get(id)!, field), `${id}.${field}`).toBe(fields[field]);
					expect(
						clashesOf(stack)
							.map(
								({ record, field, values }) =>
									`${record}.${field}: ${values.map(({ layer, value }) => `${layer.id.slice(1)}=${value ?? 'none'}`).join(' ')}`
							)
							.sort()
					).toEqual(clashesPlainly(base, mods));
				}),
				{ numRuns: 150 }
			);
		});
});

const clashOf = (stack: Stack, record: string, field: string): Clash =>
	clashesOf(stack).find((one) => one.record === record && one.field === field)!;

describe('what settles a clash', () => {
	const stack = stackFrom(
		[
			layerOf('base', 'game', { a: { one: { load: '10', tags: 'x|y' }, two: { load: '5' } } }),
			layerOf('first', 'others', { a: { one: { load: '12', tags: 'x|y|z' }, two: { load: '6' } } }),
			layerOf('second', 'others', { a: { one: { load: '9', tags: 'y|w' }, two: { load: '5' } } }),
			layerOf('mine', 'me', {})
		],
		'record'
	);
	const settled = (field: string, choice: Choice) =>
		settledValues(stack, [[clashOf(stack, 'one', field), choice]]).map(({ value }) => value);
	test('a copy of the game’s value is no change: the one that was changed counts', () => {
		const clash = clashOf(stack, 'two', 'load');
		expect(clash.values.map(({ value, copied }) => [value, copied])).toEqual([
			['6', false],
			['5', true]
		]);
		expect(valueByRule(clash)).toBe('6');
		expect(valueByRule(clashOf(stack, 'one', 'load'))).toBe(null);
	});
	test('both changes of a number, the larger, the smaller, both lists, a layer, a value of one’s own', () => {
		expect(waysFor(stack, clashOf(stack, 'one', 'load'))).toEqual(['sum', 'larger', 'smaller']);
		expect(waysFor(stack, clashOf(stack, 'one', 'tags'))).toEqual(['joined']);
		expect(settled('load', { by: 'sum' })).toEqual(['11']);
		expect(settled('load', { by: 'larger' })).toEqual(['12']);
		// What the game uses already is not written again.
		expect(settled('load', { by: 'smaller' })).toEqual([]);
		expect(settled('tags', { by: 'joined' })).toEqual(['y|z|w']);
		expect(settled('load', { by: 'layer', layer: 'first' })).toEqual(['12']);
		expect(settled('load', { by: 'value', value: '7' })).toEqual(['7']);
	});
	test('all that is chosen is one step, after which the game sees it', () => {
		const chosen: [Clash, Choice][] = [
			[clashOf(stack, 'one', 'load'), { by: 'sum' }],
			[clashOf(stack, 'one', 'tags'), { by: 'joined' }],
			[clashOf(stack, 'two', 'load'), { by: 'layer', layer: 'first' }]
		];
		const plan = planFor(stack, settledStep(settledValues(stack, chosen), 'Settle'), 'mine');
		const carts = stackAfter(stack, plan).tables.get('cart')!;
		expect(['one', 'two'].map((id) => valueOf(carts.byId.get(id)!, 'load'))).toEqual(['11', '6']);
		expect(valueOf(carts.byId.get('one')!, 'tags')).toBe('y|z|w');
	});
	test('files that are not data', () => {
		const two = stackFrom(
			[
				layerOf('base', 'game', {}, { 'art/a.svg': '<a/>' }),
				layerOf('first', 'others', {}, { 'art/a.svg': '<b/>', 'mod.json': '{"name":"f"}' }),
				layerOf('second', 'others', {}, { 'art/a.svg': '<a/>', 'mod.json': '{"name":"s"}' })
			],
			'record'
		);
		expect(clashesOf(two)).toMatchObject([
			{ kind: null, record: 'art/a.svg', field: null, values: [{ copied: false }, { copied: true }] }
		]);
	});
});

/** Mods by what they say of themselves. */
const said = (
	mods: Record<string, { requires?: string[]; after?: string[]; notWith?: string[]; files?: Files }>
): LayerBytes[] => [
	layerOf('base', 'game', { a: { one: { load: '1' } } }),
	...Object.entries(mods).map(([name, { files = {}, ...about }]) =>
		layerOf(name, 'others', files, { 'mod.json': JSON.stringify({ name, title: name, ...about }) })
	)
];
const ordered = (layers: LayerBytes[]) => {
	const stack = stackFrom(layers, 'record');
	const { order, impossible } = orderOf(stack, buildLinks(stack));
	return { order: order.map(({ id }) => id), impossible };
};

describe('orders', () => {
	test('as near to the present one as the demands allow', () => {
		expect(ordered(said({ a: {}, b: {}, c: {} })).order).toEqual(['base', 'a', 'b', 'c']);
		expect(ordered(said({ a: { after: ['c'] }, b: {}, c: {} })).order).toEqual(['base', 'b', 'c', 'a']);
		expect(ordered(said({ a: { after: ['nobody'] } })).impossible).toEqual([]);
	});
	test('what records refer to has to be loaded before them', () => {
		const { order } = ordered(
			said({
				user: { files: { b: { cart_1: { next: 'cart_2' } } } },
				owner: { files: { c: { cart_2: { load: '2' } } } }
			})
		);
		expect(order).toEqual(['base', 'owner', 'user']);
	});
	test('a circle says in one sentence which layers it is about, and the rest is still ordered', () => {
		const { order, impossible } = ordered(
			said({ a: { after: ['b'] }, b: { requires: ['c'] }, c: { after: ['a'] }, d: { after: ['e'] }, e: {} })
		);
		expect(impossible).toHaveLength(1);
		expect(impossible[0]!.message).toMatch(/^No order works: .* but .* but .*\.$/);
		expect(impossible[0]!.layers.map(({ id }) => id).sort()).toEqual(['a', 'b', 'c']);
		expect(order.indexOf('e')).toBeLessThan(order.indexOf('d'));
		expect(ordered(said({ a: { requires: ['nobody'] } })).impossible[0]!.message).toBe(
			'a requires “nobody”, which is not among the layers.'
		);
		expect(ordered(said({ a: {}, b: { notWith: ['a'] } })).impossible).toMatchObject([
			{
				message: 'b does not work together with a. Switch one of them off.',
				layers: [{ id: 'b' }, { id: 'a' }]
			}
		]);
	});
	test('law: of demands that can be met, all are', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 2, max: 7 }),
				fc.array(fc.tuple(fc.nat(6), fc.nat(6), fc.boolean()), { maxLength: 10 }),
				fc.infiniteStream(fc.nat()),
				(count, pairs, dice) => {
					const names = Array.from({ length: count }, (_, nth) => `m${nth}`);
					// Demands go from a lower to a higher number: an order that meets all is there; the present one is shuffled.
					const demands = pairs.flatMap(([x, y, hard]) => {
						const [low, high] = [Math.min(x, y) % count, Math.max(x, y) % count];
						return low < high ? [{ low, high, hard }] : [];
					});
					const mixed = names.map((name) => [dice.next().value, name] as const).sort(([a], [b]) => a - b);
					const { order, impossible } = ordered(
						said(
							Object.fromEntries(
								mixed.map(([, name]) => {
									const mine = demands.filter(({ high }) => names[high] === name);
									return [
										name,
										{
											requires: mine.filter(({ hard }) => hard).map(({ low }) => names[low]!),
											after: mine.filter(({ hard }) => !hard).map(({ low }) => names[low]!)
										}
									];
								})
							)
						)
					);
					expect(impossible).toEqual([]);
					for (const { low, high } of demands)
						expect(order.indexOf(names[low]!)).toBeLessThan(order.indexOf(names[high]!));
				}
			),
			{ numRuns: 100 }
		);
	});
});
