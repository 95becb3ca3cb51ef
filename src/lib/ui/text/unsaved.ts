// What was typed and is not saved yet, kept in the browser: it outlives the page, the server and a crash.
import { createStore, del, get, set } from 'idb-keyval';

export interface Unsaved {
	text: string;
	/** Digest of the file on which the typing began; null for a new one. */
	from: string | null;
	/** When it was typed, in milliseconds since 1970. */
	at: number;
}

const store = () => createStore('kettle-unsaved', 'texts');
const key = (slug: string, path: string) => `${slug}\n${path}`;

/** The text that was typed for a file and not saved; undefined where there is none, or the browser keeps nothing. */
export async function unsavedOf(slug: string, path: string): Promise<Unsaved | undefined> {
	try {
		return await get<Unsaved>(key(slug, path), store());
	} catch {
		return undefined;
	}
}

/** Keeps what was typed, or with null forgets it. False where the browser keeps nothing. */
export async function keepUnsaved(slug: string, path: string, unsaved: Unsaved | null): Promise<boolean> {
	try {
		await (unsaved ? set(key(slug, path), unsaved, store()) : del(key(slug, path), store()));
		return true;
	} catch {
		return false;
	}
}
