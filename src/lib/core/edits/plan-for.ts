import type { Plan } from '../change';
import type { Links } from '../links';
import { displayName, type Stack } from '../stack';
import type { TextFile } from '../text';
import { planToBring } from './bring';
import { copy } from './copy';
import { put } from './files';
import type { Intention } from './intention';
import type { SaidBy } from './many';
import { item, move } from './order';
import { replay } from './recipe';
import { back, remove } from './remove';
import { rename } from './rename';
import { noteShared } from './shared';
import { take } from './steps';
import { cells, change, fill, set } from './values';
import { find, NothingToDo, NotPossible, plural, startWork, write, type Work } from './work';

/** What a plan may need besides the stack. */
export interface Besides {
	/** For `bring`: the files as they are outside. */
	brought?: ReadonlyMap<string, TextFile | null>;
	/** The links of the stack, where they are known. */
	links?: Links | undefined;
	/** What another layer or version says of a field. */
	said?: SaidBy;
}

type Simple = Exclude<Intention, { do: 'bring' | 'reverse' | 'recipe' }>;

function act(work: Work, intention: Simple, { links, said }: Besides): string {
	switch (intention.do) {
		case 'set':
			return set(work, intention);
		case 'fill':
			return fill(work, intention);
		case 'cells':
			return cells(work, intention);
		case 'change':
			return change(work, intention, said);
		case 'copy':
			return copy(work, intention, links);
		case 'rename':
			return rename(work, intention, links);
		case 'remove':
			return remove(work, intention, links);
		case 'back':
			return back(work, intention);
		case 'move':
			return move(work, intention);
		case 'put':
			return put(work, intention);
		case 'item':
			return item(work, intention);
		case 'take': {
			const record = find(work.stack, intention.kind, intention.id);
			take(work.draft, record, work.say);
			return `Take ${displayName(work.stack, record)} into my mod`;
		}
		case 'write': {
			for (const { key, language, text } of intention.texts) write(work, key, language, text);
			const keys = new Set(intention.texts.map((text) => text.key));
			return keys.size === 1 ? `Write text ${[...keys][0]}` : `Write ${plural(keys.size, 'text')}`;
		}
	}
}

/**
 * The plan that carries out an intention on my mod: every file and every value, nothing done yet.
 * @param mod folder-safe name of my mod
 * @throws NotPossible, StaleValue, EditRefused: nothing was changed; the message says why
 */
export function planFor(stack: Stack, intention: Intention, mod: string, besides: Besides = {}): Plan {
	if (!stack.mine) throw new NotPossible('This project has no mod of mine to write into.');
	if (intention.do === 'reverse') throw new NotPossible('A step is reversed from the ledger.');
	if (intention.do === 'bring') {
		const plan = planToBring(stack, besides.brought ?? new Map());
		if (plan.changes.length === 0) throw new NotPossible('My mod is already as these files are.');
		return plan;
	}
	if (intention.do === 'recipe')
		return replay(stack, intention, besides.links, (now, step, links) =>
			planFor(now, step, mod, { ...besides, links })
		);
	const { work, notes } = startWork(
		stack,
		mod,
		'without' in intention ? intention.without : [],
		'including' in intention ? intention.including : []
	);
	const title = act(work, intention, besides);
	const changes = work.draft.changes();
	noteShared(
		work,
		changes.map(({ path }) => path)
	);
	if (changes.length === 0) throw new NothingToDo('This would change nothing: the value is already so.');
	if (work.without.size > 0) {
		const why = 'reason' in intention && intention.reason ? `: ${intention.reason}` : '';
		notes.add(`Does not follow this time (${[...work.without].join(', ')})${why}.`);
	}
	const detected = [...work.detected].map(([by, count]) => ({ by, count }));
	return {
		title,
		changes,
		values: work.values,
		notes: [...notes],
		...(detected.length > 0 ? { detected } : {})
	};
}
