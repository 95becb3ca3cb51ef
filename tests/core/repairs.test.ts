// Repairs where the answer is known: each makes its snag go, alone or for all of one sort at once.
import { beforeAll, expect, test } from 'vitest';
import { checkStack, repairsFor, repairsForAll, type RepairSort, type Snag } from '$core/checks';
import { planFor, stackAfter, type Intention } from '$core/edits';
import { buildLinks } from '$core/links';
import { buildStack, valueOf, type Stack } from '$core/stack';
import { demoScene } from './scenes';

let stack: Stack;
beforeAll(async () => {
	const { layers, guide, pool } = await demoScene();
	stack = buildStack(layers, guide, pool);
});

const after = (on: Stack, intention: Intention) => stackAfter(on, planFor(on, intention, 'longline'));
const set = (on: Stack, kind: string, id: string, field: string, value: string) =>
	after(on, { do: 'set', kind, id, field, value, without: ['twin'] });
const snagsIn = (on: Stack) => checkStack(on, buildLinks(on));
const value = (on: Stack, kind: string, id: string, field: string) =>
	valueOf(on.tables.get(kind)!.byId.get(id)!, field);

/** The snag of a rule at a record, the repair of a sort for it, and the game with it done. */
function mended(on: Stack, rule: string, id: string, sort: RepairSort): { label: string; now: Stack } {
	const snag = snagsIn(on).find((one) => one.rule === rule && one.record === id)!;
	const repair = repairsFor(on, snag).find((one) => one.sort === sort)!;
	const now = after(on, repair.intention);
	expect(snagsIn(now).map((one) => one.id)).not.toContain(snag.id);
	return { label: repair.label, now };
}

test.each([
	['hazard', 'chance', '45', '0.450'],
	['hazard', 'chance', '1.7', '1.000'],
	['hazard', 'chance', '3 %', '0.030'],
	['hazard', 'damage', '12 points', '12'],
	['hazard', 'damage', '300', '99'],
	['role', 'watch', 'dya', '1'],
	['station', 'opened', '6.1.1902', '1902-01-06']
])('%s %s %s becomes %s', (kind, field, wrong, right) => {
	const { id } = stack.tables.get(kind)!.record(0);
	let broken: Stack;
	try {
		broken = set(stack, kind, id, field, wrong);
	} catch {
		// The format itself refuses a word where a number stands.
		return expect(['role', 'station']).toContain(kind);
	}
	const snag = snagsIn(broken).find((one) => one.record === id && one.field === field)!;
	const repair = repairsFor(broken, snag).find(({ sort }) => sort === 'nearest' || sort === 'suggestion')!;
	expect(value(after(broken, repair.intention), kind, id, field)).toBe(right);
});

test('an end before its start is swapped with it', () => {
	const broken = set(stack, 'station', 'tar_row', 'keeper.until', '1900-01-01');
	const { label, now } = mended(broken, 'out-of-order', 'tar_row', 'swap');
	expect(label).toBe('Swap 1902-08-11 and 1900-01-01');
	expect([
		value(now, 'station', 'tar_row', 'keeper.since'),
		value(now, 'station', 'tar_row', 'keeper.until')
	]).toEqual(['1900-01-01', '1902-08-11']);
});

test('twins are made the same', () => {
	const broken = set(stack, 'deck_gear', 'winch_hand', 'weight', '0.50');
	const { label, now } = mended(broken, 'twins-apart', 'winch_hand', 'twin');
	expect(label).toBe('Make data/gear/cold/deck.xml the same');
	expect(value(now, 'cold_deck_gear', 'winch_hand', 'weight')).toBe('0.50');
});

test('all of one sort at once, as one step', () => {
	let broken = stack;
	for (const id of ['winch_hand', 'raft_rack', 'line_gun'])
		broken = set(broken, 'deck_gear', id, 'weight', '0.50');
	const repaired = (on: Stack): (Snag & { repairs: ReturnType<typeof repairsFor> })[] =>
		snagsIn(on)
			.filter(({ rule }) => rule === 'twins-apart')
			.map((snag) => ({ ...snag, repairs: repairsFor(on, snag) }));
	const all = repairsForAll(repaired(broken), () => 'Twins differ').find(({ label }) =>
		label.includes('same')
	)!;
	const count = repaired(broken).length;
	expect(count).toBeGreaterThanOrEqual(3);
	expect(all.label).toBe(`Make all ${count} the same`);
	const plan = planFor(broken, all.intention, 'longline');
	expect(plan.title).toBe(`Twins differ: make all ${count} the same`);
	expect(repaired(stackAfter(broken, plan))).toEqual([]);
	expect(() =>
		planFor(broken, { do: 'several', title: 'x', steps: [{ do: 'nothing' }] }, 'longline')
	).toThrow(/not known/);
});

test('a missing field is added like that of another', () => {
	const part: Intention = {
		do: 'part',
		kind: 'station',
		id: 'tar_row',
		path: 'keeper.until',
		change: { how: 'remove' }
	};
	const broken = after(stack, part);
	const { label, now } = mended(broken, 'missing-field', 'tar_row', 'add');
	expect(label).toMatch(/^Add it with \d{4}-\d\d-\d\d, like /);
	expect(value(now, 'station', 'tar_row', 'keeper.until')).toMatch(/^\d{4}/);
});

test('more than go at once are not called all', () => {
	const many = Array.from({ length: 230 }, (_, nth) => ({
		rule: 'twins-apart',
		repairs: [
			{ sort: 'twin' as const, label: '', intention: { do: 'take' as const, kind: 'role', id: String(nth) } }
		]
	}));
	const labels = repairsForAll(many, () => 'Twins differ').map(({ label }) => label);
	expect(labels).toEqual(['Make the first 200 the same']);
});
