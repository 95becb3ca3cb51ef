import { targetKey, type Note } from '$core/guide';

const known = new WeakMap<Note[], Map<string, string>>();
const NONE: Note[] = [];

/** Nicknames by what they are on (see `targetKey`). */
export function nicknamesIn(notes: Note[] = NONE): Map<string, string> {
	let found = known.get(notes);
	if (!found) {
		found = new Map(
			notes.filter((note) => note.nickname !== '').map((note) => [targetKey(note.on), note.nickname])
		);
		known.set(notes, found);
	}
	return found;
}
