// Where a record, field or file of the old version is in the new one, as far as that is sure.
import { addTo } from '../gather';
import { nearest } from '../links';
import type { Stack } from '../stack';
import type { GameChanges } from './changes';

/** From how sure on a record or field that has another name is followed by itself: a guess never writes. */
export const SURE = 0.8;

/** A place in the new version. */
export interface Moved {
	kind: string;
	id: string;
	sure: number;
}

/** Where things of the old version are now. */
export interface Moves {
	/** The record of the new version; undefined where it is gone, or nothing sure is known of it. */
	record(kind: string, id: string): Moved | undefined;
	/** Whether the record has another id or is of another kind. */
	isMoved(kind: string, id: string): boolean;
	/** The path of a field. */
	field(kind: string, path: string): string;
	/** Whether fields of a kind have other names or are gone. */
	fieldsChanged(kind: string): boolean;
	/** Whether a field is gone: no record has it any more, and none that is like it was found. */
	fieldGone(kind: string, path: string): boolean;
	file(path: string): string;
	/** Records that a gone one could be now, likeliest first. */
	candidates(kind: string, id: string): { kind: string; id: string; because: string }[];
	/** Fields that a gone one could be now. */
	fieldCandidates(kind: string, path: string): { path: string; because: string }[];
}

const percent = (sure: number): string => `${Math.round(sure * 100)} % sure`;

/** Candidates that are shown for what is gone. */
const MOST = 5;

/** What the changes of a game say about where things are. */
export function movesOf(changes: GameChanges, after: Stack): Moves {
	const records = new Map<string, Moved>();
	const unsure = new Map<string, Moved>();
	const key = (kind: string, id: string) => JSON.stringify([kind, id]);
	for (const { kind, record, from, what, sure } of changes.records) {
		if (!from || (what === 'moved' && from.kind === kind)) continue;
		(sure >= SURE ? records : unsure).set(key(from.kind, from.record), { kind, id: record, sure });
	}
	const fields = new Map<string, Map<string, string>>();
	const gone = new Map<string, Set<string>>();
	const fresh = new Map<string, string[]>();
	const guesses = new Map<string, { path: string; because: string }[]>();
	for (const one of changes.fields) {
		if (one.what === 'renamed' && one.sure >= SURE)
			fields.set(one.kind, (fields.get(one.kind) ?? new Map<string, string>()).set(one.from, one.to));
		else if (one.what === 'renamed') {
			gone.set(one.kind, (gone.get(one.kind) ?? new Set<string>()).add(one.from));
			guesses.set(key(one.kind, one.from), [
				{ path: one.to, because: `it says the same, ${percent(one.sure)}` }
			]);
		} else if (one.what === 'split') {
			gone.set(one.kind, (gone.get(one.kind) ?? new Set<string>()).add(one.from));
			const where = one.between === '' ? '' : ` “${one.between}”`;
			guesses.set(
				key(one.kind, one.from),
				one.to.map((path, nth) => ({
					path,
					because: `it says the ${nth === 0 ? 'first' : 'second'} part${where && `, ${nth === 0 ? 'before' : 'after'}${where}`}, ${percent(one.sure)}`
				}))
			);
		} else if (one.what === 'gone')
			gone.set(one.kind, (gone.get(one.kind) ?? new Set<string>()).add(one.path));
		else addTo(fresh, one.kind, one.path);
	}
	const files = new Map(
		changes.files.flatMap(({ path, from }): [string, string][] => (from === undefined ? [] : [[from, path]]))
	);
	return {
		record(kind, id) {
			const moved = records.get(key(kind, id));
			if (moved) return moved;
			return after.tables.get(kind)?.byId.has(id) ? { kind, id, sure: 1 } : undefined;
		},
		isMoved: (kind, id) => records.has(key(kind, id)),
		field: (kind, path) => fields.get(kind)?.get(path) ?? path,
		fieldsChanged: (kind) => fields.has(kind) || gone.has(kind),
		fieldGone: (kind, path) => gone.get(kind)?.has(path) === true,
		file: (path) => files.get(path) ?? path,
		candidates(kind, id) {
			const guess = unsure.get(key(kind, id));
			const elsewhere = [...after.tables.values()].filter(
				(table) => table.kind !== kind && table.byId.has(id)
			);
			const table = after.tables.get(kind);
			const alike = table ? nearest(id, [...table.byId.keys()]) : [];
			return [
				...(guess
					? [{ kind: guess.kind, id: guess.id, because: `what it says is alike, ${percent(guess.sure)}` }]
					: []),
				...elsewhere.map((other) => ({ kind: other.kind, id, because: `it has the same id` })),
				...alike
					.filter((other) => other !== guess?.id)
					.map((other) => ({ kind, id: other, because: 'its id is alike' }))
			].slice(0, MOST);
		},
		fieldCandidates(kind, path) {
			const own = guesses.get(key(kind, path)) ?? [];
			const others = nearest(path, fresh.get(kind) ?? []);
			return [
				...own,
				...others
					.filter((other) => !own.some((guess) => guess.path === other))
					.map((other) => ({ path: other, because: 'it is new, and its name is alike' }))
			].slice(0, MOST);
		}
	};
}
