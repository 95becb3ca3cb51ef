// Values that stand once in a file and count for several records; what is no text in my mod.
import { expect, test } from 'vitest';
import { parseGuide } from '$core/guide';
import { applyPlan, becomesOf, changeOf, leanPlan } from '$core/change';
import { myFiles, planFor } from '$core/edits';
import { assembleStack } from '$core/model';

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
			{ id: 'base', title: 'Base', owner: 'game', files: bytes(base) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytes(mine) }
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
	expect(sound).toMatchObject({ of: 'bytes', before: null });
	const lean = leanPlan(plan);
	expect(lean.changes.find(({ path }) => path === 'sound/gull.ogg')!.splices).toBeNull();
	expect(JSON.stringify(lean)).not.toContain('\\u0000');
	const after = applyPlan(myFiles(stack), plan);
	const files = Object.fromEntries(
		[...after].map(([path, file]) => [path, file instanceof Uint8Array ? file : file.text])
	);
	const now = stackOf({ 'boats.yaml': BOATS, 'sound/skua.ogg': horn }, files);
	const reversing = { step: lean, later: [], before: () => undefined };
	const back = planFor(now, { do: 'reverse', step: 1 }, 'mod', { reversing });
	expect(applyPlan(myFiles(now), back).size).toBe(0);
	// One that my mod has can be dropped and replaced.
	const kept = myFiles(now).get('sound/gull.ogg')!;
	expect(becomesOf(changeOf('sound/gull.ogg', kept, undefined, null))).toBe('gone');
});
