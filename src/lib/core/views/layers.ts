import type { OtherValue } from '../layers';

/** What a layer says of something that another one changes too. */
export interface ClashValueView {
	layer: string;
	value: string | null;
	/** It only repeats what the game says. */
	copied: boolean;
	path: string;
	line: number;
}

/** Something that two or more layers change. */
export interface ClashView {
	/** Null for a file that is not data. */
	kind: string | null;
	kindTitle: string;
	record: string;
	name: string;
	field: string | null;
	fieldTitle: string;
	base: string | null;
	values: ClashValueView[];
	/** Id of the layer whose value the game uses. */
	wins: string;
	differs: boolean;
	/** My mod decides it. */
	settled: boolean;
	mine: boolean;
	/** A snag is on what wins now. */
	breaks: boolean;
	/** The value that counts by itself, because only one layer truly sets one. */
	rule: string | null;
	/** Other ways to settle it, each with the value it gives. */
	ways: { by: 'sum' | 'larger' | 'smaller' | 'joined'; value: string }[];
}

/** What two or more layers change, and the order in which they are loaded. */
export interface ClashesPage {
	slug: string;
	layers: { id: string; title: string; owner: string }[];
	/** The first of those that pass the filter. */
	clashes: ClashView[];
	/** How many pass each filter. */
	counts: { open: number; mine: number; differs: number; breaks: number; all: number };
	only: 'open' | 'mine' | 'differs' | 'breaks' | 'all';
	shown: number;
}

/** How the layers are ordered, and how they could be. */
export interface OrderView {
	/** An order that meets all demands, where the present one does not; ids from the game on. */
	offered: string[] | null;
	/** Why it has to be another one. */
	because: string[];
	impossible: string[];
}

/** What another order, or fewer layers, would change. */
export interface LayersPreview {
	values: OtherValue[];
	/** How many there are in all. */
	count: number;
	added: { id: string; severity: 'blocks' | 'warns' | 'note'; message: string }[];
	removed: { id: string; severity: 'blocks' | 'warns' | 'note'; message: string }[];
}
