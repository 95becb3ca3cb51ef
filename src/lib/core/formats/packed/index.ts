// Packed tables: files of bytes with a layout that the guide knows.
import { EditRefused, type Format } from '../document';
import { blank, insert, move, remove, set, unset } from './edit';
import { HEAD, placeIn, fieldsOf, readPacked, tablesIn, type PackedDocument } from './read';

const refuse = (reason: string) => (): never => {
	throw new EditRefused(reason);
};

const FIXED =
	'In a packed table the number of values of a row is fixed by the layout. Change the values instead.';

export const packed: Format<Uint8Array, PackedDocument> = {
	id: 'packed',
	of: 'bytes',
	endings: [],
	traits: {},
	read: readPacked,
	again: (doc, hints) => readPacked(doc.content, hints),
	partsIn: tablesIn,
	placesIn: ({ packed: { places } }) => [
		{ at: HEAD, records: 1 },
		...places.sections.flatMap(({ name, table, rows }) => (table ? [{ at: name, records: rows }] : []))
	],
	set,
	unset,
	rename(doc, record, id) {
		if (doc.key === null || !placeIn(fieldsOf(doc), doc.key))
			throw new EditRefused('Rows of this table have no name; they are known by their number.');
		return set(doc, record, doc.key, id);
	},
	renameKey: refuse('The names of the fields are in the layout.'),
	insert,
	remove,
	move,
	insertItem: refuse(FIXED),
	removeItem: refuse(FIXED),
	moveItem: refuse(FIXED),
	blank
};
