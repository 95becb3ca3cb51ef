// How a file can be read, for the page on which somebody chooses.
import type { RecordPlace } from '../formats';
import type { Proposal, ReadHow } from '../infer';
import type { BytesPage } from './bytes';

/** What a way of reading gives. */
export interface ReadPreview {
	records: number;
	/** Share of the lines that say something, or of the bytes, that are read without a fault. */
	explained: number;
	/** Where its records may stand, and where they do now; none where there is but one way. */
	places: RecordPlace[];
	at: string | null;
	fields: { path: string; filled: number; unique: boolean }[];
	problems: { line: number; message: string }[];
	/** Lines with which records begin. */
	starts: number[];
	/** The first records, each with the values of the first fields. */
	rows: { id: string; line: number; values: string[] }[];
	/** Why it cannot be read so; null where it can. */
	fault: string | null;
	/** Of a file that is no text: its first bytes, with what they belong to. */
	bytes: BytesPage | null;
	/** How it is read, where that was pasted. */
	how?: ReadHow;
}

export interface ReadingPage {
	path: string;
	layer: { id: string; title: string };
	/** The kinds that its records are of now, and how it is read. */
	now: {
		kinds: {
			kind: string;
			title: string;
			/** Which guide speaks of it; null where it was detected. */
			said: 'shared' | 'mine' | null;
		}[];
		format: string | null;
	};
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
