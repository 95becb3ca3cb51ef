// Records that have several ids, in a list under the key: each of them names the record, the first is its own.
import { describe, expect, test } from 'vitest';
import { planFor, stackAfter, type Intention } from '$core/edits';
import { guideToYaml, parseGuide } from '$core/guide';
import { buildLinks, linksTo } from '$core/links';
import { recordNamed, type Stack } from '$core/stack';
import { json, snagsOf, stackOf } from './unknown';

const names = [
	'fog',
	'gale',
	'calm',
	'squall',
	'haze',
	'sleet',
	'hail',
	'swell',
	'drift',
	'thaw',
	'frost',
	'rime'
];

/** Of twelve calls three answer to a second id. */
const calls = names.map((name, nth) => ({
	id: nth % 4 === 1 ? [name, `${name}_again`] : name,
	says: `What is said of ${name} at hour ${nth}.`,
	weight: nth * 3
}));
const keepers = Array.from({ length: 10 }, (_, nth) => ({
	id: `keeper_${nth}`,
	hears: nth % 5 === 2 ? 'gale_again' : names[nth],
	knows: [names[(nth + 3) % 12], nth % 2 ? 'sleet_again' : names[(nth + 5) % 12]]
}));
const game = { 'data/calls.json': json(calls), 'data/keepers.json': json(keepers) };

const usersOf = (stack: Stack, id: string) =>
	linksTo(buildLinks(stack), stack.tables.get('calls')!.byId.get(id)!).map(
		({ from, field }) => `${from.id} ${field}`
	);

/** My files after a change. */
const after = (stack: Stack, intention: Intention): Record<string, string> =>
	Object.fromEntries(
		[...stackAfter(stack, planFor(stack, intention, 'mod')).mine!.files].map(([path, file]) => [
			path,
			new TextDecoder().decode(file.bytes())
		])
	);

describe('a list of ids under the key', () => {
	test('names the record by its first, and is told from the files', () => {
		const stack = stackOf(game);
		expect(stack.guide.kinds.calls).toMatchObject({ key: 'id', severalIds: true });
		expect([...stack.tables.get('calls')!.byId.keys()]).toEqual(names);
		expect(stack.guide.kinds.calls!.fields['id[]']?.reference).toBeUndefined();
		expect(snagsOf(stack)).toEqual([]);
	});

	test('is what the rest of the game refers to, each item of it', () => {
		const stack = stackOf(game);
		const { hears, ...others } = stack.guide.kinds.keepers!.fields;
		expect(hears!.reference).toMatchObject({ kinds: ['calls'] });
		expect(others['knows[]']!.reference).toMatchObject({ kinds: ['calls'] });
		expect(usersOf(stack, 'gale')).toEqual(
			expect.arrayContaining(['keeper_1 hears', 'keeper_2 hears', 'keeper_7 hears'])
		);
		const said = stackOf(game, {}, parseGuide(guideToYaml(stack.guide)));
		expect(usersOf(said, 'gale')).toEqual(usersOf(stack, 'gale'));
	});

	test('any of them is the record, for scripts too', () => {
		const calls = stackOf(game).tables.get('calls')!;
		expect(['gale', 'gale_again'].map((id) => recordNamed(calls, id)?.id)).toEqual(['gale', 'gale']);
		expect(recordNamed(calls, 'gale_agian')).toBeUndefined();
		const guide = parseGuide(
			'guide: 1\nkinds:\n  call: { title: Call, files: [data/calls.json], key: id, severalIds: true }\nscripts:\n  - { call: say, argument: 1, kinds: [call] }\n'
		);
		const asked = (id: string) =>
			snagsOf(stackOf(game, { 'day.lua': `say("${id}")\n` }, guide)).map(({ rule }) => rule);
		expect(asked('gale_again')).toEqual([]);
		expect(asked('gale_agian')).toEqual(['script-names']);
	});

	test('what is none of them is a snag in mine', () => {
		const mine = keepers.map((one) => ({
			...one,
			hears: one.hears === 'gale_again' ? 'gale_agian' : one.hears
		}));
		const snags = snagsOf(stackOf(game, { 'data/keepers.json': json(mine) }));
		const snag = snags.find(({ record, field }) => record === 'keeper_2' && field === 'hears');
		expect(snag).toMatchObject({ rule: 'missing-reference' });
		expect(snag!.candidates).toContain('gale_again');
	});

	test('a rename changes what refers to it by the first, and leaves the rest', () => {
		const mine = { 'data/calls.json': json(calls), 'data/keepers.json': json(keepers) };
		const stack = stackOf(game, mine);
		const { 'data/calls.json': renamed, 'data/keepers.json': users } = after(stack, {
			do: 'rename',
			kind: 'calls',
			id: 'gale',
			newId: 'storm'
		});
		expect(JSON.parse(renamed!)[1].id).toEqual(['storm', 'gale_again']);
		const heard = (JSON.parse(users!) as typeof keepers).map(({ hears }) => hears);
		expect(heard).toEqual(keepers.map(({ hears }) => (hears === 'gale' ? 'storm' : hears)));
	});

	test('a copy has an id of its own and none of the others', () => {
		const stack = stackOf(game);
		const { 'data/calls.json': copied } = after(stack, {
			do: 'copy',
			kind: 'calls',
			id: 'gale',
			newId: 'storm',
			names: {}
		});
		const storm = (JSON.parse(copied!) as typeof calls).at(-1)!;
		expect(storm).toEqual({ ...calls[1], id: ['storm'] });
		expect(snagsOf(stackOf(game, { 'data/calls.json': copied! }))).toEqual([]);
		const taken = { do: 'copy', kind: 'calls', id: 'fog', newId: 'gale_again', names: {} } as const;
		expect(() => planFor(stack, taken, 'mod')).toThrow('already used');
	});

	test('a first id that is written in its list is a rename, and stays the first', () => {
		const stack = stackOf(game, { 'data/calls.json': json(calls), 'data/keepers.json': json(keepers) });
		const set = (field: string, id: string): Intention => ({
			do: 'set',
			kind: 'calls',
			id,
			field,
			value: 'mist'
		});
		const renamed = (id: string) => after(stack, { do: 'rename', kind: 'calls', id, newId: 'mist' });
		expect(after(stack, set('id[0]', 'gale'))).toEqual(renamed('gale'));
		expect(after(stack, set('id', 'fog'))).toEqual(renamed('fog'));
		expect(after(stack, set('id[1]', 'gale'))['data/calls.json']).toContain('"mist"');
		const item = (at: number, change: object) => () =>
			after(stack, { do: 'item', kind: 'calls', id: 'gale', list: 'id', at, change } as Intention);
		for (const change of [{ how: 'insert', value: 'mist' }, { how: 'remove' }, { how: 'move', to: 1 }])
			expect(item(0, change)).toThrow('The first item is the id of gale');
		expect(item(1, { how: 'move', to: 0 })).toThrow('stays the first');
		expect(item(1, { how: 'insert', value: 'mist' })()['data/calls.json']).toContain('"mist"');
	});

	test('no id is written as one value of many', () => {
		const stack = stackOf(game);
		const field = 'id[0]';
		const values = [{ field, value: 'mist' }];
		for (const intention of [
			{ do: 'fill', kind: 'calls', id: 'gale', values, from: '' },
			{ do: 'cells', kind: 'calls', cells: [{ id: 'gale', field, value: 'mist' }] },
			{ do: 'change', kind: 'calls', ids: ['gale'], field, how: { by: 'set', value: 'mist' } },
			{ do: 'change', kind: 'keepers', ids: ['keeper_1'], field: 'id', how: { by: 'set', value: 'mist' } }
		] as Intention[])
			expect(() => after(stack, intention)).toThrow(/Rename the record instead/);
	});
});
