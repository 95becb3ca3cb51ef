// What is told of each thing of my mod on a new version, and what can be chosen for it.
import * as z from 'zod';
import type { Prefer } from './three';

/** Something that a thing without a place could be now. */
export interface Candidate {
	kind: string | null;
	/** An id, a path of a field, or a path of a file. */
	value: string;
	because: string;
	/** Whether it can be chosen in its place. */
	fits: boolean;
}

/** One thing of my mod on the new version. */
export interface CarryItem {
	/** The same for the same thing, however the versions are: what is chosen for it is kept under this. */
	key: string;
	what: 'carried' | 'refreshed' | 'undecided' | 'homeless';
	/** What of it can be chosen by the modder, also where that is done by now; null where nothing can. */
	asks: 'undecided' | 'homeless' | null;
	/** Null for a file that is not data. */
	kind: string | null;
	/** The id in the new version; of one that is gone its old one; of a file its path. */
	record: string;
	name: string;
	/** The id, or the path, that it had before, where that was another one. */
	from: string | null;
	/** Null where the whole record or file is meant. */
	field: string | null;
	old: string | null;
	new: string | null;
	mine: string | null;
	result: string | null;
	/** Whether these are the items of a list: no single value can be put in its place. */
	list: boolean;
	/** What counted, where both sides changed it. */
	by: Prefer | 'both' | 'chosen' | null;
	/** A sentence. */
	why: string;
	candidates: Candidate[];
}

/** An item of which only some things are said. */
export const itemOf = (
	about: Partial<CarryItem> & Pick<CarryItem, 'key' | 'what' | 'kind' | 'record' | 'name' | 'why'>
): CarryItem => ({
	asks: about.what === 'undecided' || about.what === 'homeless' ? about.what : null,
	from: null,
	field: null,
	old: null,
	new: null,
	mine: null,
	result: null,
	list: false,
	by: null,
	candidates: [],
	...about
});

/** What is chosen for an item: one side, both changes, a value, another record in its place, or that it is let go. */
export const choiceSchema = z.union([
	z.enum(['mine', 'theirs', 'on-top', 'let-go']),
	z.object({ value: z.string().max(100_000) }),
	z.object({ place: z.object({ kind: z.string().max(500), id: z.string().max(500) }) })
]);
export type Choice = z.infer<typeof choiceSchema>;
