// What of a mod is in the game's folder, what was there before, and what came of the last removal.

/** How a file that was installed stands now. */
export interface InGameFile {
	path: string;
	/** Digests of what was there before and of what was put there; null for no file. */
	before: string | null;
	after: string | null;
	state: 'whole' | 'changed' | 'missing' | 'not wanted';
}

/** What was in the game's folder before an installation, as it is kept. */
export interface BackupView {
	/** Its name on the shelf. */
	id: string;
	/** When it was begun; ISO 8601. */
	at: string;
	folder: string;
	files: number;
	bytes: number;
	/** The mod that it is the backup for is in the game. */
	inUse: boolean;
	/** What came of the removal, file by file; null where that is not known. */
	proof: { path: string; before: string | null; now: string | null }[] | null;
	/** Files of other programs that are kept with it. */
	aside: string[];
	/** Where it is, on this machine. */
	place: string;
}

export interface InGamePage {
	slug: string;
	/** How the game is started and where mods go was told. */
	ready: boolean;
	installed: { folder: string; mod: string; over: boolean; at: string; backup: string } | null;
	files: InGameFile[];
	backups: BackupView[];
	/** What other projects, and the command, have in games on this machine. */
	others: { name: string; project: string | null; folder: string; files: number }[];
}
