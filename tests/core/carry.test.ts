// What a new version of a game changed: beside updates of which every change is known.
import { describe, expect, test } from 'vitest';
import { changesBetween } from '$core/carry';
import { parseGuide } from '$core/guide';
import { assembleStack } from '$core/model';
import type { Stack } from '$core/stack';
import { randomBy } from '../random';

const GUIDE = parseGuide(`guide: 1
kinds:
  boat: { title: Boat, files: ['data/boats/*.json'], key: id, at: '' }
  crew: { title: Crew, files: ['data/crew/*.csv'], key: id }
`);

const stackOf = (files: Record<string, string>): Stack =>
	assembleStack(
		[
			{
				id: 'base',
				title: 'Base',
				owner: 'game',
				files: new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]))
			}
		],
		GUIDE
	);

interface Thing {
	id: string;
	file: number;
	fields: Record<string, string>;
}
const WORDS =
	'amber barge cinder dusk ember fathom gale harbour inlet jetty keel lamp mast net oar pier'.split(' ');

function game(random: () => number) {
	const word = () => WORDS[Math.floor(random() * WORDS.length)]!;
	const number = (most: number) => String(Math.floor(random() * most));
	const make = (stem: string, fields: () => Record<string, string>): Thing[] =>
		Array.from({ length: 60 }, (_, nth) => ({
			id: `${stem}_${word()}_${nth}`,
			file: nth % 3,
			fields: fields()
		}));
	return {
		boat: make('boat', () => ({
			hull: number(200),
			speed: number(40),
			tow: number(30),
			engine: `${word()}_${number(6)}`,
			harbour: word(),
			draft: `1.${number(99)}`,
			deep: number(2)
		})),
		crew: make('crew', () => ({
			pay: number(90),
			nerve: number(60),
			station: word(),
			boat: `boat_${number(60)}`,
			watch: number(4)
		}))
	};
}
type Game = ReturnType<typeof game>;

function filesOf({ boat, crew }: Game, spaces: number): Record<string, string> {
	const files: Record<string, string> = {};
	for (let nth = 0; nth < 3; nth++) {
		const boats = boat.filter(({ file }) => file === nth).map(({ id, fields }) => ({ id, ...fields }));
		files[`data/boats/${nth}.json`] = JSON.stringify(boats, null, spaces);
		const people = crew.filter(({ file }) => file === nth);
		const columns = Object.keys(crew[0]!.fields);
		files[`data/crew/${nth}.csv`] = [
			['id', ...columns].join(','),
			...people.map(({ id, fields }) => [id, ...columns.map((column) => fields[column])].join(','))
		].join('\n');
	}
	return files;
}

/** The next version, with what was done to it. */
function update(old: Game, random: () => number) {
	const next: Game = structuredClone(old);
	const truth = {
		fields: new Map<string, string>(),
		renamed: new Map<string, string>(),
		gone: new Set<string>(),
		added: new Set<string>(),
		moved: new Set<string>()
	};
	const prefix = random() < 0.3 ? 'core_' : null;
	for (const kind of ['boat', 'crew'] as const) {
		const list = next[kind];
		for (const thing of [...list]) {
			const dice = random();
			const was = thing.id;
			if (dice < 0.05) {
				list.splice(list.indexOf(thing), 1);
				truth.gone.add(`${kind} ${was}`);
				continue;
			}
			if (dice < 0.15 || prefix) {
				thing.id = prefix
					? prefix + was
					: `${kind}_${WORDS[Math.floor(random() * WORDS.length)]}_x${Math.floor(random() * 1e6)}`;
				truth.renamed.set(`${kind} ${was}`, thing.id);
			} else if (dice < 0.22) {
				thing.file = (thing.file + 1) % 3;
				truth.moved.add(`${kind} ${was}`);
			}
			for (const field of Object.keys(thing.fields))
				if (random() < 0.08) thing.fields[field] = String(Math.floor(random() * 300));
		}
		for (let nth = 0; nth < 4; nth++) {
			const model = list[Math.floor(random() * list.length)]!;
			const id = `${kind}_new_${nth}_${Math.floor(random() * 1e6)}`;
			// Made after another one, with most of it changed, as makers do.
			const fields = Object.fromEntries(
				Object.entries(model.fields).map(([field, value]) => [
					field,
					random() < 0.7 ? String(Math.floor(random() * 400)) : value
				])
			);
			list.push({ id, file: 0, fields });
			truth.added.add(`${kind} ${id}`);
		}
		if (random() < 0.7) {
			const names = Object.keys(list[0]!.fields);
			const from = names[Math.floor(random() * names.length)]!;
			truth.fields.set(`${kind} ${from}`, `${from}_v2`);
			for (const thing of list)
				thing.fields = Object.fromEntries(
					Object.entries(thing.fields).map(([name, value]) => [name === from ? `${from}_v2` : name, value])
				);
		}
		list.sort(() => random() - 0.5);
	}
	return { next, truth };
}

const ratio = (right: number, all: number) => (all === 0 ? 1 : right / all);

describe('what a new version changed', () => {
	test('fifty updates of which every change is known: renamed records and fields, gone, new, moved, changed values', () => {
		const found = { recordsRight: 0, records: 0, truthRecords: 0, fieldsRight: 0, fields: 0, truthFields: 0 };
		for (let seed = 1; seed <= 50; seed++) {
			const random = randomBy(seed);
			const old = game(random);
			const { next, truth } = update(old, random);
			const changes = changesBetween(stackOf(filesOf(old, 2)), stackOf(filesOf(next, 1)));
			for (const one of changes.fields) {
				if (one.what !== 'renamed') continue;
				found.fields++;
				if (truth.fields.get(`${one.kind} ${one.from}`) === one.to) found.fieldsRight++;
			}
			found.truthFields += truth.fields.size;
			const renamed = changes.records.filter(({ what }) => what === 'renamed');
			found.records += renamed.length;
			found.recordsRight += renamed.filter(
				({ kind, record, from }) => truth.renamed.get(`${kind} ${from!.record}`) === record
			).length;
			found.truthRecords += truth.renamed.size;
			// What kept its id is told exactly: values, files, and that it is gone.
			const told = new Map(
				changes.records.map((one) => [`${one.kind} ${one.from?.record ?? one.record}`, one])
			);
			for (const kind of ['boat', 'crew'] as const)
				for (const was of old[kind]) {
					const is = next[kind].find(({ id }) => id === was.id);
					if (!is) continue;
					const one = told.get(`${kind} ${was.id}`);
					const expected = Object.entries(was.fields).filter(
						([field, value]) => is.fields[truth.fields.get(`${kind} ${field}`) ?? field] !== value
					);
					const known = changes.fields.every((field) => field.kind !== kind || field.what === 'renamed');
					if (known)
						expect((one?.fields ?? []).map(({ old: value }) => value).sort(), `${seed} ${was.id}`).toEqual(
							expected.map(([, value]) => value).sort()
						);
					expect(one?.what === 'moved').toBe(is.file !== was.file);
				}
			for (const gone of truth.gone) expect(['gone', 'renamed']).toContain(told.get(gone)?.what);
		}
		expect(ratio(found.recordsRight, found.records)).toBeGreaterThanOrEqual(0.95);
		expect(ratio(found.recordsRight, found.truthRecords)).toBeGreaterThanOrEqual(0.9);
		expect(ratio(found.fieldsRight, found.fields)).toBeGreaterThanOrEqual(0.95);
		expect(ratio(found.fieldsRight, found.truthFields)).toBeGreaterThanOrEqual(0.9);
	});

	test('law: a version has changed nothing against itself, however it is written', () => {
		for (let seed = 1; seed <= 5; seed++) {
			const old = game(randomBy(seed));
			const { files, ...rest } = changesBetween(stackOf(filesOf(old, 2)), stackOf(filesOf(old, 0)));
			expect(rest).toEqual({ kinds: [], fields: [], records: [] });
			expect(files.every(({ what, path }) => what === 'changed' && path.endsWith('.json'))).toBe(true);
		}
	});

	test('files: new, gone, changed, and the same bytes under another path', () => {
		const { files } = changesBetween(
			stackOf({ 'art/a.svg': '<a/>', 'art/a2.svg': '<a/>', 'art/b.svg': '<b/>', 'read-me.txt': 'one' }),
			stackOf({ 'art/c.svg': '<a/>', 'read-me.txt': 'two', 'art/d.svg': '<d/>' })
		);
		expect(files).toEqual([
			{ path: 'art/a2.svg', what: 'gone' },
			{ path: 'art/b.svg', what: 'gone' },
			{ path: 'art/c.svg', what: 'moved', from: 'art/a.svg' },
			{ path: 'art/d.svg', what: 'new' },
			{ path: 'read-me.txt', what: 'changed' }
		]);
	});
});
