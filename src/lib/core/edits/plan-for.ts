import type { Plan } from '../change';
import type { Stack } from '../stack';
import { intentionOf, type Besides, type Intention } from './intentions';
import { noteShared } from './shared';
import { NothingToDo, NotPossible, startWork } from './work';

/** What of an intention is declined, asked for, and why: not every one has all of it. */
type Declining = Partial<Pick<Extract<Intention, { do: 'set' }>, 'without' | 'including' | 'reason'>>;

/**
 * The plan that carries out an intention on my mod: every file and every value, nothing done yet.
 * @param mod folder-safe name of my mod
 * @throws NotPossible, StaleValue, EditRefused: nothing has changed; the message says why
 */
export function planFor(stack: Stack, intention: Intention, mod: string, besides: Besides = {}): Plan {
	if (!stack.mine) throw new NotPossible('This project has no mod of yours to write to.');
	const kind = intentionOf(intention.do)!;
	if ('whole' in kind) return kind.whole({ stack, mod, besides }, intention);
	const { without, including, reason } = intention as Declining;
	const { work, notes } = startWork(stack, mod, without, including);
	const title = kind.draft(work, intention, besides);
	const changes = work.draft.changes();
	noteShared(
		work,
		changes.map(({ path }) => path)
	);
	if (changes.length === 0) throw new NothingToDo('This changes nothing: the value is already set.');
	if (work.without.size > 0)
		notes.add(`Left out this time (${[...work.without].join(', ')})${reason ? `: ${reason}` : ''}.`);
	const detected = [...work.detected].map(([by, count]) => ({ by, count }));
	return {
		title,
		changes,
		values: work.values,
		notes: [...notes],
		...(detected.length > 0 ? { detected } : {})
	};
}
