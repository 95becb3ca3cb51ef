// The order of records in their file, and the items of lists.
import { displayName } from '../stack';
import { recountItems } from './follow';
import type { Intention } from './intention';
import { take } from './steps';
import { find, note, NotPossible, type Work } from './work';

/** Moves a record among those of its file. */
export function move(work: Work, { kind, id, to, file }: Extract<Intention, { do: 'move' }>): string {
	const { stack, draft } = work;
	const record = find(stack, kind, id);
	const path = file !== undefined && draft.has(file) ? file : take(draft, record, work.say);
	const doc = draft.doc(path)!;
	const node = draft.record(path, id);
	if (!node) throw new NotPossible(`${path} has no record ${id}.`);
	const from = doc.records.indexOf(node);
	const place = Math.min(to, doc.records.length - 1);
	if (from === place) throw new NotPossible('The record is already there.');
	draft.edit(path, draft.format(path).move(doc, node, place));
	note(work, record, 'place in the file', String(from + 1), String(place + 1));
	if (stack.guide.kinds[kind]!.reversed)
		work.say(
			`The game shows ${path} the last first: number ${doc.records.length - place} of ${doc.records.length} for the player.`
		);
	return `Move ${displayName(stack, record)} to place ${place + 1} of ${doc.records.length} in ${path}`;
}

/** Changes the items of a list of a record. */
export function item(work: Work, { kind, id, list, at, change }: Extract<Intention, { do: 'item' }>): string {
	const { stack, draft } = work;
	const record = find(stack, kind, id);
	const path = take(draft, record, work.say);
	const node = draft.record(path, id);
	if (!node) throw new NotPossible(`${path} has no record ${id}.`);
	const doc = draft.doc(path)!;
	const format = draft.format(path);
	const was = node.fields.find((field) => field.path === `${list}[${at}]`);
	const before = was ? String(was.value ?? '') : null;
	const name = displayName(stack, record);
	const place = `${list}[${at}]`;
	switch (change.how) {
		case 'insert':
			draft.edit(path, format.insertItem(doc, node, list, at, { value: change.value }));
			note(work, record, place, null, change.value);
			break;
		case 'copy':
			draft.edit(path, format.insertItem(doc, node, list, at + 1, { copyOf: at }));
			note(work, record, `${list}[${at + 1}]`, null, before ?? `as ${place}`);
			break;
		case 'remove':
			draft.edit(path, format.removeItem(doc, node, list, at));
			note(work, record, place, before ?? 'an item', null);
			break;
		case 'move':
			draft.edit(path, format.moveItem(doc, node, list, at, change.to));
			note(work, record, list, `${before ?? 'the item'} in place ${at + 1}`, `in place ${change.to + 1}`);
			break;
	}
	recountItems(work, record, path, list);
	const did = {
		insert: 'Put one into',
		copy: 'Repeat one in',
		remove: 'Take one out of',
		move: 'Move one in'
	};
	return `${did[change.how]} ${list} of ${name}`;
}
