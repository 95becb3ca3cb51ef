// Recipes: recorded from steps, kept in the guide file, replayed as one plan.
import fc from 'fast-check';
import { beforeAll, describe, expect, test } from 'vitest';
import { bytesOf, applyPlan, invertPlan, type Files } from '$core/change';
import {
	myFiles,
	NotPossible,
	planFor,
	recipeFrom,
	stackAfter,
	stepsOf,
	withFilled,
	type Intention,
	type Recorded
} from '$core/edits';
import { EditRefused } from '$core/formats';
import { composeGuides, parseGuide, withStatement, type Recipe } from '$core/guide';
import { buildStack, type Stack } from '$core/stack';
import { digestOf } from '$core/text';
import { demoScene, wish } from './scenes';

let demo: Stack;
beforeAll(async () => {
	const { layers, guide, pool } = await demoScene();
	demo = buildStack(layers, guide, pool);
});

const knowing = (recipe: Recipe): Stack => ({
	...demo,
	guide: { ...demo.guide, recipes: { ...demo.guide.recipes, one: recipe } }
});
const bytesIn = (files: Files): Record<string, string> =>
	Object.fromEntries([...files].map(([path, file]) => [path, digestOf(bytesOf(file))] as const).sort());
const value = (stack: Stack, kind: string, id: string, field: string) =>
	stack.tables.get(kind)!.byId.get(id)!.value(field);

/** Steps as they are done, and the state after them. */
function done(steps: readonly Intention[]): { kept: Intention[]; after: Stack } {
	let after = demo;
	const kept: Intention[] = [];
	for (const step of steps) {
		try {
			after = stackAfter(after, planFor(after, step, 'longline'));
			kept.push(step);
		} catch (fault) {
			if (!(fault instanceof NotPossible || fault instanceof EditRefused)) throw fault;
		}
	}
	return { kept, after };
}

describe('a recipe recorded from steps just made', () => {
	test('filled with what was there, gives the same steps and the same bytes, and can be taken back', () => {
		let replayed = 0;
		fc.assert(
			fc.property(
				fc.array(fc.tuple(fc.nat(15), fc.nat(99), fc.nat(999), fc.nat(999)), { minLength: 1, maxLength: 4 }),
				(wishes) => {
					const { kept, after } = done(wishes.map((one) => wish(demo, one)));
					if (kept.length === 0) return;
					const { recipe, was } = recipeFrom(demo, 'One', kept);
					expect(JSON.parse(JSON.stringify(stepsOf(recipe, was)))).toEqual(JSON.parse(JSON.stringify(kept)));
					// As a file keeps it.
					const yaml = withStatement(null, ['recipes', 'one'], recipe);
					expect(parseGuide(yaml).recipes!.one).toEqual(recipe);
					if (bytesIn(myFiles(after)) === bytesIn(myFiles(demo))) return;
					const plan = planFor(knowing(recipe), { do: 'recipe', recipe: 'one', fill: was }, 'longline');
					const before = myFiles(demo);
					const now = applyPlan(before, plan);
					expect(bytesIn(now)).toEqual(bytesIn(myFiles(after)));
					expect(bytesIn(applyPlan(now, invertPlan(before, plan)))).toEqual(bytesIn(before));
					replayed++;
				}
			),
			{ numRuns: 40 }
		);
		expect(replayed).toBeGreaterThan(20);
	});

	const steps: Intention[] = [
		{ do: 'copy', kind: 'vessel', id: 'cutter_03', newId: 'cutter_40', names: { en: 'Knot' } },
		{ do: 'set', kind: 'vessel', id: 'cutter_40', field: 'tow', value: '31' },
		{ do: 'set', kind: 'vessel', id: 'cutter_02', field: 'upgrade', value: 'cutter_40' }
	];
	let recorded: Recorded;
	beforeAll(() => (recorded = recipeFrom(demo, 'A vessel to rise to', steps)));

	test('opens records, new ids and values, and leaves one name for one thing', () => {
		expect(Object.values(recorded.was).sort()).toEqual(['31', 'Knot', 'cutter_02', 'cutter_03', 'cutter_40']);
		expect(recorded.recipe.steps[2]).toMatchObject({ value: '{new-vessel}' });
		expect(recorded.recipe.blanks['new-vessel']).toMatchObject({ kind: 'vessel', new: true });
		// A value that is same each time.
		const closed = withFilled(recorded.recipe, { tow: '31' });
		expect(closed.steps[1]).toMatchObject({ value: '31' });
		expect(Object.keys(closed.blanks)).not.toContain('tow');
	});

	test('is replayed on another record, in order, as one plan', () => {
		const names = Object.fromEntries(Object.entries(recorded.was).map(([name, was]) => [was, name]));
		const fill = {
			...recorded.was,
			[names.cutter_02!]: 'cutter_04',
			[names.cutter_40!]: 'cutter_41',
			[names['31']!]: '44'
		};
		const stack = knowing(recorded.recipe);
		const plan = planFor(stack, { do: 'recipe', recipe: 'one', fill }, 'longline');
		const after = stackAfter(stack, plan);
		expect(value(after, 'vessel', 'cutter_41', 'tow')).toBe('44');
		expect(value(after, 'vessel', 'cutter_04', 'upgrade')).toBe('cutter_41');
		expect(after.tables.get('vessel')!.byId.has('cutter_40')).toBe(false);
		expect(plan.notes[0]).toMatch(/3 steps of the recipe/);
		expect(plan.title).toContain('cutter_41');
	});

	test('names what is missing, and the step that cannot be done; nothing is done then', () => {
		const stack = knowing(recorded.recipe);
		const part = Object.fromEntries(Object.entries(recorded.was).slice(1));
		const at = (fill: Record<string, string>, recipe = 'one') =>
			planFor(stack, { do: 'recipe', recipe, fill }, 'longline');
		expect(() => at(part)).toThrow(/is not filled in yet/);
		expect(() => at({ ...recorded.was, 'new-vessel': 'cutter_03' })).toThrow(/Step 1 of the recipe/);
		expect(() => at({}, 'toString')).toThrow(/no recipe/);
		const odd = knowing({ title: 'Odd', blanks: {}, steps: [{ do: 'nothing of the kind' }] });
		expect(() => planFor(odd, { do: 'recipe', recipe: 'one', fill: {} }, 'longline')).toThrow(
			/Step 1 of the recipe “Odd” is not known/
		);
		const again = knowing({
			title: 'Again',
			blanks: {},
			steps: [{ do: 'recipe', recipe: 'one', fill: {} }]
		});
		expect(() => planFor(again, { do: 'recipe', recipe: 'one', fill: {} }, 'longline')).toThrow(
			/cannot be repeated/
		);
		expect(() => recipeFrom(demo, 'x', [{ do: 'reverse', step: 3 }])).toThrow(/cannot be part of a recipe/);
	});

	test('says which steps had nothing left to do', () => {
		const stack = knowing(recorded.recipe);
		const now = stackAfter(stack, planFor(stack, steps[0]!, 'longline'));
		const recipe: Recipe = { title: 'Twice', blanks: {}, steps: [steps[1]!, steps[1]!] };
		const twice = { ...now, guide: { ...now.guide, recipes: { two: recipe } } };
		const plan = planFor(twice, { do: 'recipe', recipe: 'two', fill: {} }, 'longline');
		expect(plan.notes[1]).toBe('Nothing left to do in step 2.');
	});
});

test('a recipe of one’s own stands beside those that came with the game, and over one of the same name', () => {
	const recipe = (title: string) => ({ title, steps: [{ do: 'take', kind: 'cart', id: 'a' }] });
	const shared = withStatement(
		withStatement(null, ['recipes', 'a'], recipe('A')),
		['recipes', 'b'],
		recipe('B')
	);
	const mine = withStatement(
		withStatement(null, ['recipes', 'b'], recipe('Mine')),
		['recipes', 'c'],
		recipe('C')
	);
	const { recipes } = composeGuides(shared, mine);
	expect(Object.values(recipes!).map(({ title }) => title)).toEqual(['A', 'Mine', 'C']);
});
