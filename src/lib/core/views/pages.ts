import type { Piece } from '../text';

/** A page of text that a script shows. */
export interface PageView {
	nth: number;
	line: number;
	title: string | null;
	text: string;
	/** The text in pieces, as players see it. */
	pieces: Piece[];
}

/** A script that shows pages. */
export interface PageScript {
	path: string;
	layer: { id: string; title: string; owner: string };
	/** Whether players see the last page of the file first. */
	reversed: boolean;
	/** The scripts that load it, from the first one; empty where nothing loads it. */
	loadedBy: { path: string; layer: string; line: number }[];
	/** In the order in which players see them. */
	pages: PageView[];
}

export interface PagesPage {
	slug: string;
	/** Calls that show pages, by the guide. */
	calls: string[];
	scripts: PageScript[];
}
