import type { Plan, ValueChange } from './plan';

/** What several steps, the oldest first, come to for each value; values that are again what they were are left out. */
export function netChanges(steps: readonly Pick<Plan, 'values'>[]): ValueChange[] {
	const net = new Map<string, ValueChange>();
	for (const { values } of steps)
		for (const value of values) {
			const key = JSON.stringify([value.kind, value.id, value.field]);
			const known = net.get(key);
			net.set(key, known ? { ...value, before: known.before } : value);
		}
	return [...net.values()].filter(({ before, after }) => before !== after);
}
