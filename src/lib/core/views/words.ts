// The shape in which all texts of a game are shown.
import type { Coverage } from '../words';

/** All texts: how far they are there in each language. Their lines are a table like any other. */
export interface WordsView {
	/** The kind that texts are of. */
	kind: string;
	texts: number;
	languages: Coverage[];
	/** Texts that nothing which is known names. */
	unused: number;
	/** Texts that have a snag. */
	snags: number;
}
