import { toEol } from '../text';
import { EditRefused, startDocument, type ReadHints, type TextDocument, type TextFormat } from './document';
import type { GroupsLayout } from './layout';
import { lineEnd, nextLine } from './lines';
import { itemsOf, MAP, TEXT } from './tape';
import { addTreeRecords, type Syntax } from './tree';
import { treeFormat } from './tree-format';

const PLAIN: GroupsLayout = { shape: 'groups', names: ['source', 'text'] };

const namesOf = ({ hints }: TextDocument): readonly string[] =>
	(hints.layout?.shape === 'groups' ? hints.layout : PLAIN).names;

const syntax: Syntax = {
	// A line has its name by its place.
	name: (doc, node) => namesOf(doc)[placeOf(doc, node)] ?? 'more',
	value: ({ tape, content: text }, node) => text.slice(tape.from(node), tape.to(node)),
	writeName() {
		throw new EditRefused('The lines of this file have no names.');
	},
	writeValue(_doc, _node, value) {
		if (/[\r\n]/.test(value)) throw new EditRefused('Each value of this file is one line.');
		if (value.trim() === '') throw new EditRefused('A line without a value would move all that follow.');
		return value;
	},
	pair: '',
	inside: ({ tape }, node) => ({ from: tape.from(node), to: tape.to(node), separators: '' }),
	addMember() {
		throw new EditRefused('A record of this file has a fixed number of lines.');
	},
	dropNode() {
		throw new EditRefused('A line of a record cannot be left out: those behind would move into its place.');
	},
	records: ({ tape }, root) => ({ holder: root, items: itemsOf(tape, root), named: false })
};

/** The place of a line among those of its record, from 0: records hold nothing but lines. */
function placeOf({ tape }: TextDocument, node: number): number {
	let nth = 0;
	while (node - nth > 0 && tape.kind(node - nth - 1) === TEXT) nth++;
	return nth;
}

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('groups', text, hints);
	const { tape } = doc;
	const size = namesOf(doc).length;
	const root = tape.open(MAP, -1, -1, 0);
	let lines: [number, number][] = [];
	for (let at = 0; at < text.length; at = nextLine(text, at)) {
		const end = lineEnd(text, at);
		if (text.slice(at, end).trim() === '') continue;
		lines.push([at, end]);
		if (lines.length < size) continue;
		const record = tape.open(MAP, -1, -1, lines[0]![0]);
		for (const line of lines) tape.leaf(TEXT, -1, -1, ...line);
		tape.close(record, end);
		lines = [];
	}
	if (lines.length > 0)
		doc.problem(
			lines[0]![0],
			`Here a record has ${lines.length} of ${size} lines; one may be missing here or anywhere above.`
		);
	tape.close(root, text.length);
	tape.finish();
	addTreeRecords(doc, root, syntax);
	doc.key = hints.key ?? namesOf(doc)[0]!;
	return doc;
}

const base = treeFormat('groups', [], read, syntax, { untyped: true });

/** Lines of which a fixed number form one record: a text and its translation below it. */
export const groups: TextFormat = {
	...base,
	insert(doc, source, record) {
		const eol = toEol(/[\r\n]/.test(doc.content) ? doc.content : source.content);
		const body = source.content.slice(record.from, record.to).replace(/\r\n|\n|\r/g, eol);
		const last = doc.records.at(-1);
		if (last) return [{ from: last.to, to: last.to, insert: eol + body }];
		return [{ from: 0, to: 0, insert: doc.content === '' ? body + eol : body }];
	},
	blank: () => ''
};
