import type { FormatId } from './document';

/** Punctuation of block text: nested `name … { … }`. */
export interface BlockLayout {
	shape: 'block';
	/** What begins and ends a block. */
	open: string;
	close: string;
	/** What stands between a name and its value; empty for nothing but space. */
	assign: string;
	/** What may stand between a name and the block that it opens. */
	openAfter: string;
	/** What ends a value; empty for the line end. */
	end: string;
	/** What begins and ends a list of values, and stands between them; empty for none. */
	listOpen: string;
	listClose: string;
	listSeparator: string;
	quotes: string;
	/** Mark that takes the next character of a text as it is; empty for none. */
	escape: string;
	/** What begins commentary up to the line end. */
	comments: string[];
	/** What begins and ends commentary anywhere; null for none. */
	blockComment: [string, string] | null;
}

/** Lines whose values mean something by their position. */
export interface PositionalLayout {
	shape: 'positional';
	/** What stands between the values of a line; empty for any space. */
	separator: string;
	comments: string[];
	/** The lines before the first record, each with the names of its values. */
	head: string[][];
	/** The lines of one record, each with the names of its values. */
	record: string[][];
	/** Name of the value in the head that counts the records. */
	count: string | null;
}

/** Lines that are one record each. */
export interface LinesLayout {
	shape: 'lines';
	/** Regular expression with named groups, which are the fields; each line is one field `text` without it. */
	pattern: string | null;
	comments: string[];
}

/** How a format that only the guide knows is written. */
export type Layout = BlockLayout | PositionalLayout | LinesLayout;

/** The format by which a layout is read. */
export const formatOfLayout = (layout: Layout): FormatId => layout.shape;
