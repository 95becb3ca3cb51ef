// Values of two records swapped: done, undone byte for byte, done again to where it began, and refused in words.
import { beforeAll, expect, test } from 'vitest';
import { applyPlan, bytesOf, invertPlan, type Files } from '$core/change';
import { myFiles, NotPossible, planFor, stackAfter, stepInWords, type Intention } from '$core/edits';
import { buildStack, valueOf, type Stack } from '$core/stack';
import { demoScene } from './scenes';

let stack: Stack;
beforeAll(async () => {
	const { layers, guide, pool } = await demoScene();
	stack = buildStack(layers, guide, pool);
});

const swap = (...fields: string[]): Intention => ({
	do: 'swap',
	kind: 'vessel',
	id: 'barge_03',
	with: 'barge_04',
	fields
});
const has = (now: Stack, field: string) =>
	['barge_03', 'barge_04'].map((id) => valueOf(now.tables.get('vessel')!.byId.get(id)!, field));
const bytesIn = (files: Files) => [...files].map(([path, file]) => [path, [...bytesOf(file)]]);

test('each gets what the other had, and nothing else changes', () => {
	const before = has(stack, 'tow');
	expect(before[0]).not.toBe(before[1]);
	const plan = planFor(stack, swap('tow'), 'longline');
	const after = stackAfter(stack, plan);
	expect(has(after, 'tow')).toEqual([...before].reverse());
	expect(has(after, 'seats')).toEqual(has(stack, 'seats'));
	const files = myFiles(stack);
	expect(bytesIn(applyPlan(applyPlan(files, plan), invertPlan(files, plan)))).toEqual(bytesIn(files));
	expect(has(stackAfter(after, planFor(after, swap('tow'), 'longline')), 'tow')).toEqual(before);
});

test('what cannot be swapped is refused, and it reads as a step of a recipe', () => {
	expect(() => planFor(stack, swap('wings'), 'longline')).toThrow(NotPossible);
	expect(() => planFor(stack, swap('wings'), 'longline')).toThrow(/has no wings/);
	const itself = { ...swap('tow'), with: 'barge_03' } as Intention;
	expect(() => planFor(stack, itself, 'longline')).toThrow(/cannot be swapped with itself/);
	expect(stepInWords(swap('tow', 'seats'))).toBe('Swap tow, seats of barge_03 and barge_04');
});
