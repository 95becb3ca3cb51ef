import type { TablePicture } from '../pack';
import type { Identity } from '../stack';

/** What goes along with my mod when it is given away. */
export interface SharePage {
	slug: string;
	identity: Identity;
	/** The next version; null where the present one has no number. */
	next: string | null;
	files: number;
	/** The texts, as Markdown. */
	readMe: string;
	changes: string;
	/** Pictures of the tables of which it changes most. */
	pictures: TablePicture[];
	/** The template of the read-me, and whether it is one of one's own. */
	template: string;
	isOwnTemplate: boolean;
	/** Those of them that my mod has as files of its own: these count. */
	own: string[];
}

/** A program of the game's tools that makes a file of my mod. */
export interface ProgramView {
	file: string;
	title: string;
	/** What is run, word by word; `{mod}` stands for a copy of my mod. Null where nobody has told where the game is. */
	command: string[] | null;
	state: 'made' | 'not agreed' | 'no game' | 'failed';
	/** Why it failed. */
	said: string | null;
}
