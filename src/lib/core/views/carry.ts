// Shapes in which a mod is shown while it is carried over to a new version of its game.
import type { CarryItem, Choice, FieldInShort } from '../carry';
import type { Spread } from '../numbers';

/** One thing of my mod, and what was chosen for it. */
export interface CarryCard extends Omit<CarryItem, 'candidates'> {
	candidates: (CarryItem['candidates'][number] & { kindTitle: string | null })[];
	kindTitle: string | null;
	fieldTitle: string | null;
	choice: Choice | null;
	/** My change on top of the new version's; null where that has no meaning. */
	top: string | null;
	/** The values of the field in the new version, where it is to be decided and holds numbers. */
	spread: Spread | null;
	unit: string | null;
}

/** All of my mod on a new version of its game. */
export interface CarryPage {
	slug: string;
	/** The layer that is the new version, and the one that is the base now. */
	to: string;
	from: string;
	/** What the new version is called. */
	title: string;
	counts: Record<CarryItem['what'], number>;
	/** How many choices are kept. */
	chosen: number;
	/** The first of each sort. */
	items: CarryCard[];
	most: number;
	/** What else follows to the new version, in sentences. */
	besides: string[];
	/** What the new version changed: how many records, which fields, how many files. */
	game: {
		new: number;
		gone: number;
		changed: number;
		renamed: number;
		moved: number;
		fields: (FieldInShort & { kind: string })[];
		files: number;
	};
}

/** How a carried mod fared in the new version, before anything was written. */
export interface CarryTrial {
	/** As the program ended; null where it was stopped. */
	status: number | null;
	refusals: number;
	lines: { text: string; refusal: boolean }[];
	more: number;
}
