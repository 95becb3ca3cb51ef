// Things that hold things of their own sort under their names, beside what is said of each: as deep as they go, what is
// said of one is the same field wherever it stands, and names are no fields.
import { describe, expect, test } from 'vitest';
import { checkStack } from '$core/checks';
import { applyPlan, bytesOf } from '$core/change';
import { largest, smallest } from '$core/gather';
import { EMPTY_GUIDE } from '$core/guide';
import { buildLinks } from '$core/links';
import { planFor } from '$core/edits';
import { assembleStack } from '$core/model';
import type { Stack } from '$core/stack';

const bytes = (files: Record<string, string>) =>
	new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));
const stackOf = (game: Record<string, string>, mine: Record<string, string> = {}): Stack =>
	assembleStack(
		[
			{ id: 'game', title: 'Game', owner: 'game', files: bytes(game) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytes(mine) }
		],
		EMPTY_GUIDE
	);
const json = (value: unknown) => `${JSON.stringify(value, null, '\t')}\n`;
const snagsOf = (stack: Stack) => checkStack(stack, buildLinks(stack));

const PEOPLE = ['ada', 'bo', 'cy', 'dee', 'eli', 'fay', 'gus', 'hal'];
const people = json(PEOPLE.map((id, nth) => ({ id, age: 20 + nth * 3, trade: nth % 2 ? 'rope' : 'oak' })));

/** What is said of a skill, with the skills in it: each has a name that no other has. */
interface Skill {
	about: { cost: number; taught_by: string; hours: number; note?: string };
	[name: string]: unknown;
}

/** Skills below each other, some deeper than others. */
function skills(name: string, nth: number, deep: number): Skill {
	const own: Skill = {
		about: { cost: (nth * 7) % 40, taught_by: PEOPLE[nth % PEOPLE.length]!, hours: nth % 9 }
	};
	if (nth % 3 === 0) own.about.note = `Said of ${name}.`;
	if (deep > 0)
		for (let at = 0; at < 2 + (nth % 3); at++) {
			const inner = `${name}_${'abcd'[at]!}`;
			own[inner] = skills(inner, nth * 3 + at + 1, deep - 1 - (at % 2));
		}
	return own;
}
const tree = Object.fromEntries(
	Array.from({ length: 24 }, (_, nth) => [`knot${nth}`, skills(`knot${nth}`, nth, nth % 4)])
);

describe('things in things', () => {
	const game = { 'people.json': people, 'skills.json': json(tree) };

	test('are the same fields at each depth, with what is found of them', () => {
		const { kinds } = stackOf(game).guide;
		const fields = kinds.skills!.fields;
		expect(Object.keys(fields).filter((path) => path.includes('knot'))).toEqual([]);
		for (const path of ['about', '*.about', '*.*.about']) {
			expect(fields[`${path}.cost`]?.type, path).toBe('whole');
			expect(fields[`${path}.taught_by`]?.reference?.kinds, path).toEqual(['people']);
		}
	});

	test('are checked at each depth, and changed where they stand', () => {
		const wrong = structuredClone(tree) as Record<string, Record<string, Skill>>;
		wrong.knot1!.knot1_a!.about.taught_by = 'adda';
		const text = json(wrong);
		const stack = stackOf(game, { 'skills.json': text });
		const found = snagsOf(stack).filter(({ rule }) => rule === 'missing-reference');
		expect(found.map(({ line }) => line)).toEqual([
			text.split('\n').findIndex((line) => line.includes('adda')) + 1
		]);
		const set = {
			do: 'set',
			kind: 'skills',
			id: 'knot1',
			field: 'knot1_a.about.taught_by',
			value: 'ada'
		} as const;
		const files = new Map([['skills.json', stack.mine!.files.get('skills.json')!.text!]]);
		const made = applyPlan(files, planFor(stack, set, 'm')).get('skills.json')!;
		expect(new TextDecoder().decode(bytesOf(made))).toBe(text.replace('adda', 'ada'));
	});

	test('maps that are parts of a record stay its fields, though few have each', () => {
		const parts = ['mast', 'sail', 'rudder', 'keel', 'oars', 'anchor', 'pump', 'stove', 'lamp', 'bell'];
		const more = ['winch', 'crane', 'hatch', 'bunk'];
		const hulls = Array.from({ length: 28 }, (_, nth) => ({
			id: `hull${nth}`,
			name: `Hull ${nth}`,
			[[...parts, ...more][nth % 14]!]: { wide: nth, deep: nth * 2 }
		}));
		const { kinds } = stackOf({ 'hulls.json': json(hulls) }).guide;
		expect(Object.keys(kinds.hulls!.fields)).toEqual(expect.arrayContaining(['mast.wide', 'bunk.deep']));
		// Also where each says much of itself, and a few hulls have it.
		const rich = Array.from({ length: 84 }, (_, nth) => ({
			id: `hull${nth}`,
			name: `Hull ${nth}`,
			[[...parts, ...more][nth % 14]!]: {
				wide: nth,
				deep: nth * 2,
				made: `by ${nth % 5}`,
				old: nth % 2 === 0
			}
		}));
		const fields = Object.keys(stackOf({ 'hulls.json': json(rich) }).guide.kinds.hulls!.fields);
		expect(fields).toEqual(expect.arrayContaining(['mast.wide', 'bunk.made']));
	});
});

test('maps of maps of different things, each with names of its own, are one field however deep', () => {
	const sold = (nth: number) => ({
		wares: Object.fromEntries(
			Array.from({ length: 6 }, (_, at) => [
				`ware${(nth * 5 + at * 3) % 40}`,
				Object.fromEntries(
					Array.from({ length: 3 }, (__, on) => [
						`quay${(nth + at + on * 7) % 30}`,
						{ price: nth + at, left: on }
					])
				)
			])
		)
	});
	const towns = Object.fromEntries(
		Array.from({ length: 24 }, (_, nth) => [`town${nth}`, { people: nth, ...sold(nth) }])
	);
	const fields = Object.keys(stackOf({ 'towns.json': json(towns) }).guide.kinds.towns!.fields);
	expect(fields.toSorted()).toEqual(['people', 'wares.*.*.left', 'wares.*.*.price']);
});

test('a file with many large tables in it is as many kinds; one with many small ones is one record', () => {
	const tables = (count: number, rows: number) =>
		Object.fromEntries(
			Array.from({ length: count }, (_, table) => [
				`table_${table}`,
				Array.from({ length: rows }, (__, row) => ({
					id: `t${table}r${row}`,
					[`has_${table}`]: row,
					seen: true
				}))
			])
		);
	expect(Object.keys(stackOf({ 'all.json': json(tables(30, 10)) }).guide.kinds)).toHaveLength(30);
	const one = stackOf({ 'all.json': json({ id: 'x', ...tables(30, 2) }) });
	expect([...one.tables.values()].map(({ count }) => count)).toEqual([1]);
});

test('the largest and the smallest of more numbers than a call takes', () => {
	const many = Array.from({ length: 300_000 }, (_, nth) => (nth * 7919) % 300_007);
	expect(() => Math.max(...many)).toThrow(RangeError);
	const sorted = many.toSorted((a, b) => a - b);
	expect([smallest(many), largest(many)]).toEqual([sorted[0], sorted.at(-1)]);
	expect([smallest([]), largest([])]).toEqual([Infinity, -Infinity]);
});
