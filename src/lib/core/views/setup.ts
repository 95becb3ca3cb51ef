// Shapes of what is brought in, opened and read.
import type { Identity } from '../stack';
import type { Told } from '$core/text';

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

/** How far a project is that is opened for the first time since the server started. */
export interface OpeningState {
	open: boolean;
	/** Loading files; what they say of each other is found; links and snags are told. */
	step: 'files' | 'meaning' | 'links';
	/** Files. */
	done: number;
	total: number;
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

/** Who my mod is, for the page on which people say it. */
export interface IdentityPage {
	identity: Identity;
	/** The file in which mods of the game say it; null where the game has none that is known. */
	file: string | null;
	/** Whether my mod has that file. */
	written: boolean;
	/** Other mods of the stack, which mine can need. */
	others: { name: string; title: string }[];
}

/** A folder or an archive that can be chosen. */
export interface FolderEntry {
	name: string;
	path: string;
	kind: 'folder' | 'archive';
	/** Whether it looks as if a game's data were in it. */
	game: boolean;
}

/** What is in a folder; the allowed roots where `path` is null. */
export interface FolderList {
	path: string | null;
	/** The folder that holds it; null where that is none that may be read. */
	parent: string | null;
	entries: FolderEntry[];
	/** Entries that are not listed. */
	more: number;
}

/** What importing would read. */
export interface SourcePreview {
	path: string;
	files: number;
	bytes: number;
	/** By ending, those that are read as data first. */
	sorts: { ending: string; files: number; bytes: number; data: boolean }[];
	otherSorts: number;
	/** Files that are too large to be opened, and from which size on, in bytes. */
	large: number;
	largest: number;
	/** What is not read at all, and why. */
	left: string[];
	/** Name of the field guide that is beside it. */
	guide: string | null;
}
