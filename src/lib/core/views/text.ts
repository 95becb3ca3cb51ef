import type { ReadHints } from '../formats';

/** A text that is edited as a whole; its words are fetched apart. */
export interface TextPage {
	slug: string;
	path: string;
	/** Id and title of the layer that the text comes from; null for a new file. */
	layer: { id: string; title: string } | null;
	/** Whether my mod has it already. */
	mine: boolean;
	/** Digest of the file on which the typing begins; null for a new one. */
	from: string | null;
	/** How it is written: encoding, byte-order mark, the end of its lines. */
	encoding: string;
	bom: boolean;
	eol: '\n' | '\r\n' | '\r';
	/** Of a new file: the path of the one that it is a copy of. */
	model: string | null;
	/** Of a new file: the text to begin with. */
	text: string | null;
	/** Whether names in it can be renamed by the rules of its language. */
	renames: boolean;
	/** Where ids of records are offered: arguments of calls from 1, 0 for comparisons. */
	places: { call: string; argument: number; kinds: string[] }[];
	/** How it is read as data, and the kinds that its records are of, in the order of the parts. */
	hints: ReadHints;
	kinds: { kind: string; title: string }[];
}

/** Where a new file of my mod may go, and how its neighbours are written. */
export interface NewFilePage {
	slug: string;
	/** Folders that have files, those of my mod first. */
	folders: { path: string; written: WrittenLike }[];
	/** The path that was asked for, and a file to begin with. */
	path: string;
	model: string | null;
}

/** How the texts of a folder are written. */
export interface WrittenLike {
	encoding: string;
	bom: boolean;
	eol: '\n' | '\r\n' | '\r';
	/** The ending that most of them have, with its point. */
	ending: string;
}
