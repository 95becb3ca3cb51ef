import { toEol } from '../text';
import { EditRefused, startDocument, type OpenDocument, type ReadHints, type TextDocument } from './document';
import type { TaggedLayout } from './layout';
import { indexWithin, lineEnd, nextLine } from './lines';
import { itemsOf, LIST, MAP, TEXT } from './tape';
import { addTreeRecords, type Syntax } from './tree';
import { treeFormat } from './tree-format';

const PLAIN: TaggedLayout = { shape: 'tagged', first: 'N', separator: ':', texts: [], comments: ['#'] };

const layoutOf = ({ hints }: TextDocument): TaggedLayout =>
	hints.layout?.shape === 'tagged' ? hints.layout : PLAIN;

const TAG = /^[\p{L}\p{N}_+-]{1,12}$/u;

/** Records that begin with a line of one tag; the lines of other tags up to the next are theirs. */
function scan(doc: OpenDocument, layout: TaggedLayout): number {
	const { content: text, tape } = doc;
	const { first, separator, comments } = layout;
	const texts = new Set(layout.texts);
	const root = tape.open(MAP, -1, -1, 0);
	let record = -1;
	let last = 0;
	for (let at = 0; at < text.length; at = nextLine(text, at)) {
		const end = lineEnd(text, at);
		if (text.slice(at, end).trim() === '') continue;
		if (comments.some((mark) => mark !== '' && text.startsWith(mark, at))) {
			tape.remark(at, end);
			continue;
		}
		const mark = indexWithin(text, separator, at, end);
		const tag = mark < 0 ? '' : text.slice(at, mark);
		if (!TAG.test(tag)) {
			// What is before the first record is none of them.
			if (record >= 0) doc.problem(at, `This line does not begin with a tag and “${separator}”.`);
			continue;
		}
		if (tag === first) {
			if (record >= 0) tape.close(record, last);
			record = tape.open(MAP, -1, -1, at);
		}
		if (record < 0) continue;
		const from = mark + separator.length;
		last = end;
		if (texts.has(tag)) {
			tape.leaf(TEXT, at, mark, from, end);
			continue;
		}
		const list = tape.open(LIST, at, mark, from);
		for (let start = from; ;) {
			const next = indexWithin(text, separator, start, end);
			const stop = next < 0 ? end : next;
			tape.leaf(TEXT, -1, -1, start, stop);
			if (stop === end) break;
			start = stop + separator.length;
		}
		tape.close(list, end);
	}
	if (record >= 0) tape.close(record, last);
	tape.close(root, text.length);
	return root;
}

const syntax: Syntax = {
	name: ({ tape, content: text }, node) => text.slice(tape.keyFrom(node), tape.keyTo(node)),
	value: ({ tape, content: text }, node) => text.slice(tape.from(node), tape.to(node)),
	writeName(_, name) {
		if (!TAG.test(name)) throw new EditRefused(`“${name}” cannot be a tag in this file.`);
		return name;
	},
	writeValue(doc, node, value) {
		if (/[\r\n]/.test(value)) throw new EditRefused('A value in this file must be on one line.');
		const { separator } = layoutOf(doc);
		const placed = node > 0 && doc.tape.keyFrom(node) < 0;
		if (placed && value.includes(separator))
			throw new EditRefused(`A “${separator}” would begin another value in this file.`);
		return value;
	},
	pair: '',
	inside(doc, node) {
		const { tape, content: text } = doc;
		const [from, to] = [tape.from(node), Math.max(tape.from(node), tape.to(node))];
		if (tape.kind(node) === LIST) return { from, to, separators: layoutOf(doc).separator };
		return { from, to, separators: '', lead: toEol(text) };
	},
	touch: true,
	addMember(doc, node, name, value) {
		const { tape, content: text } = doc;
		const at = lineEnd(text, tape.to(node));
		const tag = syntax.writeName(doc, name, '');
		return [
			{
				from: at,
				to: at,
				insert: `${toEol(text)}${tag}${layoutOf(doc).separator}${syntax.writeValue(doc, -1, value, node)}`
			}
		];
	},
	repeats: true,
	// A tag that comes once may recur, but for the one that begins the record.
	numbered: (doc, node) => syntax.name(doc, node) !== layoutOf(doc).first,
	records: ({ tape }, root) => ({ holder: root, items: itemsOf(tape, root), named: false })
};

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('tagged', text, hints);
	const layout = layoutOf(doc);
	const root = scan(doc, layout);
	doc.tape.finish();
	addTreeRecords(doc, root, syntax);
	doc.key = hints.key ?? `${layout.first}[0]`;
	return doc;
}

/** Records of lines that each begin with a tag: `N:12:Name`, `D:what is said of it`. */
export const tagged = treeFormat('tagged', [], read, syntax, { untyped: true });
