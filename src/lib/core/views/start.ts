import type { InstallGuide } from '../guide';
import type { Marks, Part, ReadLine } from '../log';

/** How a game is started on this machine, and how a mod goes into it. */
export interface Start {
	/** The game's folder. */
	folder: string;
	program: string;
	arguments: string[];
	environment: Record<string, string>;
	ends: { line: string | null; seconds: number | null } | null;
	install: InstallGuide;
}

export interface StartPage {
	slug: string;
	/** The folder-safe name of my mod. */
	mod: string;
	/** What is set so far; with a guess of the folder where nothing is. */
	start: Start;
	/** Whether it was set on this machine. */
	set: boolean;
}

/** What is found of a part: whether it would do, in a sentence. */
interface Look {
	ok: boolean;
	said: string;
}

/** Each part tried out, without anything being changed or run. */
export interface StartLook {
	place: Look;
	/** The list of mods as it would be, its last lines; empty where there is none. */
	order: Look & { after: string[] };
	program: Look;
	log: Look;
}

/** A log as it would be read. */
export interface LogRead {
	/** Null where no line is marked, or nothing comes of the marks. */
	pattern: string | null;
	/** What seems to be what in the line that was picked. */
	guess: Partial<Record<Part, string>>;
	lines: ReadLine[];
	/** Lines of it in all, and how many are read. */
	all: number;
	read: number;
	levels: { level: string; count: number }[];
}

export type { Marks };
