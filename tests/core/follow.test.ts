// What follows from a change by itself, what can be declined, and single steps undone whatever came after them.
import { describe, expect, test } from 'vitest';
import { bytesOf, applyPlan, netChanges, type Plan, type Files } from '$core/change';
import { NotPossible, planFor, type Intention } from '$core/edits';
import { EMPTY_GUIDE, parseGuide } from '$core/guide';
import { budgetOf, costInWords } from '$core/numbers';
import { valueOf, type Stack } from '$core/stack';
import { assembleStack } from '$core/model';

const GUIDE = `guide: 1
words: { kind: text, main: en, languages: { en: English } }
kinds:
  cart:
    title: Cart
    files: [carts.json]
    key: id
    at: ''
    merge: file
    twins: [{ of: carts.json, file: night/carts.json, but: [pay] }]
    assets: [{ label: Picture, path: 'art/{id}.txt' }]
    texts: [{ label: Name, key: 'cart.{id}', name: true }]
    budget: { title: Points, costs: { load: 2, colour: { red: 3, blue: -1 } }, from: { load: 10 }, most: 40 }
    fields:
      load: { type: whole }
      sign: { type: text, derive: 'sign_{load}' }
      count: { type: whole, counts: wheels }
      'wheels[]': { type: reference, reference: { kinds: [wheel] } }
  night: { title: Night cart, files: [night/carts.json], key: id, at: '', merge: file }
  wheel: { title: Wheel, files: [wheels.tsv], key: id, merge: record }
  page: { title: Page, files: [page.tsv], key: id, merge: record, fields: { '#id': { type: reference, reference: { kinds: [wheel] } } } }
  total: { title: Total, files: [total.ini], merge: record, fields: { wheels: { type: whole, counts: 'kind:wheel' } } }
  text: { title: Text, files: ['words/{language}/*.properties'], write: 'words/{language}/{mod}.properties' }
`;
const CART = (id: string, load: number, pay: number) =>
	`{ "id": "${id}", "load": ${load}, "sign": "sign_${load}", "pay": ${pay}, "count": 2, "wheels": ["oak", "elm"] }`;
const BASE: Record<string, string> = {
	'carts.json': `[\n\t${CART('hand', 10, 3)},\n\t${CART('pony', 20, 4)}\n]\n`,
	'night/carts.json': `[\n\t${CART('hand', 10, 5)},\n\t${CART('pony', 20, 6)}\n]\n`,
	'wheels.tsv': 'id\tsize\noak\t4\nelm\t6\n',
	'page.tsv': 'id\ttitle\noak\tOf oak\nelm\tOf elm\n',
	'total.ini': '[all]\nwheels = 2\n',
	'art/hand.txt': 'a picture\n',
	'words/en/base.properties': 'cart.hand=Hand cart\ncart.pony=Pony cart\n'
};

const bytes = (files: Record<string, string>) =>
	new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));
const stackOf = (mine: Record<string, string>): Stack =>
	assembleStack(
		[
			{ id: 'base', title: 'Base', owner: 'game', files: bytes(BASE) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytes(mine) }
		],
		parseGuide(GUIDE)
	);
const filesOf = (stack: Stack) =>
	new Map([...stack.mine!.files].flatMap(([path, { text }]) => (text ? [[path, text] as const] : [])));
const textsOf = (files: Files) =>
	Object.fromEntries([...files].map(([path, file]) => [path, new TextDecoder().decode(bytesOf(file))]));
const written = (stack: Stack, plan: Plan) => textsOf(applyPlan(filesOf(stack), plan));
const after = (stack: Stack, plan: Plan) => stackOf(written(stack, plan));
const plan = (stack: Stack, intention: Intention) => planFor(stack, intention, 'mod');
const value = (stack: Stack, kind: string, id: string, field: string) =>
	valueOf(stack.tables.get(kind)!.byId.get(id)!, field);

describe('what follows by itself', () => {
	const set: Intention = { do: 'set', kind: 'cart', id: 'hand', field: 'load', value: '15' };
	test('fields made from others and twins, each said with why', () => {
		const made = plan(stackOf({}), set);
		expect(made.values.map(({ kind, field, after, by }) => [kind, field, after, by])).toEqual([
			['cart', 'load', '15', undefined],
			['cart', 'sign', 'sign_15', 'derived'],
			['night', 'sign', 'sign_15', 'twin'],
			['night', 'load', '15', 'twin']
		]);
		const now = after(stackOf({}), made);
		expect(value(now, 'night', 'hand', 'load')).toBe('15');
		expect(value(now, 'night', 'hand', 'pay')).toBe('5');
	});
	test('and can be declined, with a reason that is written down', () => {
		const made = plan(stackOf({}), { ...set, without: ['twin'], reason: 'the night is another game' });
		expect(made.changes.map(({ path }) => path)).toEqual(['carts.json']);
		expect(made.notes.join(' ')).toContain('the night is another game');
	});
	test('what may differ between twins stays', () => {
		const made = plan(stackOf({}), { do: 'set', kind: 'cart', id: 'hand', field: 'pay', value: '9' });
		expect(made.changes.map(({ path }) => path)).toEqual(['carts.json']);
	});
	test('a counter follows the items of its list', () => {
		const made = plan(stackOf({}), {
			do: 'item',
			kind: 'cart',
			id: 'hand',
			list: 'wheels',
			at: 1,
			change: { how: 'insert', value: 'oak' }
		});
		const now = after(stackOf({}), made);
		expect(value(now, 'cart', 'hand', 'count')).toBe('3');
		expect(['wheels[0]', 'wheels[1]', 'wheels[2]'].map((field) => value(now, 'cart', 'hand', field))).toEqual(
			['oak', 'oak', 'elm']
		);
	});
	test('a copy is named by the field that it is made for, in the same plan', () => {
		const copy = {
			do: 'copy',
			kind: 'wheel',
			id: 'oak',
			newId: 'ash',
			names: {},
			without: ['list']
		} as const;
		const made = plan(stackOf({}), {
			...copy,
			without: ['list'],
			into: { kind: 'cart', id: 'hand', field: 'wheels[1]' }
		});
		const now = after(stackOf({}), made);
		expect([value(now, 'cart', 'hand', 'wheels[0]'), value(now, 'cart', 'hand', 'wheels[1]')]).toEqual([
			'oak',
			'ash'
		]);
		expect(value(now, 'wheel', 'ash', 'size')).toBe('4');
		expect(() =>
			plan(stackOf({}), { ...copy, without: [], into: { kind: 'cart', id: 'hand', field: 'load' } })
		).toThrow(/does not name a record of this kind/);
	});
	test('a copy brings lists, its pair and the counter of its kind; removed, all of it goes again', () => {
		const made = plan(stackOf({}), { do: 'copy', kind: 'wheel', id: 'oak', newId: 'ash', names: {} });
		const now = after(stackOf({}), made);
		expect(value(now, 'total', 'all', 'wheels')).toBe('3');
		expect(value(now, 'page', 'ash', 'title')).toBe('Of oak');
		expect(
			['wheels[0]', 'wheels[1]', 'wheels[2]', 'count'].map((field) => value(now, 'cart', 'pony', field))
		).toEqual(['oak', 'ash', 'elm', '3']);
		const gone = after(now, plan(now, { do: 'remove', kind: 'wheel', id: 'ash', settle: { how: 'empty' } }));
		expect(value(gone, 'total', 'all', 'wheels')).toBe('2');
		expect(gone.tables.get('page')!.byId.has('ash')).toBe(false);
		expect(value(gone, 'cart', 'pony', 'wheels[1]')).toBe('elm');
		expect(value(gone, 'cart', 'pony', 'count')).toBe('2');
	});
	test('a record of a whole file gets its new id in place, with twin, text, picture', () => {
		const now = after(
			stackOf({}),
			plan(stackOf({}), { do: 'rename', kind: 'cart', id: 'hand', newId: 'push' })
		);
		expect(now.tables.get('cart')!.byId.has('hand')).toBe(false);
		expect(value(now, 'night', 'push', 'load')).toBe('10');
		expect(value(now, 'text', 'cart.push', 'en')).toBe('Hand cart');
		expect(now.mine!.files.has('art/push.txt')).toBe(true);
	});
	test('those who name what goes may name another', () => {
		const first = after(
			stackOf({}),
			plan(stackOf({}), { do: 'copy', kind: 'wheel', id: 'oak', newId: 'ash', names: {}, without: ['list'] })
		);
		const named = after(
			first,
			plan(first, {
				do: 'set',
				kind: 'cart',
				id: 'hand',
				field: 'wheels[0]',
				value: 'ash',
				without: ['twin']
			})
		);
		const gone = after(
			named,
			plan(named, { do: 'remove', kind: 'wheel', id: 'ash', settle: { how: 'point', to: 'elm' } })
		);
		expect(value(gone, 'cart', 'hand', 'wheels[0]')).toBe('elm');
	});
});

describe('one step taken back', () => {
	/** Carries steps out and then reverses one of them. */
	function reversed(steps: Intention[], nth: number): Stack {
		let stack = stackOf({});
		const done: { plan: Plan; before: Stack }[] = [];
		for (const step of steps) {
			const made = plan(stack, step);
			done.push({ plan: made, before: stack });
			stack = after(stack, made);
		}
		const { plan: step, before } = done[nth]!;
		const reversing = {
			step,
			later: done.slice(nth + 1).map((one) => one.plan),
			before: (path: string) => filesOf(before).get(path)
		};
		return after(stack, planFor(stack, { do: 'reverse', step: nth + 1 }, 'mod', { reversing }));
	}
	const size = (id: string, to: string): Intention => ({
		do: 'set',
		kind: 'wheel',
		id,
		field: 'size',
		value: to
	});
	test('is gone to the byte where nothing came after it', () => {
		expect(textsOf(filesOf(reversed([size('oak', '5')], 0)))).toEqual({});
		expect(textsOf(filesOf(reversed([size('oak', '5'), size('elm', '7')], 1)))).toEqual({
			'wheels.tsv': 'id\tsize\noak\t5\n'
		});
	});
	test('leaves what came after it elsewhere', () => {
		const now = reversed([size('oak', '5'), size('elm', '7')], 0);
		expect(textsOf(filesOf(now))).toEqual({ 'wheels.tsv': 'id\tsize\nelm\t7\n' });
		const twice = reversed([size('oak', '5'), size('elm', '7'), size('oak', '6')], 1);
		expect(['oak', 'elm'].map((id) => value(twice, 'wheel', id, 'size'))).toEqual(['6', '6']);
	});
	test('is refused where a later step changed the same, which is named', () => {
		expect(() => reversed([size('oak', '5'), size('oak', '6')], 0)).toThrow(NotPossible);
		expect(() => reversed([size('oak', '5'), size('oak', '6')], 0)).toThrow('Set size of oak: 5 to 6');
	});
	test('several steps come to their net changes', () => {
		const value = (before: string, after: string) => ({
			kind: 'wheel',
			id: 'oak',
			name: 'oak',
			field: 'size',
			before,
			after
		});
		expect(netChanges([{ values: [value('4', '5')] }, { values: [value('5', '6')] }])).toEqual([
			value('4', '6')
		]);
		expect(netChanges([{ values: [value('4', '5')] }, { values: [value('5', '4')] }])).toEqual([]);
	});
});

test('points are spent by the cost table, of numbers and of codes', () => {
	const { budget } = parseGuide(GUIDE).kinds.cart!;
	const own = new Map([
		['load', '25'],
		['colour', 'red']
	]);
	const spent = budgetOf(budget!, (field) => own.get(field));
	expect([spent.spent, spent.most]).toEqual([33, 40]);
	expect(spent.parts).toEqual([
		{ field: 'load', points: 30 },
		{ field: 'colour', points: 3 }
	]);
	expect(budgetOf(budget!, () => undefined).spent).toBe(0);
	expect(costInWords(budget!, 'load', () => null)).toBe('2 points for each above 10');
});

describe('texts of a game of which nobody said where new ones go', () => {
	const game = (ending: string, texts: (language: string) => string) =>
		assembleStack(
			[
				{
					id: 'base',
					title: 'Base',
					owner: 'game',
					files: bytes({
						'wheels.tsv': 'id\tsize\noak\t4\nelm\t6\nash\t5\nfir\t7\n',
						[`words/en/carts.${ending}`]: texts('en')
							.replace(/wheel\.(oak|elm|ash|fir)/g, 'about.$1ish')
							.replaceAll(/(oak|elm|ash|fir) /g, 'none '),
						[`words/en/wheels.${ending}`]: texts('en'),
						[`words/de/wheels.${ending}`]: texts('de')
					})
				},
				{ id: 'mine', title: 'My mod', owner: 'me', files: new Map() }
			],
			EMPTY_GUIDE
		);
	const IDS = ['oak', 'elm', 'ash', 'fir'];
	test.each([
		['properties', (of: string) => IDS.map((id) => `wheel.${id}=${id} (${of})\n`).join('')],
		['po', (of: string) => IDS.map((id) => `msgid "wheel.${id}"\nmsgstr "${id} (${of})"\n\n`).join('')]
	])(
		'in .%s: a copy’s go beside the ones that it was made from, and one is changed where it stands',
		(ending, texts) => {
			const stack = game(ending, texts);
			expect(stack.guide.words).toBeDefined();
			const made = written(
				stack,
				planFor(stack, { do: 'copy', kind: 'wheels', id: 'elm', newId: 'yew', names: { en: 'Yew' } }, 'm')
			);
			expect(Object.keys(made).sort()).toEqual(
				['wheels.tsv', `words/de/wheels.${ending}`, `words/en/wheels.${ending}`].sort()
			);
			expect(made[`words/en/wheels.${ending}`]).toContain('wheel.yew');
			expect(made[`words/en/wheels.${ending}`]).toContain('Yew');
			expect(made[`words/de/wheels.${ending}`]).toContain('wheel.yew');
			const changed = written(
				stack,
				planFor(stack, { do: 'write', texts: [{ key: 'wheel.oak', language: 'de', text: 'Eiche' }] }, 'm')
			);
			expect(changed).toEqual({
				[`words/de/wheels.${ending}`]: texts('de').replace('oak (de)', 'Eiche')
			});
		}
	);
});

test('what a code costs is said by what the code stands for', () => {
	const budget = { title: 'Yard points', costs: { marks: { 1: 2, 4: 5 } } };
	const meaning = (code: string) => ({ 1: 'sails at night' })[code] ?? null;
	expect(costInWords(budget, 'marks', meaning)).toBe('2 yard points for sails at night; 5 for 4');
});
