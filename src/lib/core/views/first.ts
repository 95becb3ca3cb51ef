// The first sight of a game.
import type { Understood } from '../checks';

export interface FirstView {
	lines: Understood['lines'];
	/** Those with the most records. */
	kinds: { kind: string; title: string; records: number }[];
	allKinds: number;
	references: {
		kind: string;
		title: string;
		field: string;
		path: string;
		targets: string[];
		/** Kinds that it leads to besides. */
		more: number;
		count: number;
		/** From 0 to 1; null where people said it. */
		sure: number | null;
	}[];
	languages: string[];
	texts: number;
	/** Texts that nobody could read as data: the first of them, and how many. */
	unread: { files: { layer: string; path: string; size: number }[]; count: number };
	review: Understood['first'];
	/** The three steps that help the most; `href` is relative to the project. */
	steps: { title: string; about: string; href: string }[];
}
