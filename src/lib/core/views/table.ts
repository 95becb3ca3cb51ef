// Shapes in which tables, chains and changes of many records are shown.
import type { Severity } from '$core/checks';
import type { AsOf } from './as-of';

export interface Column {
	path: string;
	title: string;
	unit: string | null;
	numeric: boolean;
	reference: boolean;
	/** Whether its values stand for something that the guide says in words. */
	coded: boolean;
	meaning: string | null;
	group: string | null;
	unused: boolean;
	/** Width of its longest value, and digits behind the point. */
	letters: number;
	places: number;
	/** Where values are in their range, from 0 to 1; null for what is not a number. */
	ticks: number[] | null;
	range: [number, number] | null;
}

/** Cells are in the order of the columns; `changed` lists the columns whose value is mine and not the base's. */
export interface TableRow {
	id: string;
	name: string | null;
	mine: boolean;
	cells: string[];
	changed: number[];
	/** What the record inherits in cells that are empty, by their numbers. */
	taken: Record<number, string>;
	/** Names that players see of the records that cells refer to, and what codes mean, by the numbers of the cells. */
	shown: Record<number, string>;
	/** The gravest snag of the record. */
	snag: Severity | null;
}

export interface TableView {
	kind: string;
	title: string;
	plural: string;
	key: string;
	/** Of the longest id. */
	letters: number;
	/** Whether rows have a name that players see. */
	named: boolean;
	columns: Column[];
	/** Groups of the columns, in the order of the guide. */
	groups: string[];
	/** The first of those that pass; the others are fetched as they come into sight. */
	rows: TableRow[];
	limit: number | null;
	/** Records that my mod takes out of the layers below; `none` where nothing there is exactly so. */
	taken: { id: string; none: boolean }[];
	/** Files of the kind into which its records can be put; null where the game reads one only. */
	files: string[] | null;
	/** Rows of the whole table, and those that pass. */
	total: number;
	matching: number;
	/** The conditions of the address, as typed and as they were understood. */
	/** What of the address cannot be followed, in sentences. */
	faults: string[];
	conditions: { text: string; words: string }[];
	/** Of the project, for the rows that are fetched later. */
	version: number;
}

/** A page that shows the rows of a kind. */
export interface TablePageView {
	table: TableView;
	asOf: AsOf;
	/** Place of the record of the open ticket; -1 for none. */
	at: number;
	/** All kinds that have records. */
	kinds: { kind: string; title: string; records: number }[];
	views: SavedView[];
	/** Layers that are not mine, those that are kept beside too. */
	layers: { id: string; title: string }[];
}

/** A table in the list of all. */
export interface TableEntry {
	kind: string;
	title: string;
	records: number;
	/** Records that my mod changes. */
	mine: number;
	inferred: boolean;
	files: string;
	folder: string;
}

/** The tables of a project that pass a search. */
export interface TablesView {
	q: string;
	sort: 'folder' | 'records' | 'name' | 'changed';
	mine: boolean;
	kinds: TableEntry[];
	passing: number;
	/** Files with a few settings each, which nothing refers to. */
	singles: TableEntry[];
	all: number;
	/** How many my mod changes. */
	changed: number;
}

/** What belongs to a record besides itself, how many of each sort, and what is wrong with an id for a copy. */
export interface PartsView {
	parts: Record<string, number>;
	/** Records in its folder that the copy has too, with the ids that they would get. */
	inside: { kind: string; title: string; id: string; next: string }[];
	fault: string | null;
	longest: number | null;
}

/** Records that lead to others of their kind by a field. */
export interface ChainsView {
	kind: string;
	title: string;
	field: string;
	fieldTitle: string;
	/** Other fields that make chains. */
	others: { kind: string; field: string; title: string }[];
	steps: {
		id: string;
		name: string;
		to: string | null;
		/** The id that it names and that is not there. */
		loose: string | null;
		circle: boolean;
		/** Whether the step is mine and not the base's. */
		changed: boolean;
		left: number;
		place: number;
	}[];
	/** Records of the kind that are in no chain. */
	alone: number;
}

/** What people look at in a table again and again: the query of its address, under a name. */
export interface SavedView {
	name: string;
	query: string;
}

/** What one change would make of many records. */
export interface ManyView {
	/** Records that are meant, and those whose value changes. */
	count: number;
	changed: number;
	/** The first of them. */
	values: { id: string; name: string; before: string | null; after: string; fault: string | null }[];
	/** What keeps values from being changed, or would be wrong with them, with how many. */
	faults: { says: string; count: number }[];
	/** How values are in equal parts of one range, before and after; null where they are not numbers. */
	bars: { low: number; high: number; before: number[]; after: number[] } | null;
	/** Of a text that is replaced: the words in which it is found, in small letters, with how often. */
	forms: { form: string; count: number }[];
}

/** Rules over one or two axes, and what they cover. */
export interface RangesView {
	kind: string;
	title: string;
	axes: {
		from: string;
		to: string;
		title: string;
		unit: string | null;
		/** Whether ends are whole numbers. */
		whole: boolean;
		low: number;
		high: number;
	}[];
	fallback: string | null;
	bands: { id: string; name: string; ranges: [number, number][]; mine: boolean }[];
	/** What no rule covers, and what several do, by their numbers in `bands`; the first of these wins. */
	open: [number, number][][];
	twice: { ranges: [number, number][]; over: number[] }[];
	/** How many sets of ranges the kind has. */
	others: number;
}
