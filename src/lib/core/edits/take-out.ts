// A record of the layers below taken out of what the game reads, by exact copies in a file of my mod.
import { EditRefused } from '../formats';
import type { EffectiveRecord } from '../stack';
import { NotPossible, type Work } from './work';

/** Writes an exact copy of each version of a record into the file that takes records out. @throws NotPossible */
export function takeOutCopies({ draft, say }: Work, record: EffectiveRecord, path: string): void {
	for (const { doc, record: source, file } of record.presences) {
		if (draft.format(path)?.id !== draft.format(file.path).id)
			throw new NotPossible(`${path} is written in another format than ${file.path}.`);
		if (!draft.doc(path)) draft.create(path, draft.format(path).blank(doc), file.text);
		if (!draft.doc(path)) throw new EditRefused(`${path} cannot be created as a separate file.`);
		draft.edit(path, draft.format(path).insert(draft.doc(path, record.kind)!, doc, source));
	}
	say(`${path} removes it from what the game reads, by an exact copy; a version that differs stays.`);
}
