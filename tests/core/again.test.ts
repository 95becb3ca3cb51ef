// What a file says when it is read by hints, told from what it said without them: the same as reading it again.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
	createPool,
	factsAgain,
	fieldsAt,
	readsAlike,
	settleFacts,
	type Facts,
	type Pool
} from '$core/facts';
import type { PartHints, ReadHints } from '$core/formats';
import { EMPTY_GUIDE } from '$core/guide';
import { assembleStack } from '$core/model';
import { readFacts } from '$core/stack';
import { SAMPLES } from './samples';

const read = (path: string, text: string, hints: ReadHints, pool: Pool): Facts =>
	settleFacts(readFacts(path, new TextEncoder().encode(text), { hints })!, pool);

/** All that facts say, with texts instead of their numbers. */
function said(facts: Facts): unknown {
	const { pool, remarks, fieldRemarks, doubles, prose, ids, written, lines } = facts;
	const { format, letters, key, keyParts, columns, problems, habits, parts, told } = facts;
	const texts = (list: Int32Array, step: number, from: number) =>
		Array.from(list, (value, at) => (at % step >= from ? pool.at(value) : value));
	return {
		about: { format, letters, key, keyParts, at: String(facts.at), columns, problems, habits, parts, told },
		records: Array.from(ids, (id, nth) => [pool.at(id), written[nth], lines[nth], fieldsAt(facts, nth)]),
		remarks: texts(remarks, 2, 1),
		fieldRemarks: texts(fieldRemarks, 3, 2),
		doubles: [...doubles],
		prose: texts(prose, 2, 1)
	};
}

/** Whether the facts could be told anew; they are compared with those of a reading. */
function toldAgain(path: string, text: string, hints: ReadHints): boolean {
	const pool = createPool();
	const plain = read(path, text, {}, pool);
	const before = JSON.stringify(said(plain));
	const again = factsAgain(path, plain, hints);
	expect(JSON.stringify(said(plain)), 'the facts that it is told from are as they were').toBe(before);
	if (again) expect(said(again)).toEqual(said(read(path, text, hints, pool)));
	return again !== null;
}

const word = fc.constantFrom('gull', 'heron', 'tern', 'auk', '', '7');
const record = fc.record(
	{
		sort: fc.constantFrom('boat', 'light', 'boatyard', ''),
		id: fc.oneof(word, fc.integer({ min: 1, max: 5 }), fc.constant(null)),
		code: word,
		value: fc.integer({ min: 0, max: 3 }),
		crew: fc.array(fc.record({ id: word, hands: fc.integer({ min: 0, max: 9 }) }), { maxLength: 3 }),
		about: fc.record({ name: word, depth: fc.integer({ min: 0, max: 2 }) })
	},
	{ requiredKeys: [] }
);
const list = fc.array(record, { minLength: 3, maxLength: 9 });
const held = fc.oneof(list, fc.dictionary(fc.constantFrom('a', 'b', 'c', 'd', 'e'), record, { maxKeys: 5 }));
const file = fc.oneof(
	held,
	record,
	fc.record({ title: word, boats: held }),
	fc.record({ boats: list, lights: list, note: fc.record({ by: word }) }, { requiredKeys: ['boats'] }),
	fc.array(fc.dictionary(fc.constantFrom('a', 'b', 'c', 'd', 'e'), record, { minKeys: 1, maxKeys: 1 }), {
		maxLength: 6
	})
);

const where = fc.record(
	{
		field: fc.constantFrom('sort', 'id', 'about.name', 'crew[0].id', 'value'),
		is: fc.array(fc.constantFrom('boat', 'light', 'gull', '7', '', '1'), { minLength: 1, maxLength: 2 }),
		begins: fc.constant(true as const)
	},
	{ requiredKeys: ['field', 'is'] }
);
/** Some of what is said of records; seldom where they stand, which most files show themselves. */
const part = fc
	.record(
		{
			key: fc.constantFrom('id', 'code', 'sort', 'about.name', 'value', 'missing'),
			spare: fc.constantFrom('code', 'sort', 'missing'),
			id: fc.constant('docks'),
			prefix: fc.constant('docks'),
			where,
			place: fc.constantFrom<PartHints[]>(
				{},
				{},
				{},
				{},
				{ at: '' },
				{ at: 'boats' },
				{ at: 'lights' },
				{ at: null },
				{ at: null, except: ['boats', 'lights'] }
			)
		},
		{ requiredKeys: [] }
	)
	.map(({ place, ...others }): PartHints => ({ ...others, ...place }));
const hints = fc.oneof(
	part.map(({ where: _, ...only }): ReadHints => ({ ...only, whole: true })),
	fc.array(part, { minLength: 1, maxLength: 4 }).map((parts): ReadHints => ({ parts }))
);

describe('a file read by hints, from what it said without them', () => {
	test('says what it says when it is read again, however it is nested', () => {
		let told = 0;
		let all = 0;
		fc.assert(
			fc.property(file, hints, fc.constantFrom('json', 'yaml'), (data, hints, ending) => {
				all++;
				// What is JSON is YAML as well.
				if (toldAgain(`data/docks.${ending}`, JSON.stringify(data, null, '\t'), hints)) told++;
			}),
			{ numRuns: process.env.SOAK ? 30_000 : 1000 }
		);
		expect(told / all).toBeGreaterThan(0.15);
	});

	test('is the same where it is said besides where its records were found', () => {
		let told = 0;
		const compare = (path: string, text: string, was: ReadHints) => {
			const pool = createPool();
			const facts = read(path, text, was, pool);
			const now: ReadHints = { ...was, ...(facts.at === undefined ? {} : { at: facts.at }) };
			if (!readsAlike(facts, was, now)) return;
			told++;
			expect(said(read(path, text, now, pool))).toEqual(said(facts));
		};
		for (const sample of Object.values(SAMPLES))
			fc.assert(
				fc.property(sample, fc.constantFrom(undefined, 'id'), ({ path, text, hints, format }, key) =>
					compare(path, text, { format, ...hints, ...(key && { key }), whole: true })
				),
				{ numRuns: process.env.SOAK ? 300 : 12 }
			);
		fc.assert(
			fc.property(
				file,
				part,
				fc.constantFrom('json', 'yaml'),
				(data, { at: _at, except: _except, where: _where, ...only }, ending) =>
					compare(`data/docks.${ending}`, JSON.stringify(data, null, '\t'), { ...only, whole: true })
			),
			{ numRuns: process.env.SOAK ? 10_000 : 400 }
		);
		expect(told).toBeGreaterThan(200);
	});

	const STORE = `<store>
	<boat><id>gull</id><seats>4</seats></boat>
	<!-- for the harbour -->
	<boat><id>tern</id><seats>2</seats></boat>
	<light><id>gull</id><reach>7</reach></light>
	<boat><id>gull</id><seats>3</seats></boat>
	<light><id>auk</id><reach>1</reach></light>
</store>
`;
	const SECTIONS = `[boat gull]\nseats = 4\n[boat tern]\nseats = 2\n[light auk]\nreach = 1\n[light gull]\nreach = 2\n`;

	test.each<[string, string, string, ReadHints]>([
		['one word', 'store.xml', STORE, { element: 'boat', key: 'id', whole: true }],
		['two words', 'store.xml', STORE, { parts: [{ element: 'light', key: 'id' }, { element: 'boat' }] }],
		['all of one kind', 'store.properties', 'a.b = 1\na.c = 2\n', { whole: true }],
		[
			'a table under its first key',
			'store.csv',
			'id,seats\ngull,4\ntern,2\ngull,1\n',
			{ key: 'id', whole: true }
		],
		[
			'records of three sorts, and some of none',
			'store.json',
			'[{"t": "a", "n": 1}, {"t": "b", "n": 2}, {"n": 3}, {"t": "a", "n": 4}, {"t": "cc"}]',
			{
				parts: [
					{ key: 'n', where: { field: 't', is: ['b'] } },
					{ key: 'n', where: { field: 't', is: ['a'] } },
					{ where: { field: 't', is: ['c'], begins: true }, id: 'store', prefix: 'store' }
				]
			}
		],
		[
			'what is beside a list',
			'store.json',
			JSON.stringify({
				by: 'x',
				boats: Array.from({ length: 9 }, (_, nth) => ({ id: `boat_${nth}`, seats: nth })),
				lights: Array.from({ length: 9 }, (_, nth) => ({ id: `light_${nth}`, reach: nth }))
			}),
			{
				parts: [
					{ at: null, except: ['boats', 'lights'], id: 'store', prefix: 'store' },
					{ at: 'lights', key: 'id' },
					{ at: 'boats', key: 'id' }
				]
			}
		]
	])('needs no reading of %s', (_, path, text, hints) => {
		expect(toldAgain(path, text, hints)).toBe(true);
	});

	test.each<[string, string, string, ReadHints]>([
		['names that the format has for records', 'store.ini', SECTIONS, { key: 'seats', whole: true }],
		[
			'a place that was not found by itself',
			'store.json',
			'{"a": {"b": [{"id": 1}]}}',
			{ at: 'a', whole: true }
		],
		['another format', 'store.json', '[{"id": 1}]', { format: 'yaml', whole: true }],
		['cells between other marks', 'store.csv', 'id;a\n1;2\n', { separator: ',', whole: true }],
		['another key of a table', 'store.csv', 'id,name\n1,gull\n', { key: 'name', whole: true }],
		['a file with faults', 'store.json', '[{"id": 1}, {"id": 2', { key: 'id', whole: true }],
		['names given twice', 'store.json', '[{"id": 1, "id": 2}, {"id": 3}]', { key: 'id', whole: true }],
		[
			'several fields that name a record',
			'store.json',
			'[{"a": 1, "b": 2}]',
			{ keyParts: ['a', 'b'], whole: true }
		]
	])('leaves it to a reading where that may say more: %s', (_, path, text, hints) => {
		expect(toldAgain(path, text, hints)).toBe(false);
	});

	test('is read once, where what the game tells says no more than the facts', () => {
		const sorts = ['boat', 'light', 'winch'];
		const files = Array.from({ length: 4 }, (_, file): [string, Uint8Array] => {
			const records = Array.from({ length: 30 }, (_, nth) => ({
				sort: sorts[nth % 3],
				id: `${sorts[nth % 3]}_${file}_${nth}`,
				...(nth % 3 === 0 ? { seats: nth } : nth % 3 === 1 ? { reach: nth, colour: 'red' } : { pull: nth })
			}));
			return [`data/dock_${file}.json`, new TextEncoder().encode(JSON.stringify(records, null, 1))];
		});
		const asked: string[] = [];
		const { tables } = assembleStack(
			[{ id: 'game', title: 'Game', owner: 'game', files: new Map(files) }],
			EMPTY_GUIDE,
			(path) => void asked.push(path)
		);
		expect([...tables].map(([kind, { count }]) => [kind, count]).sort()).toEqual(
			sorts.map((kind) => [kind, 40])
		);
		expect(asked).toEqual(files.map(([path]) => path));
	});
});
