import { toEol } from '../text';
import { EditRefused, startDocument, type OpenDocument, type ReadHints, type TextDocument } from './document';
import { indexWithin, lineEnd, nextLine } from './lines';
import { DEEPEST } from './json';
import { indentAt } from './siblings';
import { itemsOf, LIST, MAP, OWN, TEXT } from './tape';
import { addTreeRecords, type Syntax } from './tree';
import { treeFormat } from './tree-format';

const isBlank = (code: number) => code === 32 || code === 9;

/** The name of a record, on its first line; from the next number on other words of a line that has more below it. */
const HEAD = OWN;

/** A line: its depth, and its words. */
interface Line {
	depth: number;
	words: [from: number, to: number][];
	end: number;
}

const QUOTES = '"`';

/** The words of a line, quotes included; what is never closed is told. */
function wordsOf(doc: OpenDocument, from: number, end: number): [number, number][] {
	const { content: text, tape } = doc;
	const words: [number, number][] = [];
	for (let at = from; at < end;) {
		if (isBlank(text.charCodeAt(at))) {
			at++;
			continue;
		}
		if (text[at] === '#') {
			tape.remark(at, end);
			break;
		}
		let to = at;
		if (QUOTES.includes(text[at]!)) {
			const close = indexWithin(text, text[at]!, at + 1, end);
			if (close < 0) {
				doc.problem(at, `This text is never closed by ${text[at]}.`);
				to = end;
			} else to = close + 1;
		} else while (to < end && !isBlank(text.charCodeAt(to))) to++;
		words.push([at, to]);
		at = to;
	}
	return words;
}

/**
 * How deep a line is: how many indents are open before it, each beginning with the one around it.
 * @param open the indents that are open, which change with the line
 */
export function depthOf(doc: OpenDocument, open: string[], at: number, from: number): number {
	const indent = doc.content.slice(at, from);
	while (open.length > 1 && !indent.startsWith(open.at(-1)!)) open.pop();
	if (indent !== open.at(-1)) {
		if (open.length < DEEPEST) open.push(indent);
		else
			doc.problem(
				from,
				`This line is indented by more than ${DEEPEST} steps; it is read as part of the line before it.`
			);
	}
	return open.length - 1;
}

function linesOf(doc: OpenDocument): Line[] {
	const { content: text, tape } = doc;
	const lines: Line[] = [];
	/** The indents that are open. */
	const open: string[] = [''];
	for (let at = 0; at < text.length; at = nextLine(text, at)) {
		let end = lineEnd(text, at);
		let from = at;
		while (from < end && isBlank(text.charCodeAt(from))) from++;
		while (end > from && text.charCodeAt(end - 1) <= 32) end--;
		if (from === end) continue;
		if (text[from] === '#') {
			tape.remark(from, end);
			continue;
		}
		const depth = depthOf(doc, open, at, from);
		const words = wordsOf(doc, from, end);
		if (words.length > 0) lines.push({ depth, words, end: words.at(-1)![1] });
	}
	return lines;
}

/** Writes the line with number `nth` and all below it; returns the number of the next one. */
function write(doc: OpenDocument, lines: readonly Line[], nth: number): number {
	const { tape } = doc;
	const { depth, words, end } = lines[nth]!;
	const [[keyFrom, keyTo], ...values] = words as [[number, number], ...[number, number][]];
	const holds = (lines[nth + 1]?.depth ?? 0) > depth;
	if (!holds && depth > 0) {
		if (values.length === 0) tape.leaf(TEXT, keyFrom, keyTo, keyTo, keyTo);
		else if (values.length === 1) tape.leaf(TEXT, keyFrom, keyTo, ...values[0]!);
		else {
			const list = tape.open(LIST, keyFrom, keyTo, values[0]![0]);
			for (const value of values) tape.leaf(TEXT, -1, -1, ...value);
			tape.close(list, end);
		}
		return nth + 1;
	}
	const node = tape.open(MAP, keyFrom, keyTo, keyFrom);
	values.forEach((value, at) => tape.leaf(HEAD + at + (depth === 0 ? 0 : 1), -1, -1, ...value));
	let next = nth + 1;
	let to = end;
	while (next < lines.length && lines[next]!.depth > depth) {
		const from = next;
		next = write(doc, lines, next);
		for (let line = from; line < next; line++) to = lines[line]!.end;
	}
	tape.close(node, to);
	return next;
}

const bare = (raw: string) =>
	raw.length >= 2 && QUOTES.includes(raw[0]!) && raw.endsWith(raw[0]!) ? raw.slice(1, -1) : raw;

/** The words on the line that opens a block, behind its name. */
const headOf = ({ tape }: TextDocument, node: number): number[] => {
	const head: number[] = [];
	for (let item = node + 1; item < tape.after(node) && tape.keyFrom(item) < 0; item = tape.after(item))
		head.push(item);
	return head;
};

function written(value: string, old: string): string {
	if (/[\r\n]/.test(value)) throw new EditRefused('A value in this file must be on one line.');
	const plain = value !== '' && !/[\s"`#]/.test(value);
	const quote = QUOTES.includes(old[0] ?? '-') ? old[0]! : '"';
	if (plain && !QUOTES.includes(old[0] ?? '-')) return value;
	const free = [quote, ...QUOTES].find((mark) => !value.includes(mark));
	if (free === undefined) throw new EditRefused('A value in this file cannot contain both kinds of quotes.');
	return free + value + free;
}

const syntax: Syntax = {
	name({ tape, content: text }, node) {
		if (tape.keyFrom(node) >= 0) return bare(text.slice(tape.keyFrom(node), tape.keyTo(node)));
		return `#${tape.kind(node) - HEAD}`;
	},
	value: ({ tape, content: text }, node) => bare(text.slice(tape.from(node), tape.to(node))),
	writeName: (_, name, like) => written(name, like),
	writeValue({ tape, content: text }, node, value) {
		const old = node < 0 ? '' : text.slice(tape.from(node), tape.to(node));
		const lead = node >= 0 && old === '' ? ' ' : '';
		return lead + written(value, old);
	},
	pair: ' ',
	inside({ tape, content: text }, node) {
		if (tape.kind(node) === LIST) return { from: tape.from(node), to: tape.to(node), separators: ' ' };
		if (node === 0) return { from: 0, to: text.length, separators: '' };
		const head = headOf({ tape } as TextDocument, node).at(-1);
		const from = head === undefined ? tape.keyTo(node) : tape.to(head);
		const deeper = `${toEol(text)}${indentAt(text, tape.keyFrom(node))}\t`;
		return { from, to: Math.max(from, tape.to(node)), separators: '', lead: deeper };
	},
	inRow: ({ tape }, node) => tape.kind(node) < OWN,
	comment: (text, at) => (text[at] === '#' ? lineEnd(text, at) : -1),
	repeats: true,
	trail: true,
	indented: true,
	headed: true,
	calls: true,
	word: (doc, node) => (doc.tape.keyFrom(node) < 0 ? '' : syntax.name(doc, node)),
	idLeaf: (doc, node) => headOf(doc, node)[0] ?? -1,
	idText(doc, node) {
		const leaf = syntax.idLeaf!(doc, node) ?? -1;
		return leaf < 0 ? '' : String(syntax.value(doc, leaf));
	},
	hidden: ({ tape }, node) => tape.kind(node) === HEAD,
	records: ({ tape }, root) => ({ holder: root, items: itemsOf(tape, root), named: false })
};

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('indented', text, hints);
	const root = doc.tape.open(MAP, -1, -1, 0);
	const lines = linesOf(doc);
	for (let nth = 0; nth < lines.length;) nth = write(doc, lines, nth);
	doc.tape.close(root, text.length);
	doc.tape.finish();
	addTreeRecords(doc, root, syntax);
	return doc;
}

/** Blocks by indentation: a word and a name on the first line, what is said of it below and indented further. */
export const indented = treeFormat('indented', [], read, syntax, { untyped: true, fixedIds: true });
