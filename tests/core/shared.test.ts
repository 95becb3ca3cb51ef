// Values that stand once in a file and count for several records; what is no text in my mod.
import { expect, test } from 'vitest';
import { parseGuide } from '$core/guide';
import { applyPlan, changeOf, leanPlan } from '$core/change';
import { myTexts, planFor, reversePlan } from '$core/edits';
import { assembleStack } from '$core/stack';

const bytes = (files: Record<string, string | Uint8Array>) =>
	new Map(
		Object.entries(files).map(([path, text]) => [
			path,
			typeof text === 'string' ? new TextEncoder().encode(text) : text
		])
	);
const GUIDE = parseGuide(`guide: 1
kinds:
  boat: { title: Boat, files: [boats.yaml], merge: file, assets: [{ label: Horn, path: 'sound/{id}.ogg' }] }
`);
const BOATS =
	'tern:\n  speed: &fast 12\n  gear: &g\n    pump: 3\n    rope: 5\nauk:\n  speed: *fast\n  gear: *g\nskua:\n  speed: 9\n';
const stackOf = (base: Record<string, string | Uint8Array>, mine: Record<string, string | Uint8Array> = {}) =>
	assembleStack(
		[
			{ id: 'base', title: 'Base', role: 'base', files: bytes(base) },
			{ id: 'mine', title: 'Mine', role: 'mine', files: bytes(mine) }
		],
		GUIDE
	);

test('a plan names every record that shares a changed value by an anchor', () => {
	const stack = stackOf({ 'boats.yaml': BOATS });
	const plan = planFor(stack, { do: 'set', kind: 'boat', id: 'tern', field: 'speed', value: '14' }, 'mod');
	expect(plan.values.map(({ id, field, before, after }) => [id, field, before, after])).toEqual([
		['tern', 'speed', '12', '14'],
		['auk', 'speed', '12', '14']
	]);
	expect(plan.notes.join(' ')).toContain('several records');
	const inner = planFor(
		stack,
		{ do: 'set', kind: 'boat', id: 'tern', field: 'gear.pump', value: '4' },
		'mod'
	);
	expect(inner.values.map(({ id, field }) => `${id} ${field}`)).toEqual(['tern gear.pump', 'auk gear']);
	const alone = planFor(stack, { do: 'set', kind: 'boat', id: 'skua', field: 'speed', value: '8' }, 'mod');
	expect(alone.values).toHaveLength(1);
});

test('a file that is no text goes through a plan whole: copied, kept out of what is written down, taken back', () => {
	const horn = new Uint8Array([0x4f, 0x67, 0x67, 0, 1, 0, 255, 254, 13, 10, 0]);
	const stack = stackOf({ 'boats.yaml': BOATS, 'sound/skua.ogg': horn });
	const plan = planFor(stack, { do: 'copy', kind: 'boat', id: 'skua', newId: 'gull', names: {} }, 'mod');
	const sound = plan.changes.find(({ path }) => path === 'sound/gull.ogg')!;
	expect(sound).toMatchObject({ whole: true, before: null });
	const lean = leanPlan(plan);
	expect(lean.changes.find(({ path }) => path === 'sound/gull.ogg')!.splices).toEqual([]);
	expect(JSON.stringify(lean)).not.toContain('\\u0000');
	const after = applyPlan(myTexts(stack), plan);
	const files = Object.fromEntries(
		[...after].map(([path, file]) => [path, path.endsWith('.ogg') ? horn : file.text])
	);
	const now = stackOf({ 'boats.yaml': BOATS, 'sound/skua.ogg': horn }, files);
	const back = reversePlan(now, lean, {
		later: [],
		before: () => undefined,
		present: (path) => myTexts(now).get(path),
		mod: 'mod'
	});
	expect(applyPlan(myTexts(now), back).size).toBe(0);
	// One that my mod has can be dropped and replaced.
	const kept = myTexts(now).get('sound/gull.ogg')!;
	expect(changeOf('sound/gull.ogg', kept, undefined, []).whole).toBe(true);
});
