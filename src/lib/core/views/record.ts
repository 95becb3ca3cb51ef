// Shapes in which one record is shown, and several beside each other.
import type { Snag } from '$core/checks';
import type { Origin, Recipe } from '$core/guide';
import type { TextGoes } from '$core/edits';
import type { Budget, Spread } from '$core/numbers';
import type { TextLook } from '$core/words';
import type { ByteCell } from './bytes';
import type { Named } from './named';

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
	/** What the game does with a number beyond these. */
	beyond: 'refuses' | 'clamps';
	/** Digits behind the point that the game keeps; null where nothing is said. */
	decimals: number | null;
	required: boolean;
	flags: { bit: number; name: string; set: boolean }[];
	/** As which item of how many the game shows it, where a list is shown the last first. */
	shown: [number, number] | null;
	/** What the value stands for. */
	means: string | null;
	/** `several` where the value names more than one record, or one by a path; it is typed then and not picked. */
	reference: { kinds: string[]; target: Named | null; several: boolean; chain: boolean } | null;
	/** Of a code: what may be there, what it means, and how many records have it. */
	choices: { value: string; means: string | null; count: number }[];
	/** Whether it may also have values that nobody knows yet. */
	open: boolean;
	/** Of a list in one value: what is between its parts, and before a weight. The shown names of what they name. */
	parts: { list?: string | undefined; weight?: string | undefined } | null;
	names: Record<string, string> | null;
	/** What turns typed values into written ones. */
	about: { perSecond?: number | undefined; decimals?: number | undefined };
	/** What it costs by the cost table of the kind; null where it costs nothing. */
	costs: string | null;
	/** What it inherits where it says nothing itself; null where it does not. */
	taken: { value: string; from: Named; how: 'same' | 'added' | 'multiplied' | 'put in' } | null;
	/** Why the game does not read it now; null where it does. */
	ignored: string | null;
	spread: Spread | null;
	remark: string | null;
	/** Of a value behind an address: where it stands, who else points at it, and what could be pointed at instead. */
	shared: { at: number; others: (Named & { field: string })[]; values: string[] } | null;
}

export interface TextRow {
	label: string;
	key: string;
	required: boolean;
	/** Room that the game has for it. */
	longest?: number | undefined;
	oneLine?: boolean | undefined;
	/** How the game draws it, as far as that is known. */
	look: TextLook;
	languages: {
		code: string;
		title: string;
		main: boolean;
		value: string;
		base: string | null;
		mine: boolean;
		/** Where it is written when it is changed; null where nobody knows. */
		goes: TextGoes | null;
	}[];
}

/** A list of a record, and how one more item is put in. */
export interface ListView {
	/** Path of the list, or of the map whose names are ids. */
	path: string;
	title: string;
	/** One more item, still empty, where items are single values; null where they hold several. */
	blank: FieldRow | null;
	/** Whether the items are names of a map (`wants.cadet: 4`) and not numbered. */
	named: boolean;
	/** Shown names of named items. */
	names: Record<string, string>;
	/** Whether all items are numbers. */
	numbers: boolean;
}

/** A part that others of the kind have and a record does not, with records that can be models for it. */
export interface MissingView {
	path: string;
	title: string;
	shape: 'field' | 'block' | 'list';
	count: number;
	models: Named[];
}

/** A picture, a sound or another file of a record. */
export interface AssetView {
	label: string;
	path: string;
	/** The layer that it is from; null where none has it. */
	layer: string | null;
	sort: 'picture' | 'sound' | 'other';
}

export interface SourceView {
	layer: string;
	owner: string;
	path: string;
	encoding: string;
	eol: string;
	bom: boolean;
	from: number;
	to: number;
	lines: { number: number; text: string; inside: boolean }[];
}

/** The bytes of a record in one layer. */
export interface ByteSource {
	layer: string;
	layerId: string;
	owner: string;
	path: string;
	/** Where the record begins. */
	from: number;
	cells: ByteCell[];
}

export interface Ticket {
	kind: string;
	kindTitle: string;
	kindPlural: string;
	id: string;
	name: string;
	names: { language: string; name: string }[];
	/** Of these, the names that it has in fields of its own: by code and title of the language, where one is said. */
	ownNames: { language: string; title: string | null; name: string }[];
	/** Commentary that stands with the record in its file. */
	remark: string | null;
	inMine: boolean;
	/** Whether my mod says something of it that no layer below says: a copy of a whole file holds all its records. */
	changed: boolean;
	inBase: boolean;
	groups: { title: string; rows: FieldRow[] }[];
	lists: ListView[];
	/** Parts that can be added. */
	missing: MissingView[];
	/** Paths of parts that not all of the kind have. */
	optional: string[];
	/** Whether any field of it can be taken out, as its file is written. */
	removable: boolean;
	assets: AssetView[];
	texts: TextRow[];
	/** The record itself where it is a text. */
	text: TextRow | null;
	/** The first of those that name it, and how many there are. */
	usedBy: (Named & { field: string })[];
	users: number;
	/** Lines of scripts and texts that hold its id; the first of them are listed. */
	mentions: { count: number; lines: { layer: string; path: string; line: number; text: string }[] };
	sources: SourceView[];
	/** Of files that are no text: the bytes of the record. */
	bytes: ByteSource[];
	snags: Snag[];
	/** What the record spends by the cost table of its kind, and what the base's version does. */
	budget: (Budget & { base: number | null }) | null;
	merge: 'record' | 'file' | 'field';
	/** Whether it has an id of its own; else its values or its place in the file are all that names it. */
	named: boolean;
	/** The values that name it together; null where another thing does. */
	together: { field: string; value: string }[] | null;
	/** The item of a list of ids that names it: another text there is a rename. */
	ownId: string | null;
	/** Whether my mod can take it out of the layers below. */
	outable: boolean;
	/** Where it is in its files; none where a file is one record. */
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
	/** Lines of scripts and texts that hold its id. */
	mentions: { count: number; lines: { layer: string; path: string; line: number; text: string }[] };
	/** Files that nobody could look into, and those that could not be read completely. */
	unseen: { files: number; faulty: number };
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
