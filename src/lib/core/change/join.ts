// Plans put together: one after the other, or beside each other.
import { netChanges } from './between';
import { applyPlan, changeOf, type FileChange, type FileContent, type Files, type Plan } from './plan';
import { applySplices, composeSplices, joinSplices, type Content, type Splice } from './splice';

/** A change and one that comes after it, as one; undefined where the file is again what it was before both. */
function composed(first: FileChange, second: FileChange): FileChange | undefined {
	const movedFrom = first.movedFrom ?? (second.movedFrom === undefined ? undefined : first.path);
	const about = {
		path: second.path,
		before: first.before,
		after: second.after,
		...(movedFrom === undefined || movedFrom === second.path ? {} : { movedFrom })
	};
	if (about.before === about.after && !('movedFrom' in about)) return undefined;
	if (first.of === 'text' && second.of === 'text') {
		const { encoding, bom } = second;
		return { ...about, of: 'text', encoding, bom, splices: composeSplices(first.splices, second.splices) };
	}
	const bytes = first.of === 'bytes' && second.of === 'bytes' && first.splices && second.splices;
	return {
		...about,
		of: 'bytes',
		splices: bytes ? composeSplices(first.splices!, second.splices!) : null
	};
}

/** One plan that does what several do one after the other. */
export function joined(title: string, plans: readonly Plan[]): Plan {
	const changes = new Map<string, FileChange>();
	for (const change of plans.flatMap((plan) => plan.changes)) {
		const from = change.movedFrom ?? change.path;
		const known = changes.get(from);
		changes.delete(from);
		const next = known ? composed(known, change) : change;
		if (next) changes.set(change.path, next);
	}
	return {
		title,
		changes: [...changes.values()],
		values: netChanges(plans),
		notes: [...new Set(plans.flatMap((plan) => plan.notes))]
	};
}

/** Two plans that were made for the same files cannot be done together: both change the same place of one. */
export interface Clash {
	path: string;
}

/** Two changes of one file as one; null where they touch. */
function besideEachOther(present: FileContent | undefined, a: FileChange, b: FileChange): FileChange | null {
	if (a.after === b.after && a.path === b.path) return a;
	const moved = a.movedFrom ?? b.movedFrom;
	if (a.path !== b.path || moved !== undefined || a.of !== b.of) return null;
	if (a.before === null || a.after === null || b.after === null || !a.splices || !b.splices) return null;
	const splices = joinSplices<Content>(a.splices as Splice<Content>[], b.splices as Splice<Content>[]);
	if (!splices || present === undefined) return null;
	if (present instanceof Uint8Array)
		return changeOf(a.path, present, applySplices(present, splices as Splice<Uint8Array>[]), splices);
	if (a.of !== 'text') return null;
	const { encoding, bom } = a;
	const next = { ...present, encoding, bom, text: applySplices(present.text, splices as Splice[]) };
	return changeOf(a.path, present, next, splices);
}

/**
 * One plan that does what two do that were made for the same files; the first place where they touch otherwise.
 * Law: it does what the one does after the other, whichever comes first.
 */
export function besides(files: Files, a: Plan, b: Plan): Plan | Clash {
	const own = new Map(a.changes.map((change) => [change.movedFrom ?? change.path, change]));
	const targets = new Set(a.changes.map(({ path }) => path));
	for (const change of b.changes) {
		const from = change.movedFrom ?? change.path;
		const other = own.get(from);
		if (!other) {
			if (targets.has(change.path)) return { path: change.path };
			own.set(from, change);
			continue;
		}
		const both = besideEachOther(files.get(from), other, change);
		if (!both) return { path: from };
		own.set(from, both);
	}
	const plan: Plan = {
		title: `${a.title}; ${b.title}`,
		changes: [...own.values()],
		values: [...a.values, ...b.values],
		notes: [...new Set([...a.notes, ...b.notes])]
	};
	// What cannot be applied is no plan.
	applyPlan(files, plan);
	return plan;
}
