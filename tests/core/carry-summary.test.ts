// What a version changed, told by kind and field; and of that, what concerns a mod.
import { expect, test } from 'vitest';
import { changesBetween, concernsOf, summaryOf } from '$core/carry';
import { parseGuide } from '$core/guide';
import { buildLinks } from '$core/links';
import { assembleStack } from '$core/model';

const guide = parseGuide(`guide: 1
kinds:
  boat: { title: Boat, files: ['boats.csv'], key: id, merge: record }
  crew:
    title: Crew
    files: ['crew.csv']
    key: id
    merge: record
    fields: { boat: { type: reference, reference: { kinds: [boat] } } }
`);
const bytes = (files: Record<string, string>) =>
	new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));
const stackOf = (files: Record<string, string>, mod: Record<string, string> = {}) =>
	assembleStack(
		[
			{ id: 'base', title: 'Base', owner: 'game', files: bytes(files) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytes(mod) }
		],
		guide
	);
const OLD = {
	'boats.csv': 'id,hull,speed,home\ntug,100,10,quay\nraft,200,0,quay\nsloop,50,20,pier\nyawl,10,5,pier\n',
	'crew.csv': 'id,boat,pay\nmate,tug,3\ncook,raft,2\nbosun,sloop,4\n',
	'a.lua': '-- a\n',
	'b.lua': '-- b\n'
};
const NEW = {
	'boats.csv': 'id,hull,speed,home\ntug,110,10,dock\nraft,240,4,quay\nsloop,45,20,pier\nketch,9,9,pier\n',
	'crew.csv': 'id,boat,pay\nmate,tug,3\ncook,raft,2\nbosun,sloop,5\n',
	'a.lua': '-- a, again\n',
	'b.lua': '-- b, again\n'
};
const changes = changesBetween(stackOf(OLD), stackOf(NEW));

test('by kind: how many, how far values went, gone first', () => {
	const { kinds, files } = summaryOf(changes);
	expect(kinds.map(({ kind, counts }) => [kind, counts])).toEqual([
		['boat', { gone: 1, renamed: 0, moved: 0, changed: 3, new: 1 }],
		['crew', { gone: 0, renamed: 0, moved: 0, changed: 1, new: 0 }]
	]);
	const [boat] = kinds;
	expect(boat!.records.map(({ record, what }) => `${record} ${what}`)).toEqual([
		'yawl gone',
		'tug changed',
		'raft changed',
		'sloop changed',
		'ketch new'
	]);
	const [hull, ...others] = boat!.values;
	expect(hull).toMatchObject({ path: 'hull', count: 3 });
	expect(hull!.middle).toBeCloseTo(0.1);
	expect(hull!.range!.map((share) => Math.round(share * 100))).toEqual([-10, 20]);
	// Of what was nothing before, and of words, no share is told.
	expect(others.map(({ path, count, middle }) => [path, count, middle])).toEqual([
		['home', 1, null],
		['speed', 1, null]
	]);
	expect(files.map(({ path }) => path)).toEqual(['a.lua', 'b.lua', 'boats.csv', 'crew.csv']);
});

test('what concerns my mod: what it changes, what that refers to, its files', () => {
	const mine = stackOf(OLD, { 'crew.csv': 'id,boat,pay\nmate,tug,9\n', 'b.lua': '-- mine\n' });
	const { kinds, files } = summaryOf(changes, concernsOf(mine, buildLinks(mine)));
	expect(kinds.map(({ kind, records }) => [kind, records.map(({ record }) => record)])).toEqual([
		['boat', ['tug']]
	]);
	expect(files.map(({ path }) => path)).toEqual(['b.lua', 'crew.csv']);
	const copied = stackOf(OLD, { 'crew.csv': 'id,boat,pay\nbosun,sloop,4\n' });
	expect(summaryOf(changes, concernsOf(copied, buildLinks(copied))).kinds).toEqual([]);
});
