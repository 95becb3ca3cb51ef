// Nicknames and notes, as the pages and the search know them.
import type { Given } from '$core/search';
import { readNotes } from '../db/notes';
import { db } from '../db/pool';

/** All nicknames and notes of a project, as things that can be found. */
export async function givenIn(slug: string): Promise<Given[]> {
	return (await readNotes(db(), slug)).flatMap(({ on, nickname, note }) => [
		...(nickname === '' ? [] : [{ on, text: nickname, what: 'nickname', nickname: true }]),
		...(note === '' ? [] : [{ on, text: note, what: 'note', nickname: false }])
	]);
}
