// Optional parts of a mod: every pair is looked at, what goes wrong in one combination is named with it, and the game takes
// and refuses the same combinations.
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { bytesOf } from '$core/change';
import { parseGuide } from '$core/guide';
import { assembleStack } from '$core/model';
import {
	checkOptions,
	combinationsOf,
	groupsOf,
	keptOf,
	mergedWith,
	optionLayers,
	OptionFault,
	optionsSchema,
	optionStack,
	transferred,
	wholeThings,
	withOptions,
	type ModOption
} from '$core/options';
import { checkStack } from '$core/checks';
import { NotPossible, planFor, planToBring, stackAfter } from '$core/edits';
import { EditRefused } from '$core/formats';
import { packOf } from '$core/pack';
import { identityOf, valueOf, type Stack } from '$core/stack';
import { openFolder, readAll } from '../../src/lib/files';
import { loadGame } from '../../standin/load.mjs';

const demo = fileURLToPath(new URL('../../demo/', import.meta.url));
const guide = parseGuide(readFileSync(join(demo, 'base.guide.yaml'), 'utf8'));
const game = mkdtempSync(join(tmpdir(), 'kettle-options-'));
let base: Map<string, Uint8Array>;

const MAIN = new Map(
	Object.entries({
		'mod.json': '{"name":"gale","title":"Gale","version":"1","gameVersion":"1.4"}',
		'data/engines.ini': '[triple_6]\npower   = 540\nfuel    = 78.5\ncoldest = -14\nnoise   = 71\n'
	}).map(([path, text]) => [path, new TextEncoder().encode(text)] as const)
);

beforeAll(async () => {
	cpSync(join(demo, 'base'), game, { recursive: true });
	base = await readAll(await openFolder(join(demo, 'base')));
});
afterAll(() => rmSync(game, { recursive: true }));

const stackOf = (): Stack =>
	assembleStack(
		[
			{ id: 'base', title: 'Base', owner: 'game', files: base },
			{ id: 'mine', title: 'Gale', owner: 'me', files: MAIN }
		],
		guide
	);

/** Three speeds, of which a player has one; and two switches that make a circle of upgrades where both are on. */
const OPTIONS: ModOption[] = optionsSchema.parse([
	...(['slow', 'brisk', 'fast'] as const).map((id, nth) => ({
		id,
		title: `Cutters, ${id}`,
		oneOf: 'Speed of cutters',
		standard: nth === 1,
		cells: [
			{ kind: 'vessel', id: 'cutter_04', field: 'speed', value: String(18 + nth * 4) },
			{ kind: 'text', id: 'vessel.cutter_04.about', field: 'en', value: `Cutter. ${id}.` }
		]
	})),
	{
		id: 'there',
		title: 'There',
		cells: [{ kind: 'vessel', id: 'pilot_06', field: 'upgrade', value: 'survey_06' }]
	},
	{
		id: 'thrift',
		title: 'Thrift',
		cells: [
			{ kind: 'engine', id: 'triple_6', field: 'fuel', value: '70.0' },
			{ kind: 'ability', id: 'ice_sense', field: 'chance', value: '0.5' }
		]
	}
]);

/** What the game says to a combination that is installed as players would have it. */
function installed(stack: Stack, options: readonly ModOption[], chosen: readonly string[]) {
	const identity = identityOf(stack, 'gale');
	const packs = optionLayers(stack, options, identity).filter(({ option }) => chosen.includes(option.id));
	rmSync(join(game, 'mods'), { recursive: true, force: true });
	const all = [
		{ name: identity.name, contents: packOf(MAIN, new Set(base.keys()), guide, identity).contents },
		...packs.map(({ files, identity: own }) => ({
			name: own.name,
			contents: packOf(
				new Map([...files].map(([path, file]) => [path, bytesOf(file)])),
				new Set(base.keys()),
				guide,
				own
			).contents
		}))
	];
	for (const { name, contents } of all)
		for (const [path, bytes] of contents) {
			const at = join(game, 'mods', name, path);
			mkdirSync(dirname(at), { recursive: true });
			writeFileSync(at, bytes);
		}
	writeFileSync(join(game, 'load-order.json'), JSON.stringify({ mods: all.map(({ name }) => name) }));
	return loadGame(game);
}

const run = (stack: Stack, options: readonly ModOption[]) => {
	const steps = checkOptions(stack, optionLayers(stack, options, identityOf(stack, 'gale')));
	for (let step = steps.next(); ; step = steps.next()) if (step.done) return step.value;
};

test('three variants and two switches: all combinations are sound, and the game takes each', () => {
	const stack = stackOf();
	const { combinations, findings } = run(stack, OPTIONS);
	expect(combinations).toHaveLength(12);
	expect(findings).toEqual([]);
	const layers = optionLayers(stack, OPTIONS, identityOf(stack, 'gale'));
	for (const chosen of combinations) {
		const loaded = installed(stack, OPTIONS, chosen);
		expect(
			loaded.log.filter(({ level }) => level !== 'INFO'),
			chosen.join()
		).toEqual([]);
		const variant = withOptions(stack, layers, chosen);
		// Merged into the main part they are the same.
		const merged = mergedWith(
			stack,
			OPTIONS.filter(({ id }) => chosen.includes(id)),
			identityOf(stack, 'gale')
		);
		for (const { kind, id, field } of OPTIONS.flatMap(({ cells }) => cells)) {
			const valueIn = (one: Stack) => valueOf(one.tables.get(kind)!.byId.get(id)!, field);
			expect([chosen, id, field, valueIn(merged)]).toEqual([chosen, id, field, valueIn(variant)]);
		}
		const speed = loaded.vessels.get('cutter_04')!.fields.speed;
		expect([chosen, speed]).toEqual([
			chosen,
			valueOf(variant.tables.get('vessel')!.byId.get('cutter_04')!, 'speed')
		]);
		expect(loaded.engines.get('triple_6')!.fields.fuel).toBe(chosen.includes('thrift') ? '70.0' : '78.5');
		expect(loaded.engines.get('triple_6')!.fields.power).toBe('540');
	}
	// Two variants at once are refused by what their own mods say.
	expect(
		installed(stack, OPTIONS, ['slow', 'fast'])
			.log.map(({ message }) => message)
			.join('\n')
	).toMatch(/does not work together with "gale_fast"/);
});

test('a fault that only one combination has is found and named, and the game has it there and nowhere else', () => {
	const stack = stackOf();
	const planted = [
		...OPTIONS,
		...optionsSchema.parse([
			{
				id: 'back',
				title: 'And back',
				cells: [{ kind: 'vessel', id: 'survey_06', field: 'upgrade', value: 'pilot_06' }]
			}
		])
	];
	const { combinations, findings } = run(stack, planted);
	expect(combinations).toHaveLength(24);
	expect(findings.map(({ needs, snag }) => [needs, snag?.rule])).toEqual([
		[['there', 'back'], 'endless-chain']
	]);
	for (const chosen of combinations) {
		const { log } = installed(stack, planted, chosen);
		const faults = log.filter(({ level }) => level !== 'INFO');
		expect([chosen, faults.length > 0]).toEqual([
			chosen,
			chosen.includes('there') && chosen.includes('back')
		]);
	}
});

test('where not all combinations are looked at, a fault of two options is still found, and named with these two', () => {
	const others = Array.from({ length: 7 }, (_, nth) => ({
		id: `other_${nth}`,
		title: `Other ${nth}`,
		cells: [{ kind: 'ability', id: 'ice_sense', field: 'rest', value: String(nth) }]
	}));
	const pair = [
		['there', 'pilot_06', 'survey_06'],
		['back', 'survey_06', 'pilot_06']
	].map(([id, vessel, value]) => ({
		id: id!,
		title: id!,
		cells: [{ kind: 'vessel', id: vessel!, field: 'upgrade', value: value! }]
	}));
	const options = optionsSchema.parse([...others.slice(0, 3), pair[0], ...others.slice(3), pair[1]]);
	const { combinations, findings } = run(stackOf(), options);
	expect(combinations.length).toBeLessThan(20);
	expect(findings.map(({ needs, always, snag }) => [needs, always, snag?.rule])).toEqual([
		[['there', 'back'], true, 'endless-chain']
	]);
});

test('a fault that another option mends is told with an example, not as if it always were so', () => {
	const upgrade = (id: string, value: string) => ({ kind: 'vessel', id, field: 'upgrade', value });
	const { findings } = run(
		stackOf(),
		optionsSchema.parse([
			{
				id: 'a',
				title: 'Round',
				cells: [upgrade('pilot_06', 'survey_06'), upgrade('survey_06', 'pilot_06')]
			},
			{ id: 'b', title: 'End', cells: [upgrade('survey_06', 'launch_09')] }
		])
	);
	expect(findings.map(({ needs, always, seen, snag }) => [needs, always, seen, snag?.rule])).toEqual([
		[['a'], false, ['a'], 'endless-chain']
	]);
});

test('a value that another option hides, because the game reads whole files or records, is told', () => {
	const stack = stackOf();
	const { findings } = run(
		stack,
		optionsSchema.parse([
			{ id: 'a', title: 'Calm', cells: [{ kind: 'vessel', id: 'cutter_04', field: 'speed', value: '20' }] },
			{ id: 'b', title: 'Roomy', cells: [{ kind: 'vessel', id: 'cutter_04', field: 'seats', value: '16' }] },
			{ id: 'c', title: 'Bright', cells: [{ kind: 'ability', id: 'ice_sense', field: 'rest', value: '3' }] },
			{
				id: 'd',
				title: 'Lucky',
				cells: [{ kind: 'ability', id: 'ice_sense', field: 'chance', value: '0.9' }]
			}
		])
	);
	// Abilities are merged field by field, vessels record by record.
	expect(findings.map(({ needs, message }) => [needs, message])).toEqual([
		[
			['a', 'b'],
			'Speed of Kittiwake is 21, not 20 as “Calm” sets it: “Roomy” contains the whole vessel and is loaded later.'
		]
	]);
});

test('a new record of any kind goes into an option whole: with it the game has the same, without it none, and back again', () => {
	const kinds = [...stackOf().tables.values()].filter(
		({ guide: { key }, records }) => records.length > 1 && key !== undefined
	);
	const moved: string[] = [];
	for (const { kind, records } of kinds) {
		const stack = stackOf();
		const id = `${records[0]!.id}_new`;
		let made: Stack;
		try {
			made = stackAfter(
				stack,
				planFor(stack, { do: 'copy', kind, id: records[0]!.id, newId: id, names: {} }, 'gale')
			);
		} catch (fault) {
			if (fault instanceof NotPossible || fault instanceof EditRefused) continue;
			throw fault;
		}
		// With all that came with it: its texts and what is one thing with it.
		const things = [...wholeThings(made)];
		expect(things).toContainEqual({ kind, id });
		const empty = optionsSchema.parse([{ id: 'new', title: 'New' }])[0]!;
		const { from, to } = transferred(
			{ stack: made, mod: 'gale' },
			{ stack: optionStack(made, empty), mod: 'gale_new' },
			things
		);
		const without = stackAfter(made, planToBring(made, from));
		const option: ModOption = { ...empty, files: keptOf(to) };
		expect(optionsSchema.parse(JSON.parse(JSON.stringify([option])))).toEqual([option]);
		const identity = identityOf(without, 'gale');
		const layers = optionLayers(without, [option], identity);
		const values = (one: Stack) =>
			things.map((thing) => {
				const record = 'path' in thing ? undefined : one.tables.get(thing.kind)?.byId.get(thing.id);
				return record && [...record.values].map(([field, { value }]) => [field, value]).sort();
			});
		expect(values(withOptions(without, layers, ['new'])), kind).toEqual(values(made));
		expect(values(mergedWith(without, [option], identity)), kind).toEqual(values(made));
		expect(
			values(without).filter((one) => one !== undefined),
			kind
		).toEqual([]);
		const told = (one: Stack) => checkStack(one).map(({ message }) => message.replace(/\(line \d+\)/, ''));
		expect(new Set(told(withOptions(without, layers, ['new']))), kind).toEqual(new Set(told(made)));
		// Back into the main part.
		const back = transferred(
			{ stack: optionStack(without, option), mod: 'gale_new' },
			{ stack: without, mod: 'gale' },
			things
		);
		expect(values(stackAfter(without, planToBring(without, back.to))), kind).toEqual(values(made));
		expect(
			[...back.from.values()].every((content) => content === null),
			kind
		).toBe(true);
		moved.push(kind);
	}
	expect(moved).toEqual(expect.arrayContaining(['vessel', 'deck_gear', 'call', 'omen', 'lane']));
	expect(moved.length).toBeGreaterThan(15);
});

test('a file and a record that two options have are told, and a path out of the mod is refused', () => {
	const text = (path: string, line: string) => ({ path, text: line, encoding: 'utf-8', bom: false });
	const hazards = 'a\n';
	const options = optionsSchema.parse([
		{
			id: 'a',
			title: 'Calm',
			files: [text('music/calm.txt', 'calm'), text('data/engines.ini', '[new_1]\npower = 1\n')]
		},
		{
			id: 'b',
			title: 'Loud',
			files: [text('music/calm.txt', hazards), text('data/engines.ini', '[new_1]\npower = 2\n')]
		}
	]);
	const { findings } = run(stackOf(), options);
	expect(findings.filter(({ snag }) => snag === null).map(({ needs, message }) => [needs, message])).toEqual([
		[['a', 'b'], 'music/calm.txt of “Calm” does not count: “Loud” has its own and is loaded later.'],
		[['a', 'b'], 'Engine new_1 of “Calm” does not count: “Loud” has its own and is loaded later.']
	]);
	expect(() => optionsSchema.parse([{ id: 'a', title: 'A', files: [text('../a', '')] }])).toThrow(
		/not a path inside/
	);
	expect(() =>
		optionsSchema.parse([
			{ id: 'a', title: 'A', files: [text('a', 'x'.repeat(3_900_000)), text('b', 'x'.repeat(3_900_000))] }
		])
	).toThrow(/too large/);
});

test('what cannot be set is refused with the name of the option', () => {
	const options = optionsSchema.parse([
		{ id: 'a', title: 'Nowhere', cells: [{ kind: 'vessel', id: 'nobody', field: 'speed', value: '20' }] }
	]);
	expect(() => optionLayers(stackOf(), options, identityOf(stackOf(), 'gale'))).toThrow(OptionFault);
	expect(() => optionLayers(stackOf(), options, identityOf(stackOf(), 'gale'))).toThrow(/^Nowhere: .*nobody/);
	expect(() =>
		optionsSchema.parse([
			{ id: 'a', title: 'A' },
			{ id: 'a', title: 'B' }
		])
	).toThrow(/two options/);
});

describe('combinations', () => {
	const optionsArb = fc
		.array(fc.constantFrom(null, null, 'x', 'y', 'z'), { minLength: 1, maxLength: 14 })
		.map((groups) =>
			groups.map((oneOf, nth): ModOption => ({
				id: `o${nth}`,
				title: `O${nth}`,
				about: '',
				oneOf,
				standard: false,
				cells: [],
				files: []
			}))
		);
	test('law: every option and every pair that can be chosen together is in one, and no group has two', () => {
		fc.assert(
			fc.property(optionsArb, (options) => {
				const rows = combinationsOf(options);
				for (const chosen of rows)
					for (const levels of groupsOf(options))
						expect(
							levels.filter((id) =>
								id === null ? !levels.some((one) => one && chosen.includes(one)) : chosen.includes(id)
							)
						).toHaveLength(1);
				for (const a of options)
					for (const b of options) {
						if (a !== b && a.oneOf !== null && a.oneOf === b.oneOf) continue;
						expect(
							rows.some((chosen) => chosen.includes(a.id) && chosen.includes(b.id)),
							`${a.id} ${b.id}`
						).toBe(true);
						// Also one without the other, where the other can be left out.
						if (a !== b && b.oneOf === null)
							expect(rows.some((chosen) => chosen.includes(a.id) && !chosen.includes(b.id))).toBe(true);
					}
				expect(rows.length).toBeLessThanOrEqual(Math.max(32, options.length ** 2));
			}),
			{ numRuns: 300 }
		);
	});
});
