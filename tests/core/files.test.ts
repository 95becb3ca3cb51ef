// Records between the files that the game reads together: moved, split off, merged.
import { describe, expect, test } from 'vitest';
import { applyPlan, invertPlan, contentOf } from '$core/change';
import { checkStack } from '$core/checks';
import { myFiles, planFor, stackAfter, type Intention } from '$core/edits';
import { createPool } from '$core/facts';
import { parseGuide } from '$core/guide';
import { buildStack, type Stack } from '$core/stack';
import { loadLayer } from '$core/model';
import { placesIn } from '../../src/lib/server/views/places';

const GUIDE = (merge: 'record' | 'file') => `guide: 1
kinds:
  cart:
    title: Cart
    plural: Carts
    files: ['carts/*.json', 'carts/*.toml']
    key: id
    merge: ${merge}
  stable:
    title: Stable
    files: ['stables/*.json']
    id: file
  text:
    title: Text
    files: ['words/{language}/*.properties']
    write: 'words/{language}/{mod}.properties'
words: { kind: text, main: en, languages: { en: English, de: German } }
`;
const json = (...ids: string[]) =>
	JSON.stringify(
		ids.map((id) => ({ id, load: 3 })),
		null,
		'\t'
	) + '\n';

function game(merge: 'record' | 'file', base: Record<string, string>, own: Record<string, string>): Stack {
	const guide = parseGuide(GUIDE(merge));
	const pool = createPool();
	const bytes = (files: Record<string, string>) =>
		new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));
	const below = loadLayer({ id: 'base', title: 'base', owner: 'game' }, bytes(base), { guide, pool });
	const mine = loadLayer({ id: 'mine', title: 'mine', owner: 'me' }, bytes(own), {
		guide,
		below: [below],
		pool
	});
	return buildStack([below, mine], guide, pool);
}

const texts = (stack: Stack) =>
	Object.fromEntries([...myFiles(stack)].map(([path, file]) => [path, contentOf(file)]));
const idsIn = (stack: Stack, path: string) =>
	stack.mine!.files.get(path)?.doc?.records.map(({ id }) => id) ?? null;

function put(stack: Stack, from: string, ids: string[], into: string) {
	const kind = from.startsWith('words') ? 'text' : 'cart';
	const intention: Intention = { do: 'put', kind, from, ids, into };
	const plan = planFor(stack, intention, 'one');
	const before = myFiles(stack);
	const back = applyPlan(applyPlan(before, plan), invertPlan(before, plan));
	expect(back).toEqual(before);
	const after = stackAfter(stack, plan);
	expect(checkStack(after).filter(({ severity }) => severity === 'blocks')).toEqual([]);
	return { after, plan };
}

describe('records between files', () => {
	const split = { 'carts/small.json': json('a', 'b'), 'carts/large.json': json('c') };

	test('one goes into a file that is there, and both stay files of the game', () => {
		const stack = game('record', {}, split);
		const { after, plan } = put(stack, 'carts/small.json', ['b'], 'carts/large.json');
		expect(idsIn(after, 'carts/small.json')).toEqual(['a']);
		expect(idsIn(after, 'carts/large.json')).toEqual(['c', 'b']);
		expect(plan.title).toBe('Put b into carts/large.json');
		expect(plan.values).toMatchObject([
			{ kind: 'cart', id: 'b', field: 'file', before: 'carts/small.json', after: 'carts/large.json' }
		]);
		expect([...after.tables.get('cart')!.byId.keys()].sort()).toEqual(['a', 'b', 'c']);
	});

	test('some are split off into a new file, which the plan says', () => {
		const { after, plan } = put(game('record', {}, split), 'carts/small.json', ['a'], 'carts/tiny.json');
		expect(idsIn(after, 'carts/tiny.json')).toEqual(['a']);
		expect(plan.notes.join(' ')).toMatch(/carts\/tiny.json is a new file of your mod: it adds/);
	});

	test('all are merged into another file, and theirs goes', () => {
		const { after, plan } = put(
			game('record', {}, split),
			'carts/small.json',
			['a', 'b'],
			'carts/large.json'
		);
		expect(plan.title).toBe('Merge carts/small.json into carts/large.json');
		expect(Object.keys(texts(after))).toEqual(['carts/large.json']);
		expect(idsIn(after, 'carts/large.json')).toEqual(['c', 'a', 'b']);
	});

	test('where the game reads files whole, mine become copies, and an emptied one stays', () => {
		const stack = game('file', split, { 'mod.json': '{}' });
		const one = put(stack, 'carts/small.json', ['b'], 'carts/large.json');
		expect(idsIn(one.after, 'carts/small.json')).toEqual(['a']);
		expect(idsIn(one.after, 'carts/large.json')).toEqual(['c', 'b']);
		const all = put(one.after, 'carts/small.json', ['a'], 'carts/large.json');
		expect(idsIn(all.after, 'carts/small.json')).toEqual([]);
		expect(all.after.tables.get('cart')!.count).toBe(3);
		expect(all.plan.notes.join(' ')).toContain('carts/small.json stays, empty');
	});

	test('records of several files come together in one', () => {
		const stack = game('record', {}, { ...split, 'carts/one.json': json('d', 'e') });
		const plan = planFor(
			stack,
			{ do: 'put', kind: 'cart', ids: ['a', 'd', 'c'], into: 'carts/new.json' },
			'one'
		);
		const after = stackAfter(stack, plan);
		expect(idsIn(after, 'carts/new.json')!.sort()).toEqual(['a', 'c', 'd']);
		expect(idsIn(after, 'carts/large.json')).toBe(null);
		expect(plan.title).toBe('Put 3 carts into carts/new.json');
	});

	test('texts stay in their language', () => {
		const stack = game('file', {}, { 'words/en/one.properties': 'a.name=A\nb.name=B\n' });
		const { after } = put(stack, 'words/en/one.properties', ['b.name'], 'words/en/two.properties');
		expect(texts(after)).toEqual({
			'words/en/one.properties': 'a.name=A\n',
			'words/en/two.properties': 'b.name=B\n'
		});
		expect(() => put(stack, 'words/en/one.properties', ['b.name'], 'words/de/two.properties')).toThrow(
			/b.name cannot be put there: the file holds texts in de/
		);
	});

	test.each([
		[
			'a file of another kind',
			'carts/small.json',
			['a'],
			'stables/x.json',
			/would not be read as cart: .*carts\/\*\.json/
		],
		['another format', 'carts/small.json', ['a'], 'carts/x.toml', /another format/],
		['the same file', 'carts/small.json', ['a'], 'carts/small.json', /a is in this file already/],
		['a way out of the mod', 'carts/small.json', ['a'], '../carts/x.json', /is not a path inside/],
		[
			'a record that is not there',
			'carts/small.json',
			['z'],
			'carts/x.json',
			/No record of the kind “Cart” has the id “z”/
		],
		[
			'a record that is there already',
			'carts/small.json',
			['a'],
			'carts/same.json',
			/has a record a already/
		],
		['a file that names its record', 'stables/s.json', ['s'], 'stables/t.json', /the file names its record/],
		[
			'a file that my mod lacks',
			'carts/base.json',
			['q'],
			'carts/x.json',
			/add its records to your mod first/
		]
	])('%s is refused, and why', (_, from, ids, into, why) => {
		const own = { ...split, 'carts/same.json': json('a'), 'stables/s.json': '{"room": 3}\n' };
		const stack = game('record', { 'carts/base.json': json('q') }, own);
		expect(() =>
			planFor(
				stack,
				{ do: 'put', kind: from.startsWith('stables') ? 'stable' : 'cart', from, ids, into },
				'one'
			)
		).toThrow(why);
	});
});

test('where the game shows a file the last first, both places are said', () => {
	const stack = game('record', {}, { 'carts/small.json': json('a', 'b', 'c') });
	const place = (of: Stack, id: string) => placesIn(of, of.tables.get('cart')!.byId.get(id)!)[0]!;
	expect(place(stack, 'a')).toMatchObject({ nth: 1, count: 3, shown: null, free: true, apart: true });
	const { cart, ...others } = stack.guide.kinds;
	const turned: Stack = {
		...stack,
		guide: { ...stack.guide, kinds: { ...others, cart: { ...cart!, reversed: true } } }
	};
	expect(place(turned, 'a')).toMatchObject({ nth: 1, count: 3, shown: 3 });
	const plan = planFor(turned, { do: 'move', kind: 'cart', id: 'a', to: 2 }, 'one');
	expect(plan.notes).toEqual([
		'The game shows carts/small.json in reverse: players see this as number 1 of 3.'
	]);
	const after = stackAfter(turned, plan);
	expect(idsIn(after, 'carts/small.json')).toEqual(['b', 'c', 'a']);
	expect(place(after, 'a')).toMatchObject({ nth: 3, shown: 1 });
	// A file that is one record has no places.
	const one = game('record', {}, { 'stables/s.json': '{"room": 3}\n' });
	expect(placesIn(one, one.tables.get('stable')!.byId.get('s')!)).toEqual([]);
});
