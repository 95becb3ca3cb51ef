// Shapes that the server sends to the pages. Type-only: nothing of the server reaches the browser.
import type { Severity, Snag } from '$core/checks';
import type { Origin, Recipe } from '$core/guide';
import type { Budget, Spread } from '$core/numbers';
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
	/** The layer that the base's value is from, when that is a mod below mine. */
	below: string | null;
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
	/** As which item of how many the game shows it, where a list is shown the last first. */
	shown: [number, number] | null;
	/** What the value stands for. */
	means: string | null;
	/** `several` where the value names more than one record, or one by a path; it is typed then and not picked. */
	reference: { kinds: string[]; target: Named | null; several: boolean; chain: boolean } | null;
	/** Of a code: what may stand there, what it means, and how many records have it. */
	choices: { value: string; means: string | null; count: number }[];
	/** Of a list with weights: what stands between its parts, and the shown names of what they name. */
	weights: { list?: string | undefined; weight?: string | undefined } | null;
	names: Record<string, string> | null;
	/** What turns typed values into written ones. */
	about: { perSecond?: number | undefined; decimals?: number | undefined };
	/** What it costs by the cost table of the kind; null where it costs nothing. */
	costs: string | null;
	/** Why the game does not read it now; null where it does. */
	ignored: string | null;
	spread: Spread | null;
	remark: string | null;
}

export interface TextRow {
	label: string;
	key: string;
	required: boolean;
	/** Room that the game has for it. */
	longest?: number | undefined;
	oneLine?: boolean | undefined;
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
	/** What the record spends by the cost table of its kind, and what the base's version does. */
	budget: (Budget & { base: number | null }) | null;
	merge: 'record' | 'file';
	/** Whether my mod can take it out of the layers below. */
	outable: boolean;
	/** Where it stands in its files; none where a file is one record. */
	places: {
		path: string;
		/** From 1, and of how many. */
		nth: number;
		count: number;
		/** As which the game shows it, where that is the other way round. */
		shown: number | null;
		/** Whether its place can be changed: in my mod, or where that gets a copy of the whole file. */
		free: boolean;
		/** Whether it can be put into another file; and those that the game reads with it. */
		apart: boolean;
		others: string[];
	}[];
	/** Recipes that can be replayed on it, each with the blank that it fills. */
	recipes: { name: string; title: string; blank: string }[];
}

/** A recipe of the field guide, to be read and replayed. */
export interface RecipeView {
	name: string;
	recipe: Recipe;
	/** Its steps in words. */
	said: string[];
	origin: Origin;
}

/** A recipe that is being made of steps of the ledger. */
export interface RecordingView {
	steps: { id: number; title: string }[];
	recipe: Recipe;
	was: Record<string, string>;
	said: string[];
}

/** A record that a reference may name, with the figures that matter for the choice. */
export interface Choice extends Named {
	/** What is written to name it, where that is not the id alone. */
	value: string;
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
	meaning: string | null;
	group: string | null;
	unused: boolean;
	/** Width of its longest value, and digits behind the point. */
	letters: number;
	places: number;
	/** How often values lie in equal parts of their range; null for what is no number. */
	bars: number[] | null;
	range: [number, number] | null;
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
	conditions: { text: string; words: string }[];
	/** Of the project, for the rows that are fetched later. */
	version: number;
}

/** What belongs to a record besides itself, how many of each sort, and what is wrong with an id for a copy. */
export interface PartsView {
	parts: Record<string, number>;
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
	/** Records of the kind that stand in no chain. */
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
	/** How values lie in equal parts of one range, before and after; null where they are no numbers. */
	bars: { low: number; high: number; before: number[]; after: number[] } | null;
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
	/** Whether each value may have a meaning of its own. */
	coded: boolean;
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

/** All that is known of a game, kind by kind. */
export interface GuideIndexView {
	kinds: {
		kind: string;
		title: string;
		records: number;
		files: number;
		globs: string[];
		origin: Origin;
		fields: number;
		/** Fields of which people should look at what was found. */
		unsure: number;
		/** The least sure of all its fields, from 0 to 1. */
		least: number;
	}[];
	edges: { from: string; to: string; fields: string[]; sure: number }[];
	scripts: { call: string; argument: number; kinds: string[]; sure: number; because: string | null }[];
	/** The last change that can be taken back. */
	last: string | null;
	/** Whether a guide came with the game, and whether there is anything of one's own. */
	written: boolean;
	own: boolean;
}

/** What is known of a field. */
export interface GuideFieldView {
	path: string;
	title: string | null;
	type: string;
	unit: string | null;
	meaning: string | null;
	group: string | null;
	required: boolean;
	unused: boolean;
	min: number | null;
	max: number | null;
	decimals: number | null;
	derive: string | null;
	/** What else is said of it, in words. */
	says: string[];
	codes: Record<string, string>;
	reference: { kinds: string[]; rule: string } | null;
	origin: Origin;
	sure: number;
	because: string | null;
	/** Names of one's own statements. */
	mine: string[];
	/** A path of a column of it. */
	column: string;
	filled: number;
	different: number;
	values: { value: string; count: number }[];
	spread: Spread | null;
}

/** What is known of a kind apart from its fields. */
export interface GuidePartView {
	part: 'texts' | 'assets' | 'twins' | 'covers';
	origin: Origin;
	sure: number;
	says: { said: string; because: string | null }[];
}

/** Everything that is known of a kind. */
export interface GuideKindView {
	kind: string;
	title: string;
	plural: string;
	records: number;
	files: string[];
	key: string | null;
	id: string | null;
	merge: string;
	fault: string;
	origin: Origin;
	because: string | null;
	/** Whether its records are texts. */
	texts: boolean;
	fields: GuideFieldView[];
	parts: GuidePartView[];
	/** All kinds, for choosing one that a field refers to. */
	kinds: { kind: string; title: string }[];
}

/** One change of the field guide. */
export type GuideChange =
	| {
			do: 'accept' | 'reject';
			kind: string;
			field?: string | undefined;
			part?: GuidePartView['part'] | undefined;
	  }
	| { do: 'say'; kind: string; field?: string | undefined; statements: Record<string, unknown> }
	| { do: 'code'; kind: string; field: string; code: string; means: string }
	| { do: 'script'; call: string; argument: number; accept: boolean }
	| { do: 'merge'; yaml: string; prefer: 'here' | 'there' }
	| { do: 'docs'; text: string }
	| { do: 'recipe'; name: string; recipe: Recipe | null }
	| { do: 'undo' };

/** What came of such a change. */
export interface GuideAnswer {
	said: string;
	/** What could not be done of it, with why. */
	left: string[];
	version: number;
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
