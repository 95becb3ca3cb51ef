// One step of the ledger taken back, whatever came after it: by place where its places are untouched, else by value.
import { applySplices, changeOf, invertSplices, mapSplices, type FileChange, type Plan } from '../change';
import { isInBase, valueOf, type Stack } from '../stack';
import { textLike, type TextFile } from '../text';
import { setValues } from './follow';
import { removeRecord } from './steps';
import { isText, NotPossible, startWork, textBefore, write } from './work';

/** A later step of the ledger, as far as it touches files. */
export type Later = Pick<Plan, 'title' | 'changes'>;

/** A file as it was before the step; undefined where my mod did not have it. */
export type Before = (path: string) => TextFile | undefined;

/** The later step that touched the same place; null where none did and the splices are those for the text of now. */
function follow(
	change: FileChange,
	text: string,
	later: readonly Later[]
): { splices: FileChange['splices'] } | string {
	// What is no text is known by its digests only: it comes back as a whole, or not by place.
	let splices: FileChange['splices'] = change.whole ? [] : invertSplices(text, change.splices);
	for (const { title, changes } of later) {
		const over = changes.find(({ path }) => path === change.path);
		if (!over) continue;
		const apart = over.after === null || over.before === null || over.whole || change.whole;
		const mapped = apart ? null : mapSplices(splices, over.splices);
		if (!mapped) return title;
		splices = mapped;
	}
	return { splices };
}

/** By place; the title of the later step that is in the way where that cannot be done. */
function byPlace(
	step: Plan,
	later: readonly Later[],
	before: Before,
	present: Before
): FileChange[] | string {
	const changes: FileChange[] = [];
	for (const change of step.changes) {
		const old = before(change.path);
		const found = follow(change, old?.text ?? '', later);
		if (typeof found === 'string') return found;
		const now = present(change.path);
		const untouched = !later.some((other) => other.changes.some(({ path }) => path === change.path));
		// A file that the step made goes only when nobody put anything into it since.
		if (change.before === null && untouched) {
			changes.push(
				changeOf(change.path, now, undefined, [{ from: 0, to: now?.text.length ?? 0, insert: '' }])
			);
			continue;
		}
		if (change.before === null)
			return later.find((other) => other.changes.some(({ path }) => path === change.path))!.title;
		const back = [{ from: 0, to: now?.text.length ?? 0, insert: old?.text ?? '' }];
		const splices = change.whole ? back : found.splices;
		const next = textLike(applySplices(now?.text ?? '', splices), change, now ?? old);
		changes.push(changeOf(change.path, now, next, splices));
	}
	return changes.filter(({ before: was, after }) => was !== after);
}

/** By value: what still says what the step made it say says again what it said before. */
function byValue(stack: Stack, step: Plan, mod: string, blocker: string): Plan {
	const { work, notes } = startWork(stack, mod, ['derived', 'twin', 'counter']);
	const { draft } = work;
	const refuse = (why: string): never => {
		throw new NotPossible(
			`${why} The later step “${blocker}” changed the same place; take that one back first.`
		);
	};
	for (const { kind, id, name, field, before, after } of step.values) {
		if (before === null || after === null)
			refuse(`${name} came or went with this step, which cannot be told value by value.`);
		const record = stack.tables.get(kind)?.byId.get(id);
		const now = isText(stack, kind)
			? textBefore(stack, id, field)
			: record && (valueOf(record, field) ?? null);
		if (now === undefined) refuse(`${name} is no longer there.`);
		if (now !== after)
			refuse(`${field} of ${name} is ${now || 'nothing'} by now, and was set to ${after || 'nothing'}.`);
		if (isText(stack, kind)) write(work, id, field, before!);
		else setValues(work, [{ record: record!, field, value: before! }]);
	}
	// A record that says what the layers below say is no longer needed.
	for (const { kind, id } of step.values) {
		const record = stack.tables.get(kind)?.byId.get(id);
		const mine = record?.presences.at(-1);
		if (
			!record ||
			mine?.layer.role !== 'mine' ||
			stack.guide.kinds[kind]!.merge !== 'record' ||
			!isInBase(record)
		)
			continue;
		const below = record.presences.findLast(({ layer }) => layer.role !== 'mine');
		const node = draft.record(mine.path, id);
		const same =
			node &&
			below &&
			node.fields.length === below.fields.length &&
			below.fields.every(({ path, value }) =>
				node.fields.some((one) => one.path === path && String(one.value ?? '') === value)
			);
		if (same) removeRecord(draft, mine.path, id, undefined, work.say);
	}
	return {
		title: `Reverse: ${step.title}`,
		changes: draft.changes(),
		values: work.values,
		notes: [...notes]
	};
}

/**
 * The plan that takes one step back.
 * @param later the steps since, the oldest first
 * @param before my mod's files right before the step
 * @param present my mod's files as they are now
 * @throws NotPossible where a later step changed the same place; names it
 */
export function reversePlan(
	stack: Stack,
	step: Plan,
	{ later, before, present, mod }: { later: readonly Later[]; before: Before; present: Before; mod: string }
): Plan {
	const changes = byPlace(step, later, before, present);
	if (typeof changes === 'string') return byValue(stack, step, mod, changes);
	if (changes.length === 0) throw new NotPossible('What this step did is undone already.');
	const values = step.values
		.map((value) => ({ ...value, before: value.after, after: value.before }))
		.reverse();
	return { title: `Reverse: ${step.title}`, changes, values, notes: [] };
}
