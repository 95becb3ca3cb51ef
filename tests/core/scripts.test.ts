// Scripts of a game: what it asks them for, who answers, which loads which, and a script of mine that nothing loads.
import { describe, expect, test } from 'vitest';
import { applyPlan } from '$core/change';
import { checkStack, repairsFor } from '$core/checks';
import { NotPossible, planFor, stackAfter } from '$core/edits';
import { buildLinks, eventsOf, loadingOf } from '$core/links';
import { fileContent } from '$core/stack';
import { GUIDE, stackOf } from './game';

const SCRIPTS = {
	'scripts/main.lua': '-- first\nload_script("carts")\nload_script("yard")\n',
	'scripts/carts.lua':
		'function on_load_hand(cart, day)\n\treturn weight(cart) * 2\nend\nfunction on_load_pony(cart, day)\nend\n',
	'scripts/yard.lua':
		'function weight(cart)\n\treturn 3\nend\nfunction on_day(day)\nend\nlocal function own()\nend\nfunction on_hour_1(day) end\nfunction on_hour_2(day) end\n'
};
const game = (mine: Record<string, string> = {}, base: Record<string, string> = {}) =>
	stackOf(mine, { ...SCRIPTS, ...base });
const loads = (stack: ReturnType<typeof game>) =>
	checkStack(stack, buildLinks(stack)).filter(({ rule }) => rule === 'script-loads');

test('a function for a record that is not there is a snag, with the nearest one', () => {
	const guide = `${GUIDE}events:\n  'on_load_{id}': { kind: cart, arguments: [{ name: cart, kinds: [cart] }] }\n  on_load_all: { when: Once. }\n`;
	const stack = stackOf(
		{
			'scripts/mine.lua':
				'function on_load_hant(cart)\nend\nfunction on_load_all() end\nfunction on_load_hand(cart) end\n'
		},
		SCRIPTS,
		guide
	);
	const snags = checkStack(stack, buildLinks(stack)).filter(({ rule }) => rule === 'script-names');
	expect(
		snags.map(({ severity, file, line, message, candidates }) => [
			severity,
			file,
			line,
			message,
			candidates[0]
		])
	).toEqual([
		[
			'warns',
			'scripts/mine.lua',
			1,
			'`scripts/mine.lua` defines `on_load_hant` on line 1, but there is no cart `hant`. The game never asks for it. Did you mean `hand`?',
			'hand'
		]
	]);
});

describe('what the game asks', () => {
	test('nothing that is commented out, over however many lines', () => {
		const stack = game(
			{},
			{
				'scripts/more.lua':
					'--[[ function on_old(day)\nfunction on_older(day) end ]] function on_new(day) end\n-- function on_never(day) end\n--[==[\n]]\nfunction on_none(day) end\n]==]\nlocal s = "--[[" function on_last(day) end\n'
			}
		);
		expect(
			eventsOf(stack)
				.map(({ name }) => name)
				.filter((name) => /old|new|never|none|last/.test(name))
		).toEqual(['on_last', 'on_new']);
	});
	test('functions that no script calls, by name, by the id of a record, by number', () => {
		expect(
			eventsOf(game()).map(({ name, kind, parameters, answers }) => [name, kind, parameters, answers.length])
		).toEqual([
			['on_day', null, ['day'], 1],
			['on_hour_{id}', null, ['day'], 2],
			['on_load_{id}', 'cart', ['cart', 'day'], 2]
		]);
	});
	test('who answers, by layer: a file of mine stands in for the one below it', () => {
		const stack = game({
			'scripts/yard.lua': 'function weight(cart) end\nfunction on_day(day) end\n',
			'scripts/more.lua': 'function on_day(day) end\n'
		});
		const [day] = eventsOf(stack);
		expect(day!.answers.map(({ layer, path, line }) => [layer.id, path, line])).toEqual([
			['mine', 'scripts/more.lua', 1],
			['mine', 'scripts/yard.lua', 2]
		]);
	});
});

describe('what loads what', () => {
	test('is found by a call whose texts name scripts, from the one that nothing loads', () => {
		const { call, entries, loads, unloaded, circles } = loadingOf(game());
		expect([call, entries, unloaded, circles]).toEqual(['load_script', ['scripts/main.lua'], [], []]);
		expect(loads.get('scripts/main.lua')!.map(({ line, path }) => [line, path])).toEqual([
			[2, 'scripts/carts.lua'],
			[3, 'scripts/yard.lua']
		]);
	});
	test('the untouched game has no snag of it, whatever it does', () => {
		expect(loads(game())).toEqual([]);
		expect(
			loads(game({}, { 'scripts/main.lua': `${SCRIPTS['scripts/main.lua']}load_script("gone")\n` }))
		).toEqual([]);
		expect(loads(game({}, { 'scripts/free.lua': 'x = f()\n' }))).toEqual([]);
	});
	test('mine that loads what is not there warns, with what may be meant', () => {
		const [snag, ...others] = loads(
			game({ 'scripts/main.lua': `${SCRIPTS['scripts/main.lua']}load_script("yart")\n` })
		);
		expect(others).toEqual([]);
		expect([snag!.severity, snag!.line, snag!.candidates[0]]).toEqual(['warns', 4, 'yard']);
	});
	test('scripts of mine that load each other are a note', () => {
		const [snag] = loads(
			game({
				'scripts/carts.lua': 'load_script("yard")\nfunction f() end\n',
				'scripts/yard.lua': 'load_script("carts")\nfunction g() end\n'
			})
		);
		expect([snag!.severity, snag!.message]).toEqual([
			'note',
			'`scripts/carts.lua` loads `scripts/yard.lua` loads `scripts/carts.lua`: the scripts load each other in a circle.'
		]);
	});
	test('mine that nothing loads warns, and is loaded by a line like those of its neighbours', () => {
		const stack = game({ 'scripts/mine.lua': 'function on_day(day) end\n' });
		const [snag] = loads(stack);
		expect([snag!.severity, snag!.file]).toEqual(['warns', 'scripts/mine.lua']);
		const [repair] = repairsFor(stack, snag!);
		const plan = planFor(stack, repair!.intention, 'm');
		const after = applyPlan(
			new Map([...stack.mine!.files].map(([path, file]) => [path, fileContent(file)])),
			plan
		);
		expect((after.get('scripts/main.lua') as { text: string }).text).toBe(
			'-- first\nload_script("carts")\nload_script("yard")\nload_script("mine")\n'
		);
		const next = stackAfter(stack, plan);
		expect(loads(next)).toEqual([]);
		expect(() => planFor(next, repair!.intention, 'm')).toThrow('is loaded already');
		expect(() => planFor(stack, { do: 'load', path: 'scripts/none.lua' }, 'm')).toThrow(NotPossible);
	});
	test('where the game has scripts that nothing loads, mine may be such too', () => {
		expect(
			loads(
				game(
					{ 'scripts/mine.lua': 'function on_day(day) end\n' },
					{ 'scripts/free.lua': 'function z() end\n' }
				)
			)
		).toEqual([]);
	});
});

describe('a script that is named after a record', () => {
	const MAIN = 'load_script("cart_hand")\nload_script("cart_pony")\n';
	const base = {
		'scripts/main.lua': MAIN,
		'scripts/cart_hand.lua': 'function f() end\n',
		'scripts/cart_pony.lua': 'function g() end\n'
	};
	const guide = GUIDE.replace(
		'    fault: skips\n',
		"    fault: skips\n    assets: [{ label: Script, path: 'scripts/cart_{id}.lua' }]\n"
	);
	const told = `${guide}loader: load_script\n`;
	const copy = { do: 'copy' as const, kind: 'cart', id: 'pony', newId: 'mule', names: {} };
	const main = (stack: ReturnType<typeof game>) => stack.mine!.files.get('scripts/main.lua')?.text?.text;

	test('is loaded behind its model when it is copied, and no more when the copy is removed', () => {
		const stack = stackOf({}, base, told);
		const copied = stackAfter(stack, planFor(stack, copy, 'm'));
		expect(main(copied)).toBe(`${MAIN}load_script("cart_mule")\n`);
		expect(loads(copied)).toEqual([]);
		const renamed = stackAfter(
			copied,
			planFor(copied, { do: 'rename', kind: 'cart', id: 'mule', newId: 'ass' }, 'm')
		);
		expect(main(renamed)).toBe(`${MAIN}load_script("cart_ass")\n`);
		expect(loads(renamed)).toEqual([]);
		const removed = stackAfter(renamed, planFor(renamed, { do: 'remove', kind: 'cart', id: 'ass' }, 'm'));
		expect(main(removed)).toBe(undefined);
	});
	test('where the call was only detected, nothing is written unless it is asked for', () => {
		const stack = stackOf({}, base, guide);
		const plan = planFor(stack, copy, 'm');
		expect(plan.detected).toEqual([{ by: 'script', count: 1 }]);
		expect(main(stackAfter(stack, plan))).toBe(undefined);
		const asked = planFor(stack, { ...copy, including: ['script'] }, 'm');
		expect(main(stackAfter(stack, asked))).toBe(`${MAIN}load_script("cart_mule")\n`);
	});
	test('by its name in quotes, whatever else of the line looks like it', () => {
		const stack = stackOf(
			{ 'ad/pad.lua': 'function h() end\n' },
			{
				'main.lua': 'load_script("ad/load") -- load\nload_script("ad/ad")\n',
				'ad/load.lua': 'x = f()\n',
				'ad/ad.lua': 'x = f()\n'
			},
			told
		);
		const loaded = stackAfter(stack, planFor(stack, { do: 'load', path: 'ad/pad.lua' }, 'm'));
		expect(loaded.mine!.files.get('main.lua')!.text!.text).toBe(
			'load_script("ad/load") -- load\nload_script("ad/ad")\nload_script("ad/pad")\n'
		);
	});
});

describe('an answer to an event', () => {
	const guide = `${GUIDE}loader: load_script\nevents:\n  on_day: { when: Every day., arguments: [{ name: day, min: 1, max: 28 }], returns: true ends it. }\n  'on_load_{id}': { kind: cart, arguments: [{ name: cart, kinds: [cart] }, { name: day }] }\n`;
	const answered = (asked: object, base: Record<string, string> = SCRIPTS) => {
		const stack = stackOf({}, base, guide);
		const plan = planFor(stack, { do: 'answer', ...asked } as never, 'm');
		const after = stackAfter(stack, plan);
		const text = (path: string) => (fileContent(after.mine!.files.get(path)!) as { text: string }).text;
		return { plan, after, text };
	};
	test('calls what answered before, is for whom it is asked, and is loaded after its neighbours', () => {
		const { text, after, plan } = answered({ event: 'on_day' });
		expect(text('scripts/on_day.lua')).toBe(
			'-- Every day.\n-- day: 1 to 28\n-- Returns: true ends it.\nlocal before = on_day\nfunction on_day(day)\n\t\n\treturn before(day)\nend\n'
		);
		expect(text('scripts/main.lua')).toMatch(/load_script\("yard"\)\nload_script\("on_day"\)\n$/);
		expect(loadingOf(after).unloaded).toEqual([]);
		expect(plan.notes.join(' ')).toContain('Only the last function with a name counts');
		expect(checkStack(after, buildLinks(after)).filter(({ file }) => file.startsWith('scripts/'))).toEqual(
			[]
		);
	});
	test('for one record, or for those with a value', () => {
		expect(
			answered({ event: 'on_load_{id}', of: 'pony', id: 'pony' }).text('scripts/on_load_pony.lua')
		).toContain('\tif cart.id == "pony" then\n\t\t\n\tend\n');
		const some = answered({ event: 'on_load_{id}', of: 'pony', field: 'load', value: '20' });
		expect(some.text('scripts/on_load_pony.lua')).toContain('if cart.load == 20 then');
		expect(() => answered({ event: 'on_day', id: 'pony' })).toThrow(/not known which record/);
		expect(() => answered({ event: 'on_load_{id}' })).toThrow(/Choose the record that on_load_/);
		expect(() => answered({ event: 'on_load_{id}', of: 'a b' })).toThrow(/cannot be part of the name/);
		expect(() => answered({ event: 'on_none' })).toThrow(/speak of an event on_none/);
	});
});
