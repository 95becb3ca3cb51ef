import { toEol } from '../text';
import { EditRefused, startDocument, type OpenDocument, type ReadHints, type TextDocument } from './document';
import type { TaggedLayout } from './layout';
import { indexWithin, lineEnd, nextLine } from './lines';
import { itemsOf, LIST, MAP, TEXT } from './tape';
import { addTreeRecords, type Syntax } from './tree';
import { treeFormat } from './tree-format';

const PLAIN: TaggedLayout = {
	shape: 'tagged',
	first: 'N',
	separator: ':',
	brackets: null,
	texts: [],
	comments: ['#']
};

const layoutOf = ({ hints }: TextDocument): TaggedLayout =>
	hints.layout?.shape === 'tagged' ? hints.layout : PLAIN;

const TAG = /^[\p{L}\p{N}_+-]{1,60}$/u;
/** A line that begins with a longer word than this, and a mark, is no tag but a sentence. */
const LONGEST = 12;

/** A tag with its values, `[from, to)`, and with what is around it. */
interface Piece {
	start: number;
	from: number;
	to: number;
	stop: number;
}

/** The lines that say something, each a tag with its values. */
function* linesIn({ content: text, tape }: OpenDocument, { comments }: TaggedLayout): Generator<Piece> {
	for (let at = 0; at < text.length; at = nextLine(text, at)) {
		const end = lineEnd(text, at);
		if (text.slice(at, end).trim() === '') continue;
		if (comments.some((mark) => mark !== '' && text.startsWith(mark, at))) tape.remark(at, end);
		else yield { start: at, from: at, to: end, stop: end };
	}
}

/** What stands in brackets; all else is for people. */
function* bracketsIn(doc: OpenDocument, [open, close]: readonly [string, string]): Generator<Piece> {
	const { content: text } = doc;
	for (let at = text.indexOf(open); at >= 0;) {
		const end = indexWithin(text, close, at, lineEnd(text, at));
		if (end < 0) doc.problem(at, `What “${open}” opens here is never closed by “${close}”.`);
		else yield { start: at, from: at + open.length, to: end, stop: end + close.length };
		at = text.indexOf(open, end < 0 ? lineEnd(text, at) : end + close.length);
	}
}

/** Records that begin with one tag; the other tags up to the next are theirs. */
function scan(doc: OpenDocument, layout: TaggedLayout): number {
	const { content: text, tape } = doc;
	const { first, separator, brackets } = layout;
	const texts = new Set(layout.texts);
	const root = tape.open(MAP, -1, -1, 0);
	let record = -1;
	let last = 0;
	for (const { start, from, to, stop } of brackets ? bracketsIn(doc, brackets) : linesIn(doc, layout)) {
		const mark = indexWithin(text, separator, from, to);
		const tag = text.slice(from, mark < 0 ? to : mark);
		if (!TAG.test(tag) || (!brackets && (mark < 0 || tag.length > LONGEST))) {
			// What is before the first record is none of them.
			if (record >= 0 && !brackets)
				doc.problem(from, `This line does not begin with a tag and “${separator}”.`);
			continue;
		}
		if (tag === first) {
			if (record >= 0) tape.close(record, last);
			record = tape.open(MAP, -1, -1, start);
		}
		if (record < 0) continue;
		last = stop;
		const values = mark + separator.length;
		if (mark < 0) tape.leaf(TEXT, start, to, to, to);
		else if (texts.has(tag)) tape.leaf(TEXT, start, mark, values, to);
		else {
			const list = tape.open(LIST, start, mark, values);
			// In brackets with nothing in them there is no value.
			for (let at = values; !brackets || values < to;) {
				const next = indexWithin(text, separator, at, to);
				const end = next < 0 ? to : next;
				tape.leaf(TEXT, -1, -1, at, end);
				if (end === to) break;
				at = end + separator.length;
			}
			tape.close(list, to);
		}
	}
	if (record >= 0) tape.close(record, last);
	tape.close(root, text.length);
	return root;
}

/** What is before the name of a tag. */
const openOf = (doc: TextDocument): string => layoutOf(doc).brackets?.[0] ?? '';

const syntax: Syntax = {
	name: (doc, node) => doc.content.slice(doc.tape.keyFrom(node) + openOf(doc).length, doc.tape.keyTo(node)),
	value: ({ tape, content: text }, node) => text.slice(tape.from(node), tape.to(node)),
	writeName(doc, name) {
		const { brackets } = layoutOf(doc);
		if (!TAG.test(name) || (!brackets && name.length > LONGEST))
			throw new EditRefused(`“${name}” cannot be a tag in this file.`);
		return openOf(doc) + name;
	},
	writeValue(doc, node, value) {
		if (/[\r\n]/.test(value)) throw new EditRefused('A value in this file must be on one line.');
		const { separator, brackets } = layoutOf(doc);
		const around = brackets?.find((mark) => value.includes(mark));
		if (around !== undefined) throw new EditRefused(`A “${around}” would begin or end a tag in this file.`);
		const placed = node > 0 && doc.tape.keyFrom(node) < 0;
		if (placed && value.includes(separator))
			throw new EditRefused(`A “${separator}” would begin another value in this file.`);
		return value;
	},
	pair: ':',
	inside(doc, node) {
		const { tape, content: text } = doc;
		const [from, to] = [tape.from(node), Math.max(tape.from(node), tape.to(node))];
		if (tape.kind(node) === LIST) return { from, to, separators: layoutOf(doc).separator };
		return { from, to, separators: '', lead: toEol(text) };
	},
	touch: true,
	endOf(doc, node) {
		const { tape } = doc;
		return tape.to(node) + (tape.keyFrom(node) < 0 ? 0 : (layoutOf(doc).brackets?.[1].length ?? 0));
	},
	addMember(doc, node, name, value) {
		const { tape, content: text } = doc;
		const tag = syntax.writeName(doc, name, '');
		const { brackets, separator } = layoutOf(doc);
		if (brackets) {
			const to = tape.to(node);
			const said = value === '' ? '' : separator + syntax.writeValue(doc, -1, value, node);
			return [{ from: to, to, insert: `${toEol(text)}\t${tag}${said}${brackets[1]}` }];
		}
		const at = lineEnd(text, tape.to(node));
		return [
			{
				from: at,
				to: at,
				insert: `${toEol(text)}${tag}${separator}${syntax.writeValue(doc, -1, value, node)}`
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

/** Records of lines that each begin with a tag: `N:12:Name`, `D:what is said of it`; or of tags in brackets: `[SIZE:12]`. */
export const tagged = treeFormat('tagged', [], read, syntax, { untyped: true });
