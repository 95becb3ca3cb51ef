import * as z from 'zod';
import { joined } from '../../change';
import { isFromPath } from '../../guide';
import { counted } from '../../wording';
import { plansInOrder } from '../in-order';
import { NothingToDo, NotPossible } from '../work';
import { intentionSchema, type Intention } from '.';
import type { Bound } from './intention';

const schema = z.object({
	do: z.literal('several'),
	title: z.string().min(1).max(200),
	/** Each is an intention by itself. */
	steps: z.array(z.record(z.string(), z.unknown())).min(1).max(500)
});

/** Single values of one kind that are set one after another, as one step. */
function together(steps: readonly Intention[]): Intention[] {
	const found: Intention[] = [];
	for (const step of steps) {
		const last = found.at(-1);
		if (step.do !== 'set' || isFromPath(step.field)) found.push(step);
		else {
			const cell = { id: step.id, field: step.field, value: step.value };
			if (last?.do === 'cells' && last.kind === step.kind) last.cells.push(cell);
			else found.push({ do: 'cells', kind: step.kind, cells: [cell] });
		}
	}
	return found;
}

/** Several changes as one step that can be undone as one. */
export const several: Bound<typeof schema> = {
	schema,
	bound: 'does several things at once',
	whole(on, { title, steps }) {
		const read = steps.map((step) => {
			const parsed = intentionSchema.safeParse(step);
			if (!parsed.success || parsed.data.do === 'several')
				throw new NotPossible('One of these steps is not known. Nothing has changed.');
			return parsed.data;
		});
		const { plans } = plansInOrder(on, together(read), (nth) => `Change ${nth}`);
		if (plans.length === 0) throw new NothingToDo('Nothing to change: all of it is already done.');
		const whole = joined(title, plans);
		whole.notes.unshift(`${counted(steps.length, 'change')} as one step.`);
		return whole;
	},
	words: ({ said }) => said('title')
};
