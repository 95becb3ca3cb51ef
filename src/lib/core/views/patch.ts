/** Lines of a file around a place where a part of a patch may belong. */
export interface PatchPlace {
	/** Line (of bytes: offset) as it is shown. */
	at: number;
	/** Line from 1, as a choice names it. */
	line: number;
	/** From 0 to 1. */
	likeness: number;
	lines: { number: number; text: string }[];
}

/** What a patch does to a file, part by part. */
export interface PatchedFile {
	path: string;
	of: 'text' | 'bytes';
	becomes: 'new' | 'gone' | 'changed';
	applied: boolean;
	already: boolean;
	reason: string;
	parts: {
		nth: number;
		applied: boolean;
		/** Line (of bytes: offset) where it goes; null where nothing is like it. */
		at: number | null;
		likeness: number;
		reason: string;
		removed: string[];
		added: string[];
		candidates: PatchPlace[];
	}[];
}

/** A patch held against my mod and the game. */
export interface PatchView {
	applied: boolean;
	files: PatchedFile[];
}
