// Records that a layer takes out of those below it, by exact copies.
import { describe, expect, test } from 'vitest';
import { applyPlan, invertPlan, contentOf } from '$core/change';
import { checkStack } from '$core/checks';
import { repairsFor } from '$core/checks';
import { myFiles, planFor, stackAfter, type Intention } from '$core/edits';
import { parseGuide } from '$core/guide';
import { type Stack } from '$core/stack';
import { assembleStack } from '$core/model';

const GUIDE = `guide: 1
kinds:
  cart:
    title: Cart
    plural: Carts
    files: [carts.json]
    key: id
    at: ''
    merge: record
    removes: ['carts.out.json']
    fields: { next: { type: reference, reference: { kinds: [cart] } } }
  total: { title: Total, files: [total.ini], merge: record, fields: { carts: { type: whole, counts: 'kind:cart' } } }
  wheel: { title: Wheel, files: [wheels.json], key: id, at: '', merge: record }
`;
const CARTS = `[
	{ "id": "hand", "load": 10 },
	{ "id": "pony", "load": 20, "next": "hand" },
	{ "id": "dog", "load": 5 }
]
`;
const BASE = {
	'carts.json': CARTS,
	'total.ini': '[all]\ncarts = 3\n',
	'wheels.json': '[\n\t{ "id": "oak" }\n]\n'
};
const bytes = (files: Record<string, string>) =>
	new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));
const stackOf = (mod: Record<string, string>, mine: Record<string, string> = {}): Stack =>
	assembleStack(
		[
			{ id: 'base', title: 'Base', owner: 'game', files: bytes(BASE) },
			{ id: 'mod', title: 'Winter', owner: 'others', files: bytes(mod) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytes(mine) }
		],
		parseGuide(GUIDE)
	);
const ids = (stack: Stack) => [...stack.tables.get('cart')!.byId.keys()];
const out = (stack: Stack) => checkStack(stack).filter(({ rule }) => rule === 'removes-nothing');

describe('records that a layer takes out', () => {
	test('are gone from what lies below it, and not from what lies above', () => {
		const mod = { 'carts.out.json': '[{ "id": "dog", "load": 5 }]' };
		expect(ids(stackOf(mod))).toEqual(['hand', 'pony']);
		expect(out(stackOf(mod))).toEqual([]);
		expect(ids(stackOf(mod, { 'carts.json': '[{ "id": "dog", "load": 5 }]' }))).toEqual([
			'hand',
			'pony',
			'dog'
		]);
	});

	test('stay where a copy is not exact, and the snag says where it differs', () => {
		const stack = stackOf({ 'carts.out.json': '[{ "id": "dog", "load": 6 }, { "id": "cat", "load": 1 }]' });
		expect(ids(stack)).toEqual(['hand', 'pony', 'dog']);
		expect(out(stack).map(({ message, severity }) => [severity, message])).toEqual([
			['note', expect.stringContaining('load is `5` there and not `6`')],
			['note', expect.stringContaining('there is no record of this id')]
		]);
		expect(out(stackOf({ 'carts.out.json': '[{ "id": "pony", "load": 20 }]' }))[0]!.message).toContain(
			'has more fields'
		);
	});

	test('what refers to one that is gone is a snag as for any other', () => {
		const rules = checkStack(stackOf({ 'carts.out.json': '[{ "id": "hand", "load": 10 }]' })).map(
			({ rule }) => rule
		);
		expect(rules).toContain('missing-reference');
	});
});

describe('my mod takes one out', () => {
	const go = (stack: Stack, intention: Intention) => {
		const plan = planFor(stack, intention, 'mine');
		const before = myFiles(stack);
		expect(applyPlan(applyPlan(before, plan), invertPlan(before, plan))).toEqual(before);
		return { plan, after: stackAfter(stack, plan) };
	};
	const text = (stack: Stack, path: string) => {
		const file = myFiles(stack).get(path);
		return file ? (contentOf(file) as string) : null;
	};

	test('with an exact copy, the counter and a word on it; and brings it back', () => {
		const { plan, after } = go(stackOf({}), { do: 'remove', kind: 'cart', id: 'dog' });
		expect(JSON.parse(text(after, 'carts.out.json')!)).toEqual([{ id: 'dog', load: 5 }]);
		expect(ids(after)).toEqual(['hand', 'pony']);
		expect(after.tables.get('total')!.byId.get('all')!.value('carts')).toBe('2');
		expect(plan.title).toBe('Remove dog from the game');
		expect(plan.notes.join(' ')).toContain('by an exact copy');
		expect(out(after)).toEqual([]);
		const { after: again } = go(after, { do: 'back', kind: 'cart', id: 'dog' });
		expect(ids(again).sort()).toEqual(['dog', 'hand', 'pony']);
		expect(text(again, 'carts.out.json')).toBe(null);
		expect(again.tables.get('total')!.byId.get('all')!.value('carts')).toBe('3');
	});

	test('every version of it where several layers have one', () => {
		const stack = stackOf({ 'carts.json': '[\n\t{ "id": "dog", "load": 7 }\n]\n' });
		const { after } = go(stack, { do: 'remove', kind: 'cart', id: 'dog' });
		expect(JSON.parse(text(after, 'carts.out.json')!)).toHaveLength(2);
		expect(ids(after)).toEqual(['hand', 'pony']);
		expect(checkStack(after).filter(({ rule }) => rule === 'duplicate-id')).toEqual([]);
		expect(ids(go(after, { do: 'back', kind: 'cart', id: 'dog' }).after)).toContain('dog');
	});

	test('and settles those who name it', () => {
		const settle = { how: 'point', to: 'dog' } as const;
		const { after, plan } = go(stackOf({}), { do: 'remove', kind: 'cart', id: 'hand', settle });
		expect(after.tables.get('cart')!.byId.get('pony')!.value('next')).toBe('dog');
		expect(plan.values.some(({ by }) => by === 'reference')).toBe(true);
		const left = go(stackOf({}), { do: 'remove', kind: 'cart', id: 'hand' }).plan;
		expect(left.notes.join(' ')).toContain('1 field refers to it and will refer to nothing');
	});

	test('and one that is renamed leaves nothing of its old id but the copy that takes it out', () => {
		const { after, plan } = go(stackOf({}), { do: 'rename', kind: 'cart', id: 'hand', newId: 'barrow' });
		expect(ids(after).sort()).toEqual(['barrow', 'dog', 'pony']);
		expect(after.tables.get('cart')!.byId.get('pony')!.value('next')).toBe('barrow');
		expect(plan.title).toBe('Rename hand: hand to barrow, with 1 field that names it');
		expect(out(after)).toEqual([]);
	});

	test('where the game has no such files it is refused; what is not taken out cannot come back', () => {
		expect(() => go(stackOf({}), { do: 'remove', kind: 'wheel', id: 'oak' })).toThrow(/never edited/);
		expect(() => go(stackOf({}), { do: 'back', kind: 'cart', id: 'dog' })).toThrow(/does not remove dog/);
	});

	test('one that takes nothing out is a snag, and its repair leaves the record where it is', () => {
		const stack = stackOf({}, { 'carts.out.json': '[\n\t{ "id": "dog", "load": 6 }\n]\n' });
		const [snag] = out(stack);
		expect(snag!.severity).toBe('warns');
		const [repair] = repairsFor(stack, snag!);
		const { after } = go(stack, repair!.intention);
		expect(out(after)).toEqual([]);
		expect(ids(after)).toEqual(['hand', 'pony', 'dog']);
	});
});
