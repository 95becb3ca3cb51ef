import { toEol } from '../text';
import { EditRefused, startDocument, type OpenDocument, type ReadHints, type TextDocument } from './document';
import { depthOf } from './indented';
import { lineEnd, nextLine } from './lines';
import { indentAt } from './siblings';
import { MAP, OWN, TEXT } from './tape';
import { addTreeRecords, plainRecords, type Syntax } from './tree';
import { treeFormat } from './tree-format';

const isBlank = (code: number) => code === 32 || code === 9;

/** What stands behind the name of something that has more below it. */
const SAID = OWN;

/** A line: its depth, its name, and its value. */
interface Line {
	depth: number;
	name: [from: number, to: number];
	value: [from: number, to: number];
}

/** Where the commentary of a line begins; its end where there is none. */
function remarkFrom(text: string, from: number, end: number): number {
	for (let at = from; at < end; at++)
		if (text[at] === '#' && (at === from || isBlank(text.charCodeAt(at - 1)))) return at;
	return end;
}

/** Where the name of a line ends: at a colon with a space or nothing behind it; -1 where there is none. */
function colonIn(text: string, from: number, end: number): number {
	for (let at = text.indexOf(':', from); at >= 0 && at < end; at = text.indexOf(':', at + 1))
		if (at > from && (at + 1 >= end || isBlank(text.charCodeAt(at + 1)))) return at;
	return -1;
}

function linesOf(doc: OpenDocument): Line[] {
	const { content: text, tape } = doc;
	const lines: Line[] = [];
	/** The indents that are open. */
	const open: string[] = [''];
	for (let at = 0; at < text.length; at = nextLine(text, at)) {
		const whole = lineEnd(text, at);
		let from = at;
		while (from < whole && isBlank(text.charCodeAt(from))) from++;
		const remark = remarkFrom(text, from, whole);
		if (remark < whole) tape.remark(remark, whole);
		let end = remark;
		while (end > from && text.charCodeAt(end - 1) <= 32) end--;
		if (from === end) continue;
		const colon = colonIn(text, from, end);
		if (colon < 0) {
			doc.problem(from, 'This line must be “name: value”.');
			continue;
		}
		const depth = depthOf(doc, open, at, from);
		let start = Math.min(colon + 1, end);
		while (start < end && isBlank(text.charCodeAt(start))) start++;
		lines.push({ depth, name: [from, colon], value: [start, end] });
	}
	return lines;
}

/** Writes the line with number `nth` and all below it; returns the number of the next one. */
function write(doc: OpenDocument, lines: readonly Line[], nth: number): number {
	const { tape } = doc;
	const { depth, name, value } = lines[nth]!;
	if ((lines[nth + 1]?.depth ?? 0) <= depth) {
		tape.leaf(TEXT, ...name, ...value);
		return nth + 1;
	}
	const node = tape.open(MAP, ...name, name[0]);
	if (value[0] < value[1]) tape.leaf(SAID, -1, -1, ...value);
	let next = nth + 1;
	while (next < lines.length && lines[next]!.depth > depth) next = write(doc, lines, next);
	tape.close(node, lines[next - 1]!.value[1]);
	return next;
}

/** Whether something has a value of its own, besides what is below it. */
const saidOf = ({ tape }: Pick<TextDocument, 'tape'>, node: number): number =>
	node + 1 < tape.after(node) && tape.kind(node + 1) === SAID ? node + 1 : -1;

function checked(value: string): string {
	if (/[\r\n]/.test(value)) throw new EditRefused('A value in this file must be on one line.');
	if (value !== value.trim())
		throw new EditRefused('Spaces at the start or end of a value would be lost in this file.');
	if (/(?:^|\s)#/.test(value)) throw new EditRefused('A # at this place would begin a comment in this file.');
	return value;
}

const syntax: Syntax = {
	name: ({ tape, content: text }, node) =>
		tape.keyFrom(node) < 0 ? '#1' : text.slice(tape.keyFrom(node), tape.keyTo(node)),
	value: ({ tape, content: text }, node) => text.slice(tape.from(node), tape.to(node)),
	writeName(_doc, name) {
		if (name !== name.trim() || name === '' || /[\r\n#]|:(?:\s|$)/.test(name))
			throw new EditRefused(`“${name}” cannot be a name in this file.`);
		return name;
	},
	writeValue({ tape, content: text }, node, value) {
		const lead = node >= 0 && text[tape.from(node) - 1] === ':' && value !== '' ? ' ' : '';
		return lead + checked(value);
	},
	pair: ': ',
	inside({ tape, content: text }, node) {
		if (node === 0) return { from: 0, to: text.length, separators: '' };
		const said = saidOf({ tape }, node);
		const from = said < 0 ? tape.keyTo(node) + 1 : tape.to(said);
		const lead = `${toEol(text)}${indentAt(text, tape.keyFrom(node))}\t`;
		return { from, to: Math.max(from, tape.to(node)), separators: '', lead };
	},
	inRow: ({ tape }, node) => tape.kind(node) !== SAID,
	dropNode({ tape }, node) {
		if (tape.kind(node) !== SAID) return null;
		return [{ from: tape.from(node), to: tape.to(node), insert: '' }];
	},
	comment: (text, at) => (text[at] === '#' ? lineEnd(text, at) : -1),
	repeats: true,
	trail: true,
	indented: true,
	records: ({ tape }, root) => plainRecords(tape, root)
};

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('outline', text, hints);
	const root = doc.tape.open(MAP, -1, -1, 0);
	const lines = linesOf(doc);
	for (let nth = 0; nth < lines.length;) nth = write(doc, lines, nth);
	doc.tape.close(root, text.length);
	doc.tape.finish();
	addTreeRecords(doc, root, syntax);
	if (text.trim() === '') doc.problem(0, 'The file is empty: there is no name.');
	return doc;
}

/** Outlines by indentation: `name: value` on each line, what belongs to it below and indented further. */
export const outline = treeFormat('outline', [], read, syntax, { untyped: true });
