// Several intentions one after another, each on what those before it leave.
import type { Plan } from '../change';
import { buildLinks } from '../links';
import type { Stack } from '../stack';
import { stackAfter } from './after';
import type { Besides, Intention } from './intentions';
import { planFor } from './plan-for';
import { NothingToDo, NotPossible } from './work';

/** What came of several steps: their plans, and the numbers (from 1) of those with nothing to do. */
export interface InOrder {
	plans: Plan[];
	idle: number[];
}

/**
 * The plans of several steps. Those with nothing to do are left out.
 * @param called what a step is called in a fault: `Step 3 of the recipe`
 * @throws NotPossible naming the step that cannot be done
 */
export function plansInOrder(
	{ stack, mod, besides }: { stack: Stack; mod: string; besides: Besides },
	steps: readonly Intention[],
	called: (nth: number) => string
): InOrder {
	const plans: Plan[] = [];
	const idle: number[] = [];
	let now = stack;
	let known = besides.links;
	steps.forEach((step, at) => {
		try {
			const made = planFor(now, step, mod, { ...besides, links: known });
			plans.push(made);
			if (at === steps.length - 1) return;
			now = stackAfter(now, made);
			known = known && buildLinks(now, known);
		} catch (fault) {
			if (fault instanceof NothingToDo) idle.push(at + 1);
			else if (fault instanceof Error && !(fault instanceof TypeError))
				throw new NotPossible(`${called(at + 1)} cannot be done: ${fault.message}`);
			else throw fault;
		}
	});
	return { plans, idle };
}
