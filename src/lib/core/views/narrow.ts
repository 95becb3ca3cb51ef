// Narrowing down which part of my mod brings a fault about.

/** Parts that are tried with and without. */
export type NarrowBy = 'steps' | 'records' | 'files' | 'options' | 'mods';

/** A part that is left out or not. */
export interface NarrowPart {
	/**
	 * The number of the step, the path of the file, kind and id of the record as a JSON list, the id of the option, or the
	 * name of the other mod.
	 */
	id: string;
	title: string;
}

/** One try, with some of the parts. */
export interface NarrowTry {
	/** Numbers of the parts that were in, from 0. */
	parts: number[];
	/** Those that came along because others stand on them. */
	along: number[];
	outcome: 'fails' | 'passes';
	/** Exit status of the game, lines of its log that refuse something, and how long it ran. */
	status: number | null;
	refused: number;
	milliseconds: number;
}

export interface NarrowView {
	slug: string;
	ready: boolean;
	/** Null where nothing was begun. */
	run: {
		by: NarrowBy;
		/** The line of the log that is looked for; null where it is that the game does not load cleanly. */
		line: string | null;
		parts: NarrowPart[];
		tries: NarrowTry[];
		/** Numbers of the parts that are being tried; null for none. */
		now: number[] | null;
		state: 'running' | 'stopped' | 'done';
		/** Why it stopped, where it did. */
		said: string | null;
		/** What was found; null while it is not done. */
		found: { none: 'without any' | 'not with all' | null; causes: number[][] } | null;
	} | null;
	/** How many parts there are now, to choose from. */
	counts: Record<NarrowBy, number>;
}
