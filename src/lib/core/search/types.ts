// The shapes of a search: what is asked, what is known, what is found.
import type { Links } from '../links';
import type { Stack, Table, TableFile } from '../stack';
import type { GivenName } from './clues';
import type { Lexicon } from './lexicon';
import type { Occurrences } from './occurrences';

/** What a hit is. */
export type HitGroup = 'record' | 'text' | 'kind' | 'field' | 'meaning' | 'file' | 'folder' | 'line' | 'note';

/** One thing that was found, with what matched and why. */
export interface Hit {
	group: HitGroup;
	layer: string;
	file: string;
	line: number;
	kind: string | null;
	record: string | null;
	name: string | null;
	field: string | null;
	matched: string;
	reason: string;
	/** How many other records name this one. */
	uses: number;
	score: number;
}

/** Where to look, and how. */
export interface SearchOptions {
	kind?: string | undefined;
	/** Id of the layer of which the version that counts is. */
	layer?: string | undefined;
	/** Folder that the file is in, at any depth. */
	folder?: string | undefined;
	/** Code of the language in which it is said. */
	language?: string | undefined;
	format?: string | undefined;
	/** Only one group of hits. */
	group?: HitGroup | undefined;
	exactCase?: boolean | undefined;
	/** Whole words only. */
	whole?: boolean | undefined;
	/** The query is a pattern, see `fits`, for a whole value. */
	pattern?: boolean | undefined;
	most?: number | undefined;
	/** Nicknames and notes that people gave, by what they are on; see `addressOf`. */
	given?: readonly Given[] | undefined;
}

/** A nickname or note on something. */
export interface Given extends GivenName {
	on: { [part in 'kind' | 'record' | 'field' | 'value' | 'file' | 'folder']?: string | undefined };
	nickname: boolean;
}

/** What was found. `total` and the counts are of records; other groups are in `hits` alone, up to `most` of each. */
export interface Found {
	hits: Hit[];
	total: number;
	counts: {
		kind: Map<string, number>;
		layer: Map<string, number>;
		folder: Map<string, number>;
		format: Map<string, number>;
	};
}

/** Everything that can be found. Made from the stack; holds no state of its own. */
export interface SearchIndex {
	stack: Stack;
	links: Links;
	/** The texts that were there when it was built, and those that came later. */
	lexicons: Lexicon[];
	covered: Uint8Array;
	occurrences: Occurrences;
	tables: Table[];
	/** The files of all tables, and of each place the number of the one whose version counts. */
	files: { table: Table; file: TableFile }[];
	fileOf: Int32Array;
	/** Scores of the search that runs, kept so that they are not made again for each. */
	room: Room;
	lineRoom: Room;
}

/** Scores by place: of the word in hand, of all words so far, and how many of them matched. */
export interface Room {
	now: Float32Array;
	sum: Float32Array;
	count: Uint8Array;
	/** The places in which the last search may have left something; null where that is not known. */
	used: readonly number[] | null;
}

export const roomFor = (places: number): Room => ({
	now: new Float32Array(places),
	sum: new Float32Array(places),
	count: new Uint8Array(places),
	used: []
});
