// Shapes that the server sends to the pages. Type-only: nothing of the server reaches the browser.
import type { Severity, Snag } from '$core/checks';
import type { Spread } from '$core/numbers';
import type { Told } from '$core/text';

export interface Named {
	kind: string;
	id: string;
	name: string;
}

export interface FieldRow {
	path: string;
	title: string;
	unit: string | null;
	type: string;
	/** Whether it is a number, by its type or by all values that the kind has. */
	numeric: boolean;
	meaning: string | null;
	base: string | null;
	value: string;
	/** Whether the record's version that counts is mine; `changed` whether this value differs from the base. */
	mine: boolean;
	changed: boolean;
	/** The layer it comes from, when that is neither the base nor mine. */
	from: string | null;
	min: number | null;
	max: number | null;
	required: boolean;
	flags: { bit: number; name: string; set: boolean }[];
	/** What the value stands for. */
	means: string | null;
	reference: { kinds: string[]; target: Named | null } | null;
	spread: Spread | null;
	remark: string | null;
}

export interface TextRow {
	label: string;
	key: string;
	required: boolean;
	languages: { code: string; title: string; value: string; base: string | null; mine: boolean }[];
}

export interface SourceView {
	layer: string;
	role: string;
	path: string;
	encoding: string;
	eol: string;
	bom: boolean;
	from: number;
	to: number;
	lines: { number: number; text: string; inside: boolean }[];
}

export interface Ticket {
	kind: string;
	kindTitle: string;
	kindPlural: string;
	id: string;
	name: string;
	names: { language: string; name: string }[];
	/** Commentary that stands with the record in its file. */
	remark: string | null;
	inMine: boolean;
	inBase: boolean;
	groups: { title: string; rows: FieldRow[] }[];
	texts: TextRow[];
	/** The first of those that name it, and how many there are. */
	usedBy: (Named & { field: string })[];
	users: number;
	sources: SourceView[];
	snags: Snag[];
	merge: 'record' | 'file';
}

/** A record that a reference may name, with the figures that matter for the choice. */
export interface Choice extends Named {
	figures: { title: string; value: string }[];
}

/** Records that a reference may name. */
export interface ChoiceList {
	choices: Choice[];
	/** How many there are; where that is more than are sent, words narrow them at the server. */
	total: number;
}

export interface Column {
	path: string;
	title: string;
	unit: string | null;
	numeric: boolean;
	reference: boolean;
}

/** Cells stand in the order of the columns; `changed` lists the columns whose value is mine and not the base's. */
export interface TableRow {
	id: string;
	name: string | null;
	mine: boolean;
	cells: string[];
	changed: number[];
	/** The gravest snag of the record. */
	snag: Severity | null;
}

export interface TableView {
	kind: string;
	title: string;
	plural: string;
	key: string;
	named: boolean;
	columns: Column[];
	/** All of them, or where `matching` is a number the first of those that pass the filter, arranged. */
	rows: TableRow[];
	limit: number | null;
	/** Rows of the whole table. */
	total: number;
	matching: number | null;
}

/** How far an import is. */
export interface ImportState {
	id: string;
	/** A game or layers of it are brought in, or a layer is compared with its source. */
	what: 'game' | 'layer' | 'verify';
	state: 'waiting' | 'working' | 'done' | 'failed' | 'cancelled';
	files_done: number;
	files_total: number;
	bytes_done: number;
	bytes_total: number;
	/** The file that is being read. */
	reading: string | null;
	message: string | null;
	/** The project that came of it. */
	project: string | null;
}

/** How the letters of a file are read, and what else it could be. */
export interface EncodingView {
	encoding: string;
	told: Told;
	/** From 0 to 1. */
	confidence: number;
	/** Whether people should look. */
	unsure: boolean;
	/** Likeliest first; the confidence where there is one. */
	choices: { encoding: string; confidence: number | null }[];
}

/** A record like another. */
export interface AlikeView extends Named {
	/** From 0 to 1. */
	likeness: number;
	differs: { title: string; here: string; there: string }[];
	/** Fields that differ besides those listed. */
	more: number;
}

/** The neighbourhood of a record. */
export interface AroundView extends Named {
	kindTitle: string;
	/** `far` is below 0 for what names the record, above 0 for what it names, in steps. */
	nodes: (Named & { place: number; far: number; kindTitle: string; uses: number })[];
	edges: { from: number; to: number; field: string }[];
	more: boolean;
}

/** All values that a field takes. */
export interface TakenView {
	kind: string;
	kindTitle: string;
	path: string;
	title: string;
	unit: string | null;
	meaning: string | null;
	spread: Spread | null;
	records: number;
	filled: number;
	different: number;
	/** Values that pass the filter; the first of them are listed. */
	passing: number;
	/** Whether my mod has records of the kind, and whether they are counted. */
	mine: 'none' | 'counted' | 'left out';
	values: { value: string; count: number; means: string | null; by: Named[] }[];
}

/** Something kept at hand. */
export interface PocketItem {
	id: number;
	label: string;
	value: string;
	about: { kind?: string | undefined; record?: string | undefined; field?: string | undefined };
}

/** A record from some layer or version, as a column of a comparison. */
export interface CompareColumn extends Named {
	/** How the column is named in the address: `kind/id` with `@source` behind it. */
	key: string;
	source: string;
	sourceTitle: string;
	mine: boolean;
	/** Whether it is what the game will see, and so can be changed by copying into it. */
	effective: boolean;
	/** Where else this record can be had from. */
	sources: { key: string; title: string }[];
}

export interface CompareRow {
	path: string;
	title: string;
	unit: string | null;
	group: string;
	cells: (string | null)[];
	numeric: boolean;
	differs: boolean;
}

export interface CompareView {
	columns: CompareColumn[];
	rows: CompareRow[];
	/** Columns of the address that are not there. */
	missing: string[];
}
