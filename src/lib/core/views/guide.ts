// Shapes in which the field guide is shown.
import type { Understood } from '$core/checks';
import type { Guide, KindGuide, ListJoin, Origin, Recipe, ScenarioInput } from '$core/guide';
import type { Spread } from '$core/numbers';

/** In which order kinds are listed. */
export type GuideOrder = 'unsure' | 'name' | 'records';

/** All that is known of a game, kind by kind. */
export interface GuideIndexView {
	understood: Understood;
	/** How many fields of all kinds people should look at, and how many kinds there are. */
	unsure: number;
	all: number;
	/** Those that pass the filter, and how many do; the first of them are listed. */
	passing: number;
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
	/** Among those that are listed. */
	edges: { from: string; to: string; fields: string[]; sure: number }[];
	scripts: { call: string; argument: number; kinds: string[]; sure: number; because: string | null }[];
	/** Files of layers that are patches of others. */
	patches: NonNullable<Guide['patches']>;
	/** The last change that can be undone. */
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
	/** The set of known values that its values are from. */
	set: string | null;
	reference: { kinds: string[]; rule: string } | null;
	origin: Origin;
	sure: number;
	/** In how many trials the game refused what it rules out; null where that is not known. */
	seen: number | null;
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
	part: 'texts' | 'assets' | 'twins' | 'covers' | 'inherits';
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
	/** Why a mod's files are taken to add to the game's, if nobody stated it. */
	adds: string | null;
	/** Whether anybody said what a mod's file does. */
	mergeSaid: boolean;
	/** How records of later layers come over those below, and the lists that may be joined. */
	rules: {
		second: 'first' | 'last';
		out: KindGuide['out'] | null;
		nulls: 'value' | 'removes';
		joins: Record<string, ListJoin>;
		lists: string[];
	};
	fault: string;
	/** The field that holds the shown name, and why, if nobody stated it; null where texts have it or nothing does. */
	name: { from: string; because: string | null } | null;
	/** Whether texts with keys have the shown names. */
	namedByTexts: boolean;
	/** Fields that name a record together. */
	keyParts: string[] | null;
	/** Whether a record may have a list of ids under its key. */
	severalIds: boolean;
	/** Where its records stand in their files, as a sentence; empty where these hold nothing else. */
	place: string;
	/** A file of its records that can be read in another way; null where that is not open. */
	example: { layer: string; path: string } | null;
	origin: Origin;
	because: string | null;
	/** Whether its records are texts. */
	texts: boolean;
	fields: GuideFieldView[];
	parts: GuidePartView[];
	/** All kinds, for choosing one that a field refers to. */
	kinds: { kind: string; title: string }[];
	/** Names of the sets of known values. */
	sets: string[];
}

/** One change of the field guide. */
export type GuideChange =
	| {
			do: 'accept' | 'reject';
			kind: string;
			field?: string | undefined;
			part?: GuidePartView['part'] | 'name' | undefined;
	  }
	| { do: 'say'; kind: string; field?: string | undefined; statements: Record<string, unknown> }
	| { do: 'code'; kind: string; field: string; code: string; means: string }
	| { do: 'set'; kind: string; field: string; name: string }
	| { do: 'script'; call: string; argument: number; accept: boolean }
	| { do: 'place'; name: string; accept: boolean }
	| { do: 'merge'; yaml: string; prefer: 'here' | 'there' }
	| { do: 'docs'; text: string }
	| { do: 'patches'; patches: NonNullable<Guide['patches']> }
	| { do: 'install'; install: NonNullable<Guide['install']> }
	| { do: 'recipe'; name: string; recipe: Recipe | null }
	| { do: 'languages'; languages: Record<string, string> }
	| { do: 'terms'; terms: Record<string, string>[] }
	| { do: 'share'; readme: string | null }
	| { do: 'scenario'; name: string; scenario: ScenarioInput | null }
	| {
			/** Files that are to be read as a kind of their own. */
			do: 'read';
			kind: string;
			title: string;
			files: string[];
			key?: string | undefined;
			id?: KindGuide['id'];
			at?: string | null | undefined;
			separator?: string | undefined;
			written: NonNullable<KindGuide['written']>;
	  }
	| { do: 'undo' };

/** What came of such a change. */
export interface GuideAnswer {
	said: string;
	/** What could not be done of it, with why. */
	left: string[];
	version: number;
}
