/** A number or a text that stands in a line of a script. */
export interface LiteralView {
	nth: number;
	/** As it is written, with quotes. */
	raw: string;
	value: string;
	of: 'number' | 'text';
	/** Where in the line it stands. */
	at: number;
	/** The record whose id it is, by what the guide says of calls. */
	record: { kind: string; id: string; name: string } | null;
}

/** A line of code with what can be changed in it. */
export interface CodeLine {
	line: number;
	code: string;
	literals: LiteralView[];
	/** The name that the line gives a value, and where else that is used. */
	gives: { name: string; used: CodePlace[] } | null;
}

/** A line of a script. */
export interface CodePlace {
	layer: string;
	path: string;
	line: number;
}

/** What stands in one function, or outside of any. */
export interface FunctionView {
	name: string | null;
	lines: CodeLine[];
	/** Where it is called. */
	used: CodePlace[];
}

/** The numbers and texts inside a script. */
export interface InsidePage {
	slug: string;
	path: string;
	layer: { id: string; title: string; owner: string };
	mine: boolean;
	functions: FunctionView[];
	/** How many there are beyond those that are shown. */
	more: number;
}
