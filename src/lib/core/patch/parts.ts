// What a patch says: for each file, runs of lines (or of bytes, one to a line) with what stood around them.
import type { StructuredPatchHunk } from 'diff';

/** A fault in a patch, or two states of a file that no patch can lead from and to; says where and what would do. */
export class PatchFault extends Error {}

/** What else tells the place of a part, as it was when the patch was made. */
export interface Anchor {
	/** The line that opens what the part stands in: a function, a section, a record. */
	in: string | null;
	/** Texts that stood in one line only, the nearest first: strings and calls, else whole lines. */
	above: string[];
	below: string[];
	/** How alike the most similar other place was, from 0 to 1. */
	rival: number;
}

/** A run of lines in the place of others. A line ends in `\n`, but for the last one of a file that has none there. */
export interface Part {
	/** Line (from 1) at which the run began. */
	line: number;
	removed: string[];
	added: string[];
	/** What stood before and behind it, in the order of the file. */
	above: string[];
	below: string[];
	anchor: Anchor | null;
}

/** What a patch does to a file. */
export interface FilePatch {
	path: string;
	of: 'text' | 'bytes';
	/** The file is new, or is removed. */
	becomes: 'new' | 'gone' | 'changed';
	/** SHA-256 of the bytes before and after, where the patch says so. */
	before: string | null;
	after: string | null;
	/** How a new text is written, where that is not UTF-8 without a mark. */
	written: { encoding: string; bom: boolean } | null;
	/** Line ends are part of the lines, for it is they that change. */
	endsCount: boolean;
	/** The same as `parts`, as a unified diff has it. */
	hunks: Hunk[];
	parts: Part[];
}

/** A patch: all of it is applied, or nothing. */
export interface Patch {
	files: FilePatch[];
}

/** A stretch of a unified diff: lines marked as kept, taken out or put in. */
export type Hunk = StructuredPatchHunk;

/** Lines around a part that are looked at, on each side. */
export const MOST_AROUND = 30;

/** A line without its end. */
export const bare = (line: string): string => (line.endsWith('\n') ? line.slice(0, -1) : line);

/** The lines of a text, each with `\n` for its end. @param endsCount a `\r` stays part of the line */
export const patchLines = (text: string, endsCount: boolean): string[] =>
	(endsCount ? text : text.replace(/\r\n|\r/g, '\n')).match(/[^\n]*\n|[^\n]+$/g) ?? [];
