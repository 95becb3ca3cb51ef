// How a file can be read, for the page on which somebody chooses.
import type { Proposal } from '../infer';

/** What a way of reading gives. */
export interface ReadPreview {
	records: number;
	/** Share of the lines that say something and are read without a fault. */
	explained: number;
	fields: { path: string; filled: number; unique: boolean }[];
	problems: { line: number; message: string }[];
	/** Lines with which records begin. */
	starts: number[];
	/** The first records, each with the values of the first fields. */
	rows: { id: string; line: number; values: string[] }[];
	/** Why it cannot be read so; null where it can. */
	fault: string | null;
}

export interface ReadingPage {
	path: string;
	layer: { id: string; title: string };
	/** The kinds that its records are of now, and how it is read. */
	now: { kinds: { kind: string; title: string; written: boolean }[]; format: string | null };
	proposals: Proposal[];
	preview: ReadPreview;
	/** Ways to say which files are meant, with how many there are. */
	files: {
		glob: string;
		count: number;
		/** Whether these were detected to belong together. */ told: boolean;
	}[];
	/** A name for the kind. */
	suggested: { kind: string; title: string };
	lines: string[];
	total: number;
}
