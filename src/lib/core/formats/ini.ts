import { toEol } from '../text';
import {
	EditRefused,
	startDocument,
	type TextDocument,
	type TextFormat,
	type OpenDocument,
	type ReadHints,
	type RecordNode
} from './document';
import { lineEnd, nextLine } from './lines';
import { prefixOf } from './prefixes';
import { MAP, OWN, TEXT } from './tape';
import { addTreeRecords, type Syntax } from './tree';
import { treeFormat } from './tree-format';

const isBlank = (code: number) => code === 32 || code === 9;

/** Where the commentary behind a value begins: a mark with a space before it, `#` also with one behind it. */
function trailing(text: string, from: number, to: number): number {
	for (let at = from; at < to; at++) {
		const code = text.charCodeAt(at);
		if (code !== 59 && code !== 35) continue;
		if (at > from && !isBlank(text.charCodeAt(at - 1))) continue;
		if (code === 59 || at + 1 >= to || isBlank(text.charCodeAt(at + 1))) return at;
	}
	return -1;
}

/** End of a value in quotes that fills the rest of its line, but for commentary; -1 where it is not one. */
function quotedEnd(text: string, from: number, to: number): number {
	const quote = text[from];
	if (quote !== '"' && quote !== "'") return -1;
	const end = text.indexOf(quote, from + 1);
	if (end < 0 || end >= to) return -1;
	let behind = end + 1;
	while (behind < to && isBlank(text.charCodeAt(behind))) behind++;
	return behind >= to || (behind > end + 1 && ';#'.includes(text[behind]!)) ? end + 1 : -1;
}

/** The marks between name and value: `=` alone where every line has one, so that names may hold colons. */
function marksOf(text: string): string {
	for (let at = 0; at < text.length; at = nextLine(text, at)) {
		const line = text.slice(at, Math.min(lineEnd(text, at), at + 400));
		if (/^\s*([;#[]|$)/.test(line)) continue;
		if (!line.includes('=') && line.includes(':')) return '=:';
		if (/^[^=]*:\s/.test(line)) return '=:';
	}
	return '=';
}

/** Reads `name = value`; `lineTo` is the line's end with its trailing space. Returns the end of what it is, or -1. */
function pair(doc: OpenDocument, from: number, to: number, lineTo: number, marks: string): number {
	const { content: text, tape } = doc;
	let mark = from;
	while (mark < to && !marks.includes(text[mark]!)) mark++;
	let keyTo = mark;
	while (keyTo > from && isBlank(text.charCodeAt(keyTo - 1))) keyTo--;
	if (mark >= to || keyTo === from) return -1;
	let start = mark + 1;
	while (start < lineTo && isBlank(text.charCodeAt(start))) start++;
	// Nothing is after the mark: the value goes one space behind it, whatever other space the line ends in.
	if (start >= to) start = Math.min(start, mark + 2);
	let end = quotedEnd(text, start, to);
	const comment = trailing(text, end < 0 ? start : end, to);
	if (end < 0) {
		end = Math.max(start, comment < 0 ? to : comment);
		while (end > start && isBlank(text.charCodeAt(end - 1))) end--;
	}
	if (comment >= 0) tape.remark(comment, to);
	tape.leaf(TEXT, from, keyTo, start, end);
	return Math.max(end, to);
}

/** The path in a line that takes in another file. */
const TAKEN = OWN + 1;
/**
 * Such a line: a word and a path, in quotes, in angle brackets or with a dot in it. Other words than these could be
 * names of which the mark before the value is missing.
 */
const TAKES_IN =
	/^(?:[!@.][A-Za-z_]\w*|(?:include|import|require|exec)\w*)[ \t]+(?:(["'])[^"'<>=]+\1|<[^<>="']+>|[^\s"'<>=;#]*[^\s"'<>=;#.]\.\w+)$/i;

/** Reads such a line; false where it is none. A file that begins with some and has sections has no values for that. */
function directive(
	{ content: text, tape }: OpenDocument,
	from: number,
	to: number,
	inSection: boolean
): boolean {
	const line = text.slice(from, to);
	const comment = trailing(line, 0, line.length);
	const said = comment < 0 ? line : line.slice(0, comment).trimEnd();
	if (!TAKES_IN.test(said)) return false;
	const word = /^\S+/.exec(said)![0].length;
	const gap = /^\s+<?/.exec(said.slice(word))![0].length;
	if (comment >= 0) tape.remark(from + comment, to);
	if (inSection)
		tape.leaf(TAKEN, from, from + word, from + word + gap, from + said.length - (said.endsWith('>') ? 1 : 0));
	return true;
}

/** A value in the brackets of a section, behind its name: `[boat id="cog" crew=4]`. */
const ATTRIBUTE = OWN;
const ATTRIBUTES = /^[A-Za-z_][\w.:-]*(?=\s)(?:\s+[A-Za-z_][\w.:-]*=(?:"[^"]*"|[^\s"[\]]+))+\s*$/;

/** Opens a section, with the values in its brackets. */
function head(doc: OpenDocument, from: number, close: number): number {
	const { content: text, tape } = doc;
	const said = text.slice(from + 1, close);
	if (!ATTRIBUTES.test(said)) return tape.open(MAP, from + 1, close, from);
	const word = /^\S+/.exec(said)![0].length;
	const section = tape.open(MAP, from + 1, from + 1 + word, from);
	for (const match of said.matchAll(/(?<=\s)([^\s=]+)=("[^"]*"|\S+)/g)) {
		const at = from + 1 + match.index;
		const to = at + match[0].length;
		tape.leaf(ATTRIBUTE, at, at + match[1]!.length, to - match[2]!.length, to);
	}
	return section;
}

/** Whether a section has values in its brackets. */
const hasAttributes = ({ tape }: Pick<TextDocument, 'tape'>, section: number): boolean =>
	section + 1 < tape.after(section) && tape.kind(section + 1) === ATTRIBUTE;

function scan(doc: OpenDocument): number {
	const { content: text, tape } = doc;
	const marks = marksOf(text);
	const hasSections = /^[ \t]*\[/m.test(text);
	const root = tape.open(MAP, -1, -1, 0);
	let section = -1;
	let last = 0;
	for (let at = 0; at < text.length; at = nextLine(text, at)) {
		let from = at;
		const lineTo = lineEnd(text, at);
		let end = lineTo;
		while (from < end && text.charCodeAt(from) <= 32) from++;
		if (from === end) continue;
		while (end > from && text.charCodeAt(end - 1) <= 32) end--;
		const code = text.charCodeAt(from);
		if (code === 59 || code === 35) {
			tape.remark(from, end);
			continue;
		}
		if (code === 91) {
			const close = text.indexOf(']', from);
			let behind = close + 1;
			while (behind < end && isBlank(text.charCodeAt(behind))) behind++;
			if (close < 0 || close >= end || (behind < end && !';#'.includes(text[behind]!))) {
				doc.problem(from, 'This section’s name is never closed by “]”, or there is text after it.');
				continue;
			}
			if (section >= 0) tape.close(section, last);
			if (behind < end) tape.remark(behind, end);
			section = head(doc, from, close);
			last = close + 1;
			continue;
		}
		const loose = section < 0;
		const taken = loose && hasSections && directive(doc, from, end, false);
		if (taken) continue;
		if (loose) section = tape.open(MAP, -1, -1, from);
		const behind = pair(doc, from, end, lineTo, marks);
		if (behind >= 0) last = behind;
		else if (directive(doc, from, end, true)) last = end;
		else doc.problem(from, `This line is neither a section in brackets nor “name = value”.`);
	}
	if (section >= 0) tape.close(section, last);
	tape.close(root, text.length);
	return root;
}

const isQuoted = (raw: string) => raw.length >= 2 && /^(["']).*\1$/s.test(raw);

function checked(value: string): string {
	if (/[\r\n]/.test(value)) throw new EditRefused('A value in this file cannot contain a line break.');
	if (value !== value.trim())
		throw new EditRefused('Spaces at the start or end of a value would be lost in this file.');
	if (trailing(value, 0, value.length) >= 0)
		throw new EditRefused('A space with ; or # behind it would begin a comment in this file.');
	if (isQuoted(value)) throw new EditRefused('In this file, quotes around a value are not part of it.');
	return value;
}

/** What is before the name of a record in that of its section, where all of a kind begin so; else nothing. */
const leadOf = (doc: TextDocument, node: number): string =>
	doc.hints.element === undefined ? '' : prefixOf(doc, node, (item) => syntax.name(doc, item));

const syntax: Syntax = {
	name: ({ tape, content: text }, node) => text.slice(tape.keyFrom(node), tape.keyTo(node)),
	value({ tape, content: text }, node) {
		const raw = text.slice(tape.from(node), tape.to(node));
		return isQuoted(raw) ? raw.slice(1, -1) : raw;
	},
	writeName(doc, name) {
		if (!/^[^\s=:;#[\]][^=:\r\n[\]]*$/.test(name) || name !== name.trim())
			throw new EditRefused(`“${name}” cannot be a name in this file.`);
		return name;
	},
	writeValue({ tape, content: text }, node, value) {
		if (node < 0) return checked(value);
		const raw = text.slice(tape.from(node), tape.to(node));
		if (tape.kind(node) === ATTRIBUTE) {
			if (/["[\]\r\n]/.test(value))
				throw new EditRefused(
					'A value in the brackets of a section cannot contain quotes, brackets or line breaks.'
				);
			return isQuoted(raw) || !/^[^\s"=]+$/.test(value) ? `"${value}"` : value;
		}
		if (tape.kind(node) === TAKEN) {
			const line = 'include ' + (isQuoted(raw) ? raw[0]! + value + raw[0]! : value);
			const inAngles = text[tape.from(node) - 1] === '<';
			if (/[\r\n]/.test(value) || !TAKES_IN.test(inAngles ? `include <${value}>` : line))
				throw new EditRefused(`“${value}” cannot be the path of a file in this line.`);
			return inAngles ? value : line.slice('include '.length);
		}
		const quote = isQuoted(raw) ? raw[0]! : '';
		if (quote && !value.includes(quote) && !/[\r\n]/.test(value)) return quote + value + quote;
		// Behind “name:” a “=” would be read as the mark.
		const lead = text[tape.from(node) - 1] === ':' && value.includes('=') ? ' ' : '';
		// An empty value may stand right before the commentary, which needs a space before its mark.
		const gap = value !== '' && /[;#]/.test(text[tape.to(node)] ?? '') ? ' ' : '';
		return lead + checked(value) + gap;
	},
	renameNode(doc, node, own) {
		const { tape, content: text } = doc;
		const section = tape.kind(node) === MAP;
		const name = section ? leadOf(doc, node) + own : own;
		if (section && (/[\]\r\n]/.test(name) || name !== name.trim() || name === ''))
			throw new EditRefused(`“${name}” cannot be the name of a section.`);
		if (tape.kind(node) === TAKEN)
			throw new EditRefused(`“${syntax.name(doc, node)}” is the word by which the game takes in a file.`);
		if (!section) return null;
		const [from, to] = [tape.keyFrom(node), tape.keyTo(node)];
		const raw = text.slice(from, to);
		const lead = raw.length - raw.trimStart().length;
		return [{ from: from + lead, to: to - (raw.length - raw.trimEnd().length), insert: name }];
	},
	pair: ' = ',
	inside({ tape, content: text }, node) {
		const header = tape.keyFrom(node) < 0 ? tape.from(node) : lineEnd(text, tape.keyTo(node));
		return { from: header, to: Math.max(header, tape.to(node)), separators: '', lead: toEol(text) };
	},
	repeats: true,
	trail: true,
	inRow: ({ tape }, node) => tape.kind(node) !== ATTRIBUTE,
	dropNode({ tape }, node) {
		if (tape.kind(node) !== ATTRIBUTE) return null;
		throw new EditRefused('A value in the brackets of a section cannot be removed. Change it instead.');
	},
	word(doc, node) {
		if (doc.tape.keyFrom(node) < 0) return '';
		return prefixOf(doc, node, (item) => syntax.name(doc, item)).slice(0, -1) || syntax.name(doc, node);
	},
	recordName: (doc, node) => syntax.name(doc, node).slice(leadOf(doc, node).length),
	records: ({ tape }, root) => {
		const items: number[] = [];
		for (let item = root + 1; item < tape.after(root); item = tape.after(item)) items.push(item);
		// What is named by a value in its brackets has no other name there.
		return {
			holder: root,
			items,
			named: items.length === 0 || !items.every((item) => hasAttributes({ tape }, item))
		};
	}
};

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('ini', text, hints);
	const root = scan(doc);
	doc.tape.finish();
	addTreeRecords(doc, root, syntax);
	if (text.trim() === '') doc.problem(0, 'The file is empty: there is no section.');
	return doc;
}

const base = treeFormat('ini', ['ini', 'cfg', 'conf'], read, syntax, { untyped: true, nested: true });

const isLoose = (doc: TextDocument, record: RecordNode | undefined) =>
	record !== undefined && doc.tape.keyFrom(record.node) < 0;

/** Sections in brackets with `name = value` or `name: value` lines; names may repeat, sections may be missing. */
export const ini: TextFormat = {
	...base,
	insert(doc, source, record) {
		if (isLoose(source, record))
			throw new EditRefused('These values are in no section; after a section they would become part of it.');
		return base.insert(doc, source, record);
	},
	move(doc, record, to) {
		if (isLoose(doc, record) || isLoose(doc, doc.records[to]))
			throw new EditRefused('The values before the first section must stay before it.');
		return base.move(doc, record, to);
	}
};
