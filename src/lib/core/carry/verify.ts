// Files as they would be, read again and compared with what is wanted.
import type { FileContent } from '../change';
import { valuesOf } from '../edits';
import { claimsOf, hintsFor, isFromPath, type Claim } from '../guide';
import { fileBelow, openFileOf, recordKey, unitOf } from '../stack';
import type { Want } from './deciding';
import { valuesIn } from './mine';
import type { Unit } from './three';
import { stackWith, type MyFile, type Writing } from './writing';

/** What names a record, and what is made from its path, is said by where it stands. */
export const bare = (values: Unit, key: string | undefined): Unit =>
	new Map([...values].filter(([path]) => path !== key && !isFromPath(path)));

/** The first value in which a record is not as it is to be, as a sentence; null where it is. */
function unlike(id: string, is: Unit, wanted: Unit): string | null {
	for (const path of new Set([...wanted.keys(), ...is.keys()]))
		if (is.get(path) !== wanted.get(path))
			return `${path} of ${id} would be ${is.get(path) ?? 'absent'} instead of ${wanted.get(path) ?? 'absent'}.`;
	return null;
}

/** Works something out when it is first asked for. */
function once<T>(work: () => T): () => T {
	let known: { is: T } | null = null;
	return () => (known ??= { is: work() }).is;
}

/** What is wrong with the records of one kind in a file as it would be; null where all are as they are wanted. */
function wrongIn(
	{ after }: Writing,
	{ kind, language, removes }: Claim,
	values: ReadonlyMap<string, Unit>,
	base: () => ReadonlyMap<string, Unit>,
	wants: ReadonlyMap<string, Want>
): string | null {
	const { key, merge } = after.guide.kinds[kind]!;
	for (const [id, said] of values) {
		const is = bare(said, key);
		const want = wants.get(id);
		if (removes) {
			const there = after.tables.get(kind)?.byId.get(id);
			const wrong =
				there && want?.what === 'remove'
					? unlike(id, is, bare(valuesIn(there), key))
					: `${id} is not to be removed.`;
			if (wrong) return wrong;
			continue;
		}
		if (want?.what === 'remove') return `${id} would still be there.`;
		const whole = want && want.what !== 'copy' ? want.values : base().get(id);
		if (!whole) return `${id} would be there.`;
		const wanted = bare(whole, key);
		if (language !== undefined) {
			if (is.get(language) !== wanted.get(language)) return `The text of ${id} would not be as planned.`;
		} else if (merge === 'field') {
			const own = [...wanted].filter(([path]) => is.has(path) || want?.own.has(unitOf(path)));
			const wrong = unlike(id, is, new Map(own));
			if (wrong) return wrong;
		} else {
			const wrong = unlike(id, is, wanted);
			if (wrong) return wrong;
		}
	}
	if (!removes && merge === 'file')
		for (const id of base().keys())
			if (!values.has(id) && wants.get(id)?.what !== 'remove') return `${id} would be gone.`;
	return null;
}

/**
 * What is not as it is wanted in files as they would be: a record of theirs, or one that they should not change; null where
 * all is.
 */
export function unlikeWanted(
	writing: Writing,
	{ claims, wants }: Pick<MyFile, 'claims' | 'wants'>,
	files: ReadonlyMap<string, FileContent>
): string | null {
	const { after } = writing;
	const { guide, pool } = after;
	/** Records that are in one of the files. */
	const found = new Set<string>();
	for (const [path, content] of files) {
		const file = openFileOf(path, content, hintsFor(guide, path), pool);
		if (
			file.facts &&
			file.facts.problems.length > 0 &&
			!writing.before.mine?.files.get(path)?.facts?.problems.length
		)
			return `${path} could not be read whole.`;
		const below = fileBelow(after, path);
		for (const claim of claimsOf(guide, path)) {
			const byId = new Map(wants.filter(({ kind }) => kind === claim.kind).map((want) => [want.id, want]));
			const values = valuesOf(file, claim);
			const wrong = wrongIn(
				writing,
				claim,
				values,
				once(() => valuesOf(below, claim)),
				byId
			);
			if (wrong) return wrong;
			for (const id of values.keys()) found.add(recordKey(claim.kind, id));
		}
	}
	const removers = claims.some(({ removes }) => removes);
	for (const { kind, id, what } of wants) {
		const there = found.has(recordKey(kind, id));
		if (what === 'remove') {
			const record = after.tables.get(kind)?.byId.get(id);
			const isWhole = guide.kinds[kind]?.merge === 'file';
			if (record && !there && (removers || (isWhole && !files.has(record.presences.at(-1)!.path))))
				return `${id} would still be there.`;
		} else if (what !== 'copy' && !there) return `${id} would be gone.`;
	}
	return null;
}

/**
 * Records of which all files of my mod together do not make what is wanted, with what is wrong: a last look at the game as
 * it will be.
 */
export function* wrongTogether(
	{ after, wants }: Writing,
	files: ReadonlyMap<string, FileContent>
): Generator<{ want: Want; why: string }> {
	const stack = stackWith(after, files, new Set(wants.map(({ kind }) => kind)));
	for (const want of wants) {
		const { kind, id, what } = want;
		const key = after.guide.kinds[kind]?.key;
		const record = stack.tables.get(kind)?.byId.get(id);
		const wrong =
			what === 'remove'
				? record && `${id} is still there.`
				: record
					? unlike(id, bare(valuesIn(record), key), bare(want.values, key))
					: `${id} is gone.`;
		if (wrong) yield { want, why: wrong };
	}
}
