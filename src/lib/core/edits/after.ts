// What my mod, and the stack with it, are after a plan that is not done yet.
import { applyPlan, type Files, type Plan } from '../change';
import { buildStack, fileContent, ownFiles, withFiles, type Stack } from '../stack';

/** The files of my mod, by path; empty where there is none. */
export const myFiles = (stack: Stack): Files =>
	new Map([...ownFiles(stack.mine?.files ?? new Map())].map(([path, file]) => [path, fileContent(file)]));

/**
 * The stack after a plan, made from what is known of the one before.
 * @throws ChangedUnderneath when the plan was made for other files
 */
export function stackAfter(stack: Stack, plan: Pick<Plan, 'changes'>): Stack {
	const next = applyPlan(myFiles(stack), plan);
	const changed = new Map(plan.changes.map(({ path }) => [path, next.get(path) ?? null]));
	const { guide, layers, pool } = stack;
	return buildStack(
		layers.map((layer, at) =>
			layer === stack.mine ? withFiles(layer, changed, guide, pool, layers.slice(0, at)) : layer
		),
		guide,
		pool,
		stack
	);
}
