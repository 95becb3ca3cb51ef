// Nicknames and notes that people put on things. They are in the guide file under `notes`, so that they are shared with it.
import { parseDocument } from 'yaml';
import type { Note, NoteTarget } from './schema';

const ORDER = ['folder', 'file', 'kind', 'record', 'field', 'value'] as const;

/** One string for what a note is on; equal for equal targets. */
export const targetKey = (on: NoteTarget): string =>
	JSON.stringify(ORDER.flatMap((name) => (on[name] === undefined ? [] : [[name, on[name]]])));

/** What a note is on, from its one string. */
export const targetOf = (key: string): NoteTarget =>
	Object.fromEntries(JSON.parse(key) as [string, string][]) as NoteTarget;

/** A guide file with the notes in it; everything else, comments too, stays as written. `null` is not a guide yet. */
export function guideWithNotes(guide: string | null, notes: readonly Note[]): string {
	const doc = parseDocument(guide ?? 'guide: 1\n', { merge: true, uniqueKeys: false });
	if (notes.length === 0) doc.delete('notes');
	else
		doc.set(
			'notes',
			doc.createNode(
				notes.map(({ on, nickname, note }) => ({
					on,
					...(nickname === '' ? {} : { nickname }),
					...(note === '' ? {} : { note })
				}))
			)
		);
	return doc.toString({ lineWidth: 0 });
}
