// What is said besides the files goes by the new names of a version, letter by letter, and nothing else of it changes.
import { expect, test } from 'vitest';
import { changesBetween, followedSayings, movesOf, type Sayings } from '$core/carry';
import { parseGuide } from '$core/guide';
import { assembleStack } from '$core/model';
import { optionsSchema } from '$core/options';

const GUIDE = `guide: 1
# Written by hand.
kinds:
  boat:
    title: Boat
    files: [data/boats.json]   # one file
    key: id
    at: ''
    budget: { title: Points, costs: { coldest: 2, speed: 1 }, most: 80 }
    texts: [ { label: Name, key: 'boat.{coldest}.name' } ]
    fields:
      coldest: { title: "Coldest", type: whole, max: 9 }
      'speed': { title: Speed }
recipes:
  quick:
    title: Quick
    blanks: { of: { title: Of, kind: boat, example: tug_1 } }
    steps:
      - { do: set, kind: boat, id: tug_1, field: coldest, value: '3' }
      - { do: set, kind: boat, id: '{of}', field: speed, value: tug_1 }
`;
const boats = (name: string, ids: (nth: number) => string) =>
	JSON.stringify(
		Array.from({ length: 30 }, (_, nth) => ({
			id: ids(nth),
			[name]: nth * 7 + 3,
			speed: nth * 11 + 1,
			hull: nth * 13
		}))
	);
const stackOf = (path: string, text: string, guide = GUIDE) =>
	assembleStack(
		[{ id: 'base', title: 'Base', owner: 'game', files: new Map([[path, new TextEncoder().encode(text)]]) }],
		parseGuide(guide)
	);

const SAYINGS: Sayings = {
	shared: null,
	mine: GUIDE,
	options: optionsSchema.parse([
		{ id: 'cold', title: 'Cold', cells: [{ kind: 'boat', id: 'tug_1', field: 'coldest', value: '3' }] },
		{ id: 'fast', title: 'Fast', cells: [{ kind: 'boat', id: 'tug_2', field: 'speed', value: '3' }] }
	]),
	notes: [
		{ on: { kind: 'boat', record: 'tug_1' }, nickname: 'old one', note: '' },
		{ on: { kind: 'boat', field: 'coldest' }, nickname: '', note: 'frost' },
		{ on: { kind: 'boat', record: 'tug_5', field: 'speed' }, nickname: '', note: 'slow' }
	]
};

const followed = (before: ReturnType<typeof stackOf>, after: ReturnType<typeof stackOf>) => {
	const changes = changesBetween(before, after);
	return followedSayings(SAYINGS, changes, movesOf(changes, after));
};

test('a field and a record under other names', () => {
	const before = stackOf(
		'data/boats.json',
		boats('coldest', (nth) => `tug_${nth}`)
	);
	const after = stackOf(
		'data/boats.json',
		boats('cold_start', (nth) => (nth === 1 ? 'pilot: one' : `tug_${nth}`))
	);
	const { sayings, words } = followed(before, after);
	expect(sayings.mine).toBe(
		GUIDE.replace('{ coldest: 2', '{ cold_start: 2')
			.replace('{coldest}', '{cold_start}')
			.replace('      coldest: {', '      cold_start: {')
			.replace('example: tug_1', 'example: "pilot: one"')
			.replace('id: tug_1, field: coldest', 'id: "pilot: one", field: cold_start')
	);
	expect(parseGuide(sayings.mine!).kinds.boat!.fields.cold_start).toMatchObject({ title: 'Coldest', max: 9 });
	expect(sayings.options.map(({ cells }) => cells[0])).toEqual([
		{ kind: 'boat', id: 'pilot: one', field: 'cold_start', value: '3' },
		{ kind: 'boat', id: 'tug_2', field: 'speed', value: '3' }
	]);
	expect(sayings.notes.map(({ on }) => on)).toEqual([
		{ kind: 'boat', record: 'pilot: one' },
		{ kind: 'boat', field: 'cold_start' },
		{ kind: 'boat', record: 'tug_5', field: 'speed' }
	]);
	expect(words).toEqual([
		'The field guide uses the new names: coldest → cold_start.',
		'1 option uses the new names.',
		'2 notes go along with what they are on.'
	]);
});

test('where nothing has another name, nothing changes', () => {
	const before = stackOf(
		'data/boats.json',
		boats('coldest', (nth) => `tug_${nth}`)
	);
	const { sayings, words } = followed(
		before,
		stackOf('data/boats.json', boats('coldest', (nth) => `tug_${nth}`).replace('"hull":13', '"hull":99'))
	);
	expect([sayings, words]).toEqual([SAYINGS, []]);
});

test('a file that lies elsewhere', () => {
	const text = boats('coldest', (nth) => `tug_${nth}`);
	const { sayings } = followed(stackOf('data/boats.json', text), stackOf('data/fleet/boats.json', text));
	expect(sayings.mine).toBe(GUIDE.replace('[data/boats.json]', '[data/fleet/boats.json]'));
});
