// One step of the ledger undone, whatever came after it: by place where its places are untouched, else by value.
import {
	applySplices,
	changeOf,
	contentOf,
	invertSplices,
	mapSplices,
	type Content,
	type FileChange,
	type FileContent,
	type Plan,
	type Splice
} from '../change';
import { isEditable, isInBase, valueOf, type Stack } from '../stack';
import { textLike, type TextFile } from '../text';
import { myFiles } from './after';
import { setValues } from './follow';
import type { Reversing } from './intentions';
import { removeRecord } from './steps';
import { prune } from './sparse';
import { isText, NotPossible, startWork, textBefore, write } from './work';

type Later = Reversing['later'][number];

/** A file as it was before the step; undefined where my mod did not have it. */
type FileThen = (path: string) => FileContent | undefined;

/** The splices that take a change back, mapped over all that came since; the title of the step in the way otherwise. */
function mappedBack(
	change: FileChange,
	old: FileContent | undefined,
	later: readonly Later[]
): { splices: Splice<Content>[] | null } | string {
	// What is known by its digests only comes back as a whole, or not by place.
	let splices: Splice<Content>[] | null =
		change.splices && invertSplices<Content>(old ? contentOf(old) : '', change.splices as Splice<Content>[]);
	for (const { title, changes } of later) {
		const over = changes.find(({ path, movedFrom }) => path === change.path || movedFrom === change.path);
		if (!over) continue;
		const apart = over.after === null || over.before === null || over.movedFrom !== undefined;
		const mapped =
			apart || over.of !== change.of || !splices || !over.splices
				? null
				: mapSplices(splices, over.splices as Splice<Content>[]);
		if (!mapped) return title;
		splices = mapped;
	}
	return { splices };
}

/** A file as it is, spliced; null where there is nothing to splice. */
function spliced(
	now: FileContent | undefined,
	old: FileContent | undefined,
	splices: Splice<Content>[] | null
): FileContent | undefined {
	if (splices === null || (old ?? now) instanceof Uint8Array !== (now ?? old) instanceof Uint8Array)
		return old;
	const like = now ?? old;
	if (like === undefined) return undefined;
	if (like instanceof Uint8Array)
		return applySplices(
			(now as Uint8Array | undefined) ?? new Uint8Array(0),
			splices as Splice<Uint8Array>[]
		);
	const text = applySplices((now as TextFile | undefined)?.text ?? '', splices as Splice[]);
	return textLike(text, like, like);
}

/** By place; the title of the later step that is in the way where that cannot be done. */
function byPlace(
	step: Plan,
	later: readonly Later[],
	before: FileThen,
	present: FileThen
): FileChange[] | string {
	const changes: FileChange[] = [];
	for (const change of step.changes) {
		const { path, movedFrom = path } = change;
		const old = before(movedFrom);
		const found = mappedBack(change, old, later);
		if (typeof found === 'string') return found;
		const now = present(path);
		const since = later.find((other) =>
			other.changes.some((one) => [path, movedFrom].includes(one.path) || one.movedFrom === path)
		);
		// A file that the step made or moved goes only when nobody put anything into it since.
		if (since && (change.before === null || movedFrom !== path)) return since.title;
		if (change.before === null) {
			changes.push(changeOf(path, now, undefined, now ? emptied(now) : []));
			continue;
		}
		const next = spliced(now, old, found.splices);
		changes.push(changeOf(movedFrom, now, next, found.splices, path));
	}
	return changes.filter(({ before: was, after, movedFrom }) => was !== after || movedFrom !== undefined);
}

/** What takes all of a file away. */
const emptied = (file: FileContent): Splice<Content>[] => [
	{ from: 0, to: contentOf(file).length, insert: file instanceof Uint8Array ? new Uint8Array(0) : '' }
];

/** By value: what still says what the step made it say says again what it said before. */
function byValue(stack: Stack, step: Plan, mod: string, blocker: string): Plan {
	const { work, notes } = startWork(stack, mod, ['derived', 'twin', 'counter']);
	const { draft } = work;
	const refuse = (why: string): never => {
		throw new NotPossible(`${why} The later step “${blocker}” changed the same place; undo that one first.`);
	};
	for (const { kind, id, name, field, before, after } of step.values) {
		if (before === null || after === null)
			refuse(`${name} was added or removed by this step; that cannot be undone value by value.`);
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
			!mine ||
			!isEditable(mine.layer) ||
			stack.guide.kinds[kind]!.merge === 'file' ||
			!isInBase(record)
		)
			continue;
		if (stack.guide.kinds[kind]!.merge === 'field') {
			if (!prune(draft, { path: mine.path, kind, id }, record))
				removeRecord(draft, { path: mine.path, kind, id }, work.say);
			continue;
		}
		const below = record.presences.findLast(({ layer }) => !isEditable(layer));
		const node = draft.record({ path: mine.path, kind, id });
		const same =
			node &&
			below &&
			node.fields.length === below.fields.length &&
			below.fields.every(({ path, value }) =>
				node.fields.some((one) => one.path === path && String(one.value ?? '') === value)
			);
		if (same) removeRecord(draft, { path: mine.path, kind, id }, work.say);
	}
	return {
		title: `Reverse: ${step.title}`,
		changes: draft.changes(),
		values: work.values,
		notes: [...notes]
	};
}

/**
 * The plan that takes one step back, in the mod of a stack.
 * @throws NotPossible where a later step changed the same place; names it
 */
export function reversePlan(stack: Stack, { step, later, before }: Reversing, mod: string): Plan {
	const files = myFiles(stack);
	const changes = byPlace(step, later, before, (path) => files.get(path));
	if (typeof changes === 'string') return byValue(stack, step, mod, changes);
	if (changes.length === 0) throw new NotPossible('This step is already undone.');
	const values = step.values
		.map((value) => ({ ...value, before: value.after, after: value.before }))
		.reverse();
	return { title: `Reverse: ${step.title}`, changes, values, notes: [] };
}
