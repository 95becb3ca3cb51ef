// Packed tables: files of bytes with a layout that the guide knows.
import { EditRefused, type Format } from '../document';
import { homeOf, partLike } from '../parts';
import { setMany } from './many';
import { blank, insert, move, remove } from './rows';
import { pointingAt, set, setEverywhere, sharing, unset } from './values';
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
	set: (doc, record, path, value) => set(homeOf(doc, record), record, path, value),
	setMany,
	unset: (doc, record, path) => unset(homeOf(doc, record), record, path),
	rename(whole, record, id) {
		const doc = homeOf(whole, record);
		if (doc.key === null || !placeIn(fieldsOf(doc), doc.key))
			throw new EditRefused('Rows of this table have no name; they are known by their number.');
		return set(doc, record, doc.key, id);
	},
	renameKey: refuse('The names of the fields are in the layout.'),
	insert(doc, source, record) {
		const home = homeOf(source, record);
		return insert(partLike(doc, home), home, record);
	},
	remove: (doc, record) => remove(homeOf(doc, record), record),
	move: (doc, record, to) => move(homeOf(doc, record), record, to),
	insertItem: refuse(FIXED),
	removeItem: refuse(FIXED),
	moveItem: refuse(FIXED),
	shared: { fields: pointingAt, of: sharing, set: setEverywhere },
	blank
};
