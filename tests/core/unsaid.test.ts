// What a game always does and nobody said: a mod that does otherwise is told so, at its line; one that does the same, or
// what a game of few records happens not to do, is told nothing.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { checkStack, type Snag } from '$core/checks';
import { EMPTY_GUIDE, nameAtEnd, pathMatcher } from '$core/guide';
import { buildLinks } from '$core/links';
import { assembleStack } from '$core/model';
import { applyPlan, type FileContent } from '$core/change';
import { planFor } from '$core/edits';
import type { Stack } from '$core/stack';

type Files = Record<string, string>;
const bytes = (files: Files) =>
	new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));
const stackOf = (game: Files, mine: Files): Stack =>
	assembleStack(
		[
			{ id: 'game', title: 'Game', owner: 'game', files: bytes(game) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytes(mine) }
		],
		EMPTY_GUIDE
	);
const told = (game: Files, mine: Files): Snag[] => {
	const stack = stackOf(game, mine);
	return checkStack(stack, buildLinks(stack)).filter(({ rule }) => rule !== 'same-as-base');
};
const grave = (game: Files, mine: Files) => told(game, mine).filter(({ severity }) => severity !== 'note');

const fileText = (file: FileContent): string => (file instanceof Uint8Array ? '' : file.text);

const KNOTS = ['reef', 'bowline', 'hitch'];
const count = (most: number) => Array.from({ length: most }, (_, nth) => nth);

describe('a table of JSON objects', () => {
	interface Rope {
		id: string;
		knot?: string;
		length: number;
		at?: number[];
		[other: string]: unknown;
	}
	const rope = (nth: number): Rope => ({
		id: `rope_${nth}`,
		knot: KNOTS[nth % 3]!,
		length: 3 + ((nth * 7) % 40),
		at: [nth % 9, (nth * 5) % 11]
	});
	const file = (ropes: readonly Rope[]) => ({
		'data/ropes.json': `[\n${ropes.map((one) => JSON.stringify(one)).join(',\n')}\n]\n`
	});
	const game = (most: number) => file(count(most).map(rope));
	const changed = (most: number, nth: number, change: (one: Rope) => Rope) =>
		file(count(most).map((at) => (at === nth ? change(rope(at)) : rope(at))));

	test('a word that a field never takes, with the words that it takes', () => {
		const snags = grave(
			game(90),
			changed(90, 40, (one) => ({ ...one, knot: 'bowlines' }))
		);
		expect(snags).toMatchObject([
			{ rule: 'unknown-word', severity: 'warns', line: 42, field: 'knot', candidates: ['bowline'] }
		]);
		expect(snags[0]!.message).toContain('reef (30)');
		// Of few values nobody knows whether they are all.
		expect(
			grave(
				game(30),
				changed(30, 4, (one) => ({ ...one, knot: 'bowlines' }))
			)
		).toEqual([]);
	});

	test('a word that came but once before says that others may come', () => {
		const base = changed(90, 7, (one) => ({ ...one, knot: 'carrick' }));
		const mine = { 'data/ropes.json': base['data/ropes.json']!.replace('hitch', 'sheet') };
		expect(grave(base, mine)).toEqual([]);
	});

	test('a field that every record has', () => {
		const without = (one: Rope) => {
			const { knot: _, ...rest } = one;
			return rest as Rope;
		};
		expect(grave(game(90), changed(90, 40, without))).toMatchObject([
			{ rule: 'incomplete-record', severity: 'warns', line: 42, field: 'knot', record: 'rope_40' }
		]);
		expect(told(game(30), changed(30, 4, without))).toMatchObject([
			{ rule: 'incomplete-record', severity: 'note' }
		]);
		expect(told(game(12), changed(12, 4, without))).toEqual([]);
		// What the game does once, it may do again.
		const base = changed(90, 3, without);
		expect(
			grave(base, file(count(90).map((at) => (at === 3 || at === 40 ? without(rope(at)) : rope(at)))))
		).toEqual([]);
	});

	test('and a name that none has, which is like it', () => {
		const snags = grave(
			game(30),
			changed(30, 4, ({ knot, ...rest }) => ({ ...rest, knott: knot }) as Rope)
		);
		expect(snags).toMatchObject([{ rule: 'incomplete-record', severity: 'warns', line: 6, field: 'knott' }]);
		expect(snags[0]!.message).toContain('None of them has `knott`; is that a typo?');
	});

	test('a mod that says only what it changes is told nothing of what it leaves out', () => {
		const some = count(8).map((nth) => ({ id: `rope_${nth}`, length: 1 }));
		expect(grave(game(90), { 'data/mine.json': JSON.stringify(some) })).toEqual([]);
	});

	test('a list that is always equally long', () => {
		for (const [at, said] of [
			[[4], '1 place'],
			[[4, 5, 6], '3 places']
		] as const) {
			const snags = grave(
				game(90),
				changed(90, 40, (one) => ({ ...one, at: [...at] }))
			);
			expect(snags).toMatchObject([{ rule: 'missing-part', severity: 'warns', line: 42 }]);
			expect(snags[0]!.message).toContain(`at has ${said}; every other one in the game has 2`);
		}
		// Lists that grow are of any length.
		const grows = (nth: number): Rope => ({ ...rope(nth), at: count(2 + (nth % 3)) });
		const base = file(count(90).map(grows));
		expect(
			grave(base, file(count(90).map((nth) => (nth === 40 ? { ...grows(nth), at: [1] } : grows(nth)))))
		).toEqual([]);
	});
});

test('a section without the id that each of the game has', () => {
	const section = (nth: number, id = true) =>
		`[buoy]\n${id ? `id = buoy_${nth}\n` : ''}light = ${1 + (nth % 4)}\nafter = buoy_${(nth + 1) % 40}\n`;
	const game = {
		'buoys.ini': count(40)
			.map((nth) => section(nth))
			.join('\n')
	};
	expect(grave(game, game)).toEqual([]);
	const mine = {
		'buoys.ini': count(40)
			.map((nth) => section(nth, nth !== 5))
			.join('\n')
	};
	expect(grave(game, mine).map(({ rule, line }) => [rule, line])).toContainEqual(['missing-id', 26]);
});

test('a quote at the end of a cell that none begins', () => {
	const line = (nth: number) => `hello_${nth},"Good day, number ${nth}.",${nth}`;
	const file = (lines: string[]) => ({ 'talk.csv': `key,en,n\n${lines.join('\n')}\n` });
	const game = file(count(70).map(line));
	const mine = file(
		count(70).map((nth) => (nth === 9 ? line(nth).replace('"Good day,', 'Good day') : line(nth)))
	);
	expect(grave(game, mine)).toMatchObject([{ rule: 'unlike-game', line: 11 }]);
	const inches = file(count(70).map((nth) => (nth === 3 ? `pipe_${nth},5",${nth}` : line(nth))));
	expect(grave(inches, mine)).toEqual([]);
});

test('no text at all is told although single languages are missing in the game', () => {
	const boats = count(40).map((nth) => ({ id: `boat_${nth}`, sail: nth % 5 }));
	const texts = (language: string, left: (nth: number) => boolean) =>
		count(40)
			.filter((nth) => !left(nth))
			.map((nth) => `boat.boat_${nth}.name=${language} ${nth}`)
			.join('\n');
	const game = {
		'data/boats.json': JSON.stringify(boats, null, 1),
		'texts/en.properties': texts('Boat', () => false),
		'texts/de.properties': texts('Boot', (nth) => nth % 4 === 0)
	};
	expect(grave(game, {})).toEqual([]);
	const mine = { 'data/boats.json': JSON.stringify([...boats, { id: 'raft', sail: 2 }], null, 1) };
	expect(grave(game, mine)).toMatchObject([{ rule: 'missing-text', record: 'raft', severity: 'warns' }]);
});

describe('names of maps with dots in them', () => {
	const tools = [
		'AWL',
		'ADZE',
		'SAW',
		'FID',
		'MALLET',
		'PLANE',
		'RASP',
		'VICE',
		'AUGER',
		'ANVIL',
		'TONGS',
		'MAUL'
	].map((name) => `TOOL.${name}`);
	const game: Files = Object.fromEntries([
		...tools.map((id, nth) => [`tools/t${nth}.yaml`, `id: ${id}\nweight: ${nth + 1}\n`]),
		...count(48).map((nth) => [
			`people/p${nth}.yaml`,
			`id: HAND.N${nth}\ntools:\n  ${tools[nth % 12]}: ${nth}\n  ${tools[(nth + 2) % 12]}: 1\n`
		])
	]);
	const FILE = 'people/p3.yaml';

	test('are references; one that is no id is told at its line', () => {
		const stack = stackOf(game, {});
		const field = Object.values(stack.guide.kinds).find(({ fields }) => fields['tools.**'])!.fields[
			'tools.**'
		]!;
		expect(field.reference).toMatchObject({ names: true });
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
		const mine = { [FILE]: game[FILE]!.replace('TOOL.FID', 'TOOL.FIDS') };
		expect(grave(game, mine)).toMatchObject([{ rule: 'missing-reference', line: 3, file: FILE }]);
	});

	test('and follow a record that gets another id', () => {
		const stack = stackOf(game, { 'info.txt': 'mine\n' });
		const kind = Object.keys(stack.guide.kinds).find((name) => /tool/i.test(name))!;
		const plan = planFor(stack, { do: 'rename', kind, id: 'TOOL.SAW', newId: 'TOOL.HACKSAW' }, 'm');
		const mine = new Map([['info.txt', stack.mine!.files.get('info.txt')!.text!]]);
		const written = [...applyPlan(mine, plan)].map(([path, file]) => [path, fileText(file)] as const);
		expect(written.filter(([, text]) => text.includes('TOOL.SAW'))).toEqual([]);
		expect(written.filter(([, text]) => text.includes('  TOOL.HACKSAW: '))).toHaveLength(8);
	});
});

test('law: the name that a pattern leaves open is what stands behind it', () => {
	const part = fc.stringMatching(/^[a-z_]{1,6}$/);
	fc.assert(
		fc.property(
			fc.array(part, { minLength: 1, maxLength: 3 }),
			fc.array(part, { minLength: 1, maxLength: 3 }),
			(map, name) => {
				const [path, pattern] = [[...map, ...name].join('.'), `${map.join('.')}.**`];
				expect(pathMatcher(pattern)(path)).toBe(true);
				expect(nameAtEnd(pattern, path)).toBe(name.join('.'));
				expect(pathMatcher(pattern)(`x${path}`)).toBe(false);
				expect(pathMatcher(`${map.join('.')}.*`)(path)).toBe(name.length === 1);
			}
		)
	);
});
