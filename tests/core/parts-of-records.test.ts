// Lists, blocks, lines without a name, folders and the mod's own name: each done, seen, and undone byte for byte.
import { beforeAll, describe, expect, test } from 'vitest';
import { applyPlan, bytesOf, invertPlan, type Files, type Plan } from '$core/change';
import { checkStack } from '$core/checks';
import { myFiles, NotPossible, planFor, stackAfter, type Intention } from '$core/edits';
import { parseGuide } from '$core/guide';
import { buildLinks } from '$core/links';
import { assembleStack } from '$core/model';
import { buildStack, identityOf, missingParts, isOptional, valueOf, type Stack } from '$core/stack';
import { demoScene } from './scenes';

let stack: Stack;
beforeAll(async () => {
	const { layers, guide, pool } = await demoScene();
	stack = buildStack(layers, guide, pool);
});

const textOf = (files: Files, path: string) => new TextDecoder().decode(bytesOf(files.get(path)!));
const bytesIn = (files: Files) => [...files].map(([path, file]) => [path, [...bytesOf(file)]]);

/** Plans, applies, and sees that the way back restores every byte. */
function done(intention: Intention, on = stack): { plan: Plan; files: Files; now: Stack } {
	const plan = planFor(on, intention, 'longline');
	const files = myFiles(on);
	const after = applyPlan(files, plan);
	expect(bytesIn(applyPlan(after, invertPlan(files, plan)))).toEqual(bytesIn(files));
	return { plan, files: after, now: stackAfter(on, plan) };
}
const record = (kind: string, id: string, on = stack) => on.tables.get(kind)!.byId.get(id)!;
const list = (kind: string, id: string, path: string, on: Stack) =>
	[...record(kind, id, on).values].filter(([field]) => field.startsWith(path)).map(([, { value }]) => value);

describe('a block', () => {
	const part = (change: Extract<Intention, { do: 'part' }>['change'], path = 'successor'): Intention => ({
		do: 'part',
		kind: 'station',
		id: 'tar_row',
		path,
		change
	});
	test('is taken out, is missing then, and comes back like that of another', () => {
		const gone = done(part({ how: 'remove' }));
		expect(gone.plan.title).toBe('Remove successor from Tar Row');
		expect(textOf(gone.files, 'data/stations/tar_row.toml')).not.toContain('[successor]');
		expect(list('station', 'tar_row', 'deputy', gone.now)).toHaveLength(3);
		expect(
			missingParts(record('station', 'tar_row', gone.now)).map(({ path, shape }) => [path, shape])
		).toEqual([['successor', 'block']]);
		expect(isOptional(gone.now.tables.get('station')!, 'successor')).toBe(true);
		const back = done(part({ how: 'add', like: 'bell_yard' }), gone.now);
		expect(back.plan.title).toBe('Add successor to Tar Row, like Bell Yard');
		expect(list('station', 'tar_row', 'successor', back.now)).toEqual(
			list('station', 'bell_yard', 'successor', stack)
		);
		expect(textOf(back.files, 'data/stations/tar_row.toml')).toMatch(/\[deputy\][\s\S]*\[successor\]/);
	});
	test('changes places with another', () => {
		const { files } = done(part({ how: 'move', to: 'keeper' }, 'deputy'));
		expect(textOf(files, 'data/stations/tar_row.toml')).toMatch(
			/\[deputy\][\s\S]*\[keeper\][\s\S]*\[successor\]/
		);
	});
	test('that is there, or nowhere, is refused in words', () => {
		expect(() => done(part({ how: 'add', like: 'bell_yard' }))).toThrow(/Tar Row has “successor” already/);
		expect(() => done(part({ how: 'remove' }, 'steward'))).toThrow(/has no “steward”/);
		expect(() => done(part({ how: 'add', like: 'bell_yard' }, 'steward'))).toThrow(NotPossible);
	});
});

describe('a list', () => {
	const item = (change: Extract<Intention, { do: 'item' }>['change'], at = 0): Intention => ({
		do: 'item',
		kind: 'deck_gear',
		id: 'boom_short',
		list: 'effect',
		at,
		change
	});
	test('of nested records gets one more, and its twin too', () => {
		const { plan, now } = done(item({ how: 'copy' }));
		expect(list('deck_gear', 'boom_short', 'effect', now)).toHaveLength(4);
		expect(list('cold_deck_gear', 'boom_short', 'effect', now)).toHaveLength(4);
		expect(plan.values.filter(({ by }) => by === 'twin')).toHaveLength(1);
	});
	test('that is empty is filled after the model of another', () => {
		const { now: empty } = done(item({ how: 'remove' }));
		expect(list('deck_gear', 'boom_short', 'effect', empty)).toEqual([]);
		const part: Intention = {
			do: 'part',
			kind: 'deck_gear',
			id: 'boom_short',
			path: 'effect',
			change: { how: 'add', like: 'boom_long' }
		};
		const { now } = done(part, empty);
		expect(list('deck_gear', 'boom_short', 'effect', now)).toEqual(
			list('deck_gear', 'boom_long', 'effect', empty)
		);
	});
});

describe('a line without a name', () => {
	test('gets another like it right behind it, and the count follows', () => {
		const { files, now, plan } = done({ do: 'another', kind: 'spawn', id: 'knot/01-14#3' });
		const path = 'data/bays/knot/spawns/01-14.lst';
		const before = record('spawn', 'knot/01-14#3').presences[0]!.doc;
		expect(now.tables.get('spawn')!.count).toBe(stack.tables.get('spawn')!.count + 1);
		const text = new TextDecoder('shift_jis').decode(bytesOf(files.get(path)!));
		expect(text.split('\n')[0]).toMatch(new RegExp(`^${before.records.length + 1} `));
		expect(text.split('\n')[4]).toBe(text.split('\n')[3]);
		expect(plan.values[0]).toMatchObject({ kind: 'spawn', id: 'knot/01-14#4' });
	});
	test('moves to another folder by the field that is made from it', () => {
		const set: Intention = {
			do: 'set',
			kind: 'spawn',
			id: 'knot/01-14#3',
			field: '#folder',
			value: 'dunlin'
		};
		const { now } = done(set);
		const count = (id: string, on: Stack) =>
			on.tables.get('spawn')!.records.filter((one) => valueOf(one, '#folder') === id).length;
		expect([count('knot', now), count('dunlin', now)]).toEqual([
			count('knot', stack) - 1,
			count('dunlin', stack) + 1
		]);
	});
	test('moves to another file by the field that is made from it', () => {
		const set: Intention = { do: 'set', kind: 'spawn', id: 'knot/01-14#3', field: '#file', value: '15-28' };
		expect(valueOf(record('spawn', 'knot/01-14#3'), '#file')).toBe('01-14');
		const { now } = done(set);
		const count = (file: string, on: Stack) =>
			on.tables
				.get('spawn')!
				.records.filter((one) => valueOf(one, '#folder') === 'knot' && valueOf(one, '#file') === file).length;
		expect([count('01-14', now), count('15-28', now)]).toEqual([
			count('01-14', stack) - 1,
			count('15-28', stack) + 1
		]);
		const column = now.tables.get('spawn')!.column('#file');
		expect(new Set(Array.from(column, (text) => now.pool.at(text)))).toEqual(new Set(['01-14', '15-28']));
	});
	test('that has an id is told to be copied as new', () => {
		expect(() => done({ do: 'another', kind: 'lane', id: 'knot_1' })).toThrow(/copy it as new/);
	});
});

test('a copied folder: ids of its own, references among the copies, a script that speaks of the copy', () => {
	const copy: Intention = {
		do: 'copy',
		kind: 'bay',
		id: 'knot',
		newId: 'avocet',
		names: { en: 'Amber Hole' },
		ids: { 'lane/knot_2': 'the_bend' }
	};
	const { files, now } = done(copy);
	expect(list('lane', 'knot_1', 'next', now)).toEqual(['knot_2']);
	expect(list('lane', 'avocet_1', 'next', now)).toEqual(['the_bend']);
	expect(list('lane', 'avocet_5', 'next', now)).toEqual(['avocet_1']);
	expect(textOf(files, 'scripts/bay_avocet.lua')).toContain('on_enter_avocet');
	expect(textOf(files, 'scripts/bay_avocet.lua')).not.toContain('knot');
	const snags = (on: Stack) => checkStack(on, buildLinks(on)).map(({ id }) => id);
	const known = new Set(snags(stack));
	expect(snags(now).filter((id) => !known.has(id))).toEqual([]);
	expect(() => done({ ...copy, ids: { 'lane/knot_2': 'knot_3' } })).toThrow(/“knot_3” is already used/);
});

test('who the mod is, is written into its file and read back', () => {
	const identity = {
		...identityOf(stack, 'longline'),
		version: '0.4.0',
		description: 'More boats.',
		after: ['ice_season']
	};
	const { files, now, plan } = done({ do: 'identify', identity });
	expect(identityOf(now, 'longline')).toEqual(identity);
	expect(JSON.parse(textOf(files, 'mod.json'))).toMatchObject({ version: '0.4.0', after: ['ice_season'] });
	expect(plan.title).toBe('Set the mod’s details: Longline 0.4.0');
	expect(() => done({ do: 'identify', identity: { ...identity, name: '../up' } })).toThrow(
		/cannot be the name of a folder/
	);
	const { now: less } = done({ do: 'identify', identity: { ...identity, after: [], description: '' } }, now);
	expect(identityOf(less, 'longline')).toMatchObject({ after: [], description: '' });
});

test('a copied script speaks of the copy where the id is surely meant; its words and numbers stay', () => {
	const bytes = (files: Record<string, string>) =>
		new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));
	const script = 'if mark == "end" then go(bag_end, 7.5, "7") end -- the end of 7\n';
	const small = assembleStack(
		[
			{
				id: 'base',
				title: 'Base',
				owner: 'game',
				files: bytes({ 'bags.tsv': 'id\tsize\nend\t4\n7\t6\n', 's/end.lua': script, 's/7.lua': script })
			},
			{ id: 'mine', title: 'Mine', owner: 'me', files: new Map() }
		],
		parseGuide(
			"guide: 1\nkinds: { bag: { title: Bag, files: [bags.tsv], key: id, merge: record, assets: [{ label: Script, path: 's/{id}.lua' }] } }"
		)
	);
	const copied = (id: string, newId: string) =>
		textOf(done({ do: 'copy', kind: 'bag', id, newId, names: {} }, small).files, `s/${newId}.lua`);
	expect(copied('end', 'tip')).toBe('if mark == "tip" then go(bag_tip, 7.5, "7") end -- the end of 7\n');
	expect(copied('7', '8')).toBe('if mark == "end" then go(bag_end, 7.5, "8") end -- the end of 7\n');
});
