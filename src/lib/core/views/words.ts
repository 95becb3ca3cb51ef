// The shape in which all texts of a game are shown.
import type { Coverage, GiveAsked, TakenIn } from '../words';

/** All texts: how far they are there in each language. Their lines are a table like any other. */
export interface WordsView {
	/** The kind that texts are of. */
	kind: string;
	texts: number;
	languages: Coverage[];
	/** What uses texts, and how many: kinds and scripts, by the name for many. */
	users: { plural: string; count: number }[];
	/** Texts that nothing which is known names. */
	unused: number;
	/** Texts that have a snag. */
	snags: number;
}

/** What can be given out to be translated, and how many texts are asked for. */
export interface GiveView {
	/** The main language, and those that are translated into, by code. */
	main: string;
	languages: { code: string; title: string; missing: number; stale: number }[];
	asked: GiveAsked;
	count: number;
}

/** What becomes of a file that came back, and where its texts go. */
export interface TakeView extends TakenIn {
	/** The kind that texts are of. */
	kind: string;
	/** What the language, and the main one, are called. */
	title: string;
	main: string;
}

/** What is said of all texts, and what can be added: languages, words that are always translated in one way. */
export interface LanguagesView {
	/** The main language, by code. */
	main: string;
	languages: { code: string; title: string; there: number }[];
	terms: Record<string, string>[];
	/** Where a first text in a new language would go, as an example; null where each record has a field for each language. */
	example: string | null;
}
