// What every format of nested maps and lists does by the same means; the rest is its syntax.
import type { FormatId, TextFormat, Traits } from './document';
import {
	blankBelow,
	insertItemBelow,
	insertRecordBelow,
	moveItemBelow,
	moveRecordBelow,
	removeItemBelow,
	removeRecordBelow,
	renameBelow,
	renameRecordBelow,
	setBelow,
	unsetBelow
} from './tree-edits';
import { insertPartBelow, movePartBelow } from './tree-parts';
import { partsByPlace, partsByWord, placesBelow, treeAgain, type Syntax } from './tree';

/** A format of nested maps and lists. */
export function treeFormat(
	id: FormatId,
	endings: string[],
	read: TextFormat['read'],
	syntax: Syntax,
	traits: Traits = {}
): TextFormat {
	return {
		id,
		of: 'text',
		endings,
		traits,
		read,
		again: (doc, hints) => treeAgain(doc, hints, syntax),
		partsIn(doc, said = []) {
			const words = partsByWord(doc, syntax);
			return words.length > 0 ? words : partsByPlace(doc, syntax, said);
		},
		...(traits.nested ? { placesIn: (doc) => placesBelow(doc, syntax) } : {}),
		set: (doc, record, path, value) => setBelow(doc, record, path, value, syntax),
		unset: (doc, record, path) => unsetBelow(doc, record, path, syntax),
		rename: (doc, record, name) => renameRecordBelow(doc, record, name, syntax),
		renameKey: (doc, record, path, name) => renameBelow(doc, record, path, name, syntax),
		insert: (doc, source, record) => insertRecordBelow(doc, source, record, syntax),
		remove: (doc, record) => removeRecordBelow(doc, record, syntax),
		move: (doc, record, to) => moveRecordBelow(doc, record, to, syntax),
		insertItem: (doc, record, list, at, item) => insertItemBelow(doc, record, list, at, item, syntax),
		removeItem: (doc, record, list, at) => removeItemBelow(doc, record, list, at, syntax),
		moveItem: (doc, record, list, at, to) => moveItemBelow(doc, record, list, at, to, syntax),
		parts: {
			insert: (doc, record, path, source) => insertPartBelow(doc, record, path, source, syntax),
			move: (doc, record, path, beside) => movePartBelow(doc, record, path, beside, syntax)
		},
		blank: (doc) => blankBelow(doc, syntax)
	};
}
