// What deciding leans on, and what comes of it: for people a list of items, for each record what the game is to see.
import type { Stack } from '../stack';
import type { GameChanges } from './changes';
import type { CarryItem, Choice } from './items';
import type { MyRecord } from './mine';
import type { Moves } from './moves';
import type { Prefer, Unit } from './three';

/** What a record of the new version is to be with my mod. */
export interface Want {
	kind: string;
	id: string;
	/** The one that it comes from. */
	from: MyRecord;
	what: 'change' | 'add' | 'remove' | 'copy' | 'keep';
	/** All of its values; empty where it is to be gone. */
	values: ReadonlyMap<string, string>;
	/** Fields and lists that my mod says differently from the game. */
	own: ReadonlySet<string>;
}

export interface Decided {
	items: CarryItem[];
	wants: Want[];
}

export interface Deciding {
	/** The layers of the old version with my mod, and without it. */
	before: Stack;
	below: Stack;
	/** The layers of the new version without my mod. */
	after: Stack;
	changes: GameChanges;
	moves: Moves;
	prefer?: Prefer | undefined;
	choices?: ReadonlyMap<string, Choice> | undefined;
}

/** Shares of carrying over that are done when both versions are compared, and when all is decided. */
export const COMPARED = 0.6;
export const DECIDED = 0.8;

/** What is not there. */
export const NONE: Unit = new Map();

const columnar = new WeakMap<Stack, Map<string, boolean>>();

/** Whether the records of a kind are rows of a table in the new version: a field without a column has no place there. */
export function isColumnar({ after }: Deciding, kind: string): boolean {
	let known = columnar.get(after);
	if (!known) columnar.set(after, (known = new Map()));
	let found = known.get(kind);
	if (found === undefined)
		known.set(
			kind,
			(found = after.tables.get(kind)?.files.some(({ file }) => (file.doc?.columns.length ?? 0) > 0) === true)
		);
	return found;
}

/** Under what the choice for a record, or for a field of it, is kept. */
export const keyOf = (kind: string, id: string, field: string | null): string =>
	JSON.stringify([kind, id, field]);
