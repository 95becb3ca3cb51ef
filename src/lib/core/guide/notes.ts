// Nicknames and notes that people put on things. They stand in the guide file under `notes`, so that they are shared with it.

/** What a note is on: a folder, a file, a kind, a field, a value of a field, or a record. */
export interface NoteTarget {
	folder?: string;
	file?: string;
	kind?: string;
	field?: string;
	value?: string;
	record?: string;
}

/** What people call something, and what they know of it. */
export interface Note {
	on: NoteTarget;
	nickname: string;
	note: string;
}

const ORDER = ['folder', 'file', 'kind', 'record', 'field', 'value'] as const;

/** One string for what a note is on; equal for equal targets. */
export const targetKey = (on: NoteTarget): string =>
	JSON.stringify(ORDER.flatMap((name) => (on[name] === undefined ? [] : [[name, on[name]]])));

/** What a note is on, from its one string. */
export const targetOf = (key: string): NoteTarget =>
	Object.fromEntries(JSON.parse(key) as [string, string][]) as NoteTarget;
