// Reads XML 1.0 in one pass onto a tape and says where it is not well-formed; goes on behind a fault.
import { lineAt } from '../text';
import type { OpenDocument } from './document';
import { DEEPEST } from './json';
import { EMPTY, RUN } from './markup';
import { MAP, TEXT } from './tape';
import { declaredEntity, isDeclaration, isDoctype, NAME_PATTERN } from './xml-doctype';

const NAME = new RegExp(`^${NAME_PATTERN}$`, 'u');

const isSpace = (code: number) => code === 32 || code === 10 || code === 13 || code === 9;

/** The first character between two offsets that XML does not allow; -1 for none. */
function illegalChar(text: string, from: number, to: number): number {
	for (let at = from; at < to; at++) {
		const code = text.charCodeAt(at);
		if (code < 32) {
			if (code !== 10 && code !== 13 && code !== 9) return at;
		} else if (code >= 0xd800) {
			if (code >= 0xfffe) return at;
			if (code < 0xdc00) {
				const next = text.charCodeAt(at + 1);
				if (!(next >= 0xdc00 && next <= 0xdfff)) return at;
				at++;
			} else if (code < 0xe000) return at;
		}
	}
	return -1;
}

/** One reading of a text; `at` is where it stands. */
interface Scan {
	doc: OpenDocument;
	text: string;
	at: number;
	/** Whether there is a document type. */
	doctype: boolean;
	/** Entities that it declares; null where it names a file that may declare others. */
	entities: Set<string> | null;
	stack: number[];
	/** Where the run of text begins that is being read, for each open element. */
	runs: number[];
	/** Whether an open element has child elements. */
	parents: boolean[];
	root: number;
}

function checkEntities(scan: Scan, from: number, to: number): void {
	const { text, doc } = scan;
	for (let at = text.indexOf('&', from); at >= 0 && at < to; at = text.indexOf('&', at + 1)) {
		const end = text.indexOf(';', at);
		const name = end < 0 || end >= to ? '' : text.slice(at + 1, end);
		if (/^#(?:x[0-9a-fA-F]+|\d+)$/.test(name)) {
			const code = name[1] === 'x' ? parseInt(name.slice(2), 16) : Number(name.slice(1));
			if (
				code > 0x10ffff ||
				(illegalChar(String.fromCodePoint(Math.min(code, 0x10ffff)), 0, 1) === 0 && code < 0x10000)
			)
				doc.problem(at, `“&${name};” stands for a character that XML does not allow.`);
		} else if (!NAME.test(name) || name.includes(':'))
			doc.problem(at, 'A “&” begins an entity that never ends; a plain “&” is written “&amp;”.');
		else if (scan.entities && !scan.entities.has(name))
			doc.problem(
				at,
				`A “&” begins the entity “${name}”, which is not known; a plain “&” is written “&amp;”.`
			);
	}
}

/** Steps over `<!--…-->`, `<?…?>` and `<![CDATA[…]]>`; true when it was one of them. */
function passage(scan: Scan): boolean {
	const { text, at, doc } = scan;
	const next = text.charCodeAt(at + 1);
	let end: number;
	if (next === 63) {
		end = text.indexOf('?>', at + 2);
		const target = /^[^\s?]*/.exec(text.slice(at + 2, Math.min(end < 0 ? at + 4000 : end, at + 4000)))![0];
		if (!NAME.test(target)) doc.problem(at, 'This “<?” is followed by no name.');
		else if (/^xml$/i.test(target))
			doc.problem(at, 'The XML declaration must be at the very start of the file.');
		else if (end >= 0 && end > at + 2 + target.length && !isSpace(text.charCodeAt(at + 2 + target.length)))
			doc.problem(at, 'A space is missing after the name of this instruction.');
		if (end < 0) doc.problem(at, 'This instruction is never closed by “?>”.');
		scan.at = end < 0 ? text.length : end + 2;
	} else if (text.startsWith('<!--', at)) {
		end = text.indexOf('-->', at + 4);
		const dashes = text.indexOf('--', at + 4);
		if (end < 0) doc.problem(at, 'This comment is never closed by “-->”.');
		else if (dashes < end) doc.problem(dashes, 'Two dashes cannot be inside a comment.');
		scan.at = end < 0 ? text.length : end + 3;
		doc.tape.remark(at, scan.at);
	} else if (text.startsWith('<![CDATA[', at)) {
		end = text.indexOf(']]>', at + 9);
		if (end < 0) doc.problem(at, 'This CDATA passage is never closed by “]]>”.');
		if (scan.stack.length === 0) doc.problem(at, 'Text must be inside the root element.');
		scan.at = end < 0 ? text.length : end + 3;
	} else return false;
	const wrong = illegalChar(text, at, scan.at);
	if (wrong >= 0) doc.problem(wrong, 'XML does not allow this control character.');
	return true;
}

/** Steps over the document type, which is kept and never followed. */
function doctype(scan: Scan): void {
	const { text, doc } = scan;
	const from = scan.at;
	if (scan.doctype) doc.problem(from, 'There is a second document type.');
	scan.doctype = true;
	if (scan.root >= 0) doc.problem(from, 'The document type must be before the root element.');
	if (!isDoctype(text.slice(from, from + 4000))) doc.problem(from, 'This document type is malformed.');
	let at = from + 9;
	let inside = false;
	while (at < text.length) {
		const char = text[at]!;
		if (char === '"' || char === "'") {
			const end = text.indexOf(char, at + 1);
			if (end < 0) break;
			at = end + 1;
		} else if (text.startsWith('<!--', at) || text.startsWith('<?', at)) {
			scan.at = at;
			passage(scan);
			at = scan.at;
		} else if (char === '[') {
			if (/\s(?:SYSTEM|PUBLIC)\s/.test(text.slice(from, at))) scan.entities = null;
			inside = true;
			at++;
		} else if (char === ']') {
			inside = false;
			at++;
		} else if (inside && char === '<') {
			const end = declaration(scan, at);
			if (end < 0) break;
			at = end;
		} else if (char === '>' && !inside) {
			if (!text.slice(from, at).includes('[') && /\s(?:SYSTEM|PUBLIC)\s/.test(text.slice(from, at)))
				scan.entities = null;
			scan.at = at + 1;
			return;
		} else {
			if (inside && !isSpace(text.charCodeAt(at))) {
				const reference = /^%[^\s;%&<>]+;/.exec(text.slice(at, at + 300));
				// What the reference stands for may declare entities too.
				if (reference) scan.entities = null;
				else doc.problem(at, 'There is text between the declarations of the document type.');
				at += reference ? reference[0].length : text.slice(at).search(/[\s<\]]|$/);
			} else at++;
		}
	}
	if (at >= text.length || scan.at <= from || scan.at < at) {
		doc.problem(from, 'This document type is never closed by “>”.');
		scan.at = text.length;
	}
}

/** Steps over one declaration inside a document type; -1 where it is never closed. */
function declaration(scan: Scan, from: number): number {
	const { text, doc } = scan;
	for (let at = from + 1; at < text.length; at++) {
		const char = text[at]!;
		if (char === '>') {
			const raw = text.slice(from, at + 1);
			const wrong = illegalChar(text, from, at);
			if (!isDeclaration(raw)) doc.problem(from, 'This declaration of the document type is malformed.');
			else if (wrong >= 0) doc.problem(wrong, 'XML does not allow this control character.');
			const entity = declaredEntity(raw);
			if (entity !== null) scan.entities?.add(entity);
			return at + 1;
		}
		if (char === '<') {
			doc.problem(from, 'This declaration is never closed by “>”.');
			return at;
		}
		if (char === '"' || char === "'") {
			const end = text.indexOf(char, at + 1);
			if (end < 0) return -1;
			at = end;
		}
	}
	return -1;
}

function xmlDeclaration(scan: Scan): void {
	const { text, doc } = scan;
	if (!/^<\?xml\s/.test(text)) return;
	const end = text.indexOf('?>');
	const whole = text.slice(0, end < 0 ? text.length : end + 2);
	if (
		!/^<\?xml\s+version\s*=\s*(?:"1\.\d+"|'1\.\d+')(?:\s+encoding\s*=\s*(?:"[A-Za-z][\w.-]*"|'[A-Za-z][\w.-]*'))?(?:\s+standalone\s*=\s*(?:"(?:yes|no)"|'(?:yes|no)'))?\s*\?>$/.test(
			whole
		)
	)
		doc.problem(0, 'The XML declaration is malformed: version, then encoding, then standalone.');
	scan.at = whole.length;
}

/** Reads the text up to the next tag. */
function characters(scan: Scan): void {
	const { text, doc } = scan;
	const from = scan.at;
	let entity = false;
	let at = from;
	for (; at < text.length; at++) {
		const code = text.charCodeAt(at);
		if (code === 60) break;
		if (code === 38) entity = true;
		else if (
			code === 62 &&
			text.charCodeAt(at - 1) === 93 &&
			text.charCodeAt(at - 2) === 93 &&
			at - 2 >= from
		)
			doc.problem(at - 2, '“]]>” closes nothing here; in text it is written “]]&gt;”.');
		else if (code < 32 || code >= 0xd800) {
			const wrong = illegalChar(text, at, at + 1 + Number(code >= 0xd800 && code < 0xdc00));
			if (wrong >= 0) doc.problem(wrong, 'XML does not allow this control character.');
			else if (code >= 0xd800 && code < 0xdc00) at++;
		}
	}
	if (entity) checkEntities(scan, from, at);
	if (scan.stack.length === 0) {
		const first = text.slice(from, at).search(/[^ \t\r\n]/);
		if (first >= 0)
			doc.problem(
				from + first,
				scan.root < 0 ? 'There is text before the root element.' : 'There is text after the root element.'
			);
	}
	scan.at = at;
}

const INVALID_ATTRIBUTE = 'An attribute is malformed here: it is name="value".';

/** End of a tag's name; the place of its first letter where what is there is no name. */
function tagNameEnd(text: string, from: number): number {
	let at = from;
	let plain = true;
	while (at < text.length) {
		const code = text.charCodeAt(at);
		if (code <= 32 || code === 62 || code === 47 || code === 60 || code === 61) break;
		if (!((code >= 97 && code <= 122) || (code >= 65 && code <= 90) || code === 95)) plain = false;
		at++;
	}
	return plain || NAME.test(text.slice(from, at)) ? at : from;
}

/** End of an attribute's name. */
function attributeNameEnd(text: string, from: number): number {
	let at = from;
	for (; at < text.length; at++) {
		const code = text.charCodeAt(at);
		if (code <= 32 || code === 61 || code === 62 || code === 47 || code === 60) break;
		if (code === 34 || code === 39) break;
	}
	return at;
}

function spaceEnd(text: string, from: number): number {
	let at = from;
	while (at < text.length && isSpace(text.charCodeAt(at))) at++;
	return at;
}

/** Reads the value behind the `=` of an attribute, from its quote on. Gives where reading goes on. */
function attributeValue(scan: Scan, node: number, keyFrom: number, keyTo: number, at: number): number {
	const { text, doc } = scan;
	const quote = text[at];
	if (quote !== '"' && quote !== "'") {
		doc.problem(at, 'The value of an attribute needs quotes.');
		return at;
	}
	const end = text.indexOf(quote, at + 1);
	let odd = false;
	let stop = at + 1;
	for (const limit = end < 0 ? text.length : end; stop < limit; stop++) {
		const inside = text.charCodeAt(stop);
		if (inside === 60 || inside === 38 || inside < 32 || inside >= 0xd800) {
			odd = true;
			if (inside === 60) break;
		}
	}
	if (end < 0 || stop < end) {
		doc.problem(
			end < 0 ? at : stop,
			end < 0
				? 'The quote that opens this value is never closed.'
				: 'A “<” cannot be in an attribute; it is written “&lt;”, unless a quote is missing before it.'
		);
		if (end < 0 || /[\r\n]/.test(text.slice(at, stop))) return stop;
	}
	if (odd) {
		checkEntities(scan, at + 1, end);
		const wrong = illegalChar(text, at + 1, end);
		if (wrong >= 0) doc.problem(wrong, 'XML does not allow this control character.');
	}
	checkAttribute(doc, node, keyFrom, keyTo);
	doc.tape.leaf(TEXT, keyFrom, keyTo, at + 1, end);
	return end + 1;
}

/** Reads one attribute; `before` is the end of what is before it. Gives where reading goes on. */
function attribute(scan: Scan, node: number, before: number, keyFrom: number): number {
	const { text, doc } = scan;
	const keyTo = attributeNameEnd(text, keyFrom);
	if (keyTo === keyFrom) {
		doc.problem(keyFrom, INVALID_ATTRIBUTE);
		return keyFrom + 1;
	}
	if (before === keyFrom) doc.problem(keyFrom, 'A space is missing before this attribute.');
	const mark = spaceEnd(text, keyTo);
	if (text.charCodeAt(mark) !== 61) {
		doc.problem(keyFrom, INVALID_ATTRIBUTE);
		return mark;
	}
	return attributeValue(scan, node, keyFrom, keyTo, spaceEnd(text, mark + 1));
}

/** Reads an opening tag with its attributes. False where it cannot be made out. */
function openTag(scan: Scan): boolean {
	const { text, doc, stack, runs, parents } = scan;
	const { tape } = doc;
	const from = scan.at;
	let at = tagNameEnd(text, from + 1);
	if (at === from + 1) {
		doc.problem(from, 'A “<” begins a tag whose name is not one; a plain “<” is written “&lt;”.');
		scan.at = from + 1;
		return false;
	}
	endRun(scan, from);
	if (stack.length === 0 && scan.root >= 0) doc.problem(from, 'There is a second root element.');
	const node = tape.open(MAP, from + 1, at, from);
	if (stack.length > 0) parents[stack.length - 1] = true;
	else if (scan.root < 0) scan.root = node;
	for (;;) {
		const before = at;
		at = spaceEnd(text, at);
		const code = text.charCodeAt(at);
		if (code === 62) {
			stack.push(node);
			runs.push(at + 1);
			parents.push(false);
			scan.at = at + 1;
			return true;
		}
		if (code === 47 && text.charCodeAt(at + 1) === 62) {
			tape.leaf(EMPTY, -1, -1, at, at + 2);
			tape.close(node, at + 2);
			scan.at = at + 2;
			return true;
		}
		if (at >= text.length || code === 60) {
			doc.problem(from, 'This tag is never closed by “>”.');
			tape.close(node, at);
			tape.breakOff(node);
			scan.at = at;
			return true;
		}
		at = attribute(scan, node, before, at);
	}
}

function checkAttribute(doc: OpenDocument, node: number, from: number, to: number): void {
	const { tape, content: text } = doc;
	let plain = true;
	for (let at = from; at < to && plain; at++) {
		const code = text.charCodeAt(at);
		plain = (code >= 97 && code <= 122) || (code >= 65 && code <= 90) || code === 95;
	}
	if (!plain && !NAME.test(text.slice(from, to))) doc.problem(from, INVALID_ATTRIBUTE);
	for (let other = node + 1; other < tape.count && other < node + 300; other++) {
		const length = tape.keyTo(other) - tape.keyFrom(other);
		if (length !== to - from || text.charCodeAt(tape.keyFrom(other)) !== text.charCodeAt(from)) continue;
		if (text.startsWith(text.slice(from, to), tape.keyFrom(other)))
			doc.problem(from, `The attribute “${text.slice(from, to)}” is given twice.`);
	}
}

/** Ends the run of text before a tag: it is a value unless it is nothing but space. */
function endRun(scan: Scan, to: number): void {
	const { doc, text, runs, stack } = scan;
	if (stack.length === 0) return;
	const from = runs.at(-1)!;
	for (let at = from; at < to; at++)
		if (!isSpace(text.charCodeAt(at))) {
			if (/\S/.test(text.slice(from, to).replace(/<!--[^]*?-->|<\?[^]*?\?>/g, '')))
				doc.tape.leaf(RUN, -1, -1, from, to);
			return;
		}
}

function closeElement(scan: Scan, from: number, to: number): void {
	const { doc, stack, runs, parents } = scan;
	const { tape } = doc;
	const node = stack.at(-1)!;
	if (!parents.at(-1) && tape.count === node + 1) tape.leaf(RUN, -1, -1, runs.at(-1)!, from);
	else endRun(scan, from);
	tape.close(node, to);
	stack.pop();
	runs.pop();
	parents.pop();
	if (stack.length > 0) runs[runs.length - 1] = to;
}

function closeTag(scan: Scan): void {
	const { text, doc, stack } = scan;
	const { tape } = doc;
	const from = scan.at;
	const end = text.indexOf('>', from);
	const raw = end < 0 ? text.slice(from + 2) : text.slice(from + 2, end);
	const name = raw.trimEnd();
	scan.at = end < 0 ? text.length : end + 1;
	const named = (node: number) =>
		tape.keyTo(node) - tape.keyFrom(node) === name.length && text.startsWith(name, tape.keyFrom(node));
	if (end < 0 || name.includes('<')) {
		doc.problem(from, 'This closing tag is never closed by “>”.');
		if (end >= 0) scan.at = text.indexOf('<', from + 1);
		return;
	}
	if (stack.length > 0 && named(stack.at(-1)!)) {
		closeElement(scan, from, scan.at);
		return;
	}
	const match = stack.findLastIndex(named);
	const open = stack.at(-1);
	const unclosed =
		open === undefined
			? ''
			: ` The tag <${text.slice(tape.keyFrom(open), tape.keyTo(open))}> was opened on line ${lineAt(doc.lines, tape.from(open))} and never closed before it.`;
	doc.problem(from, `A closing tag does not match.${unclosed}`);
	if (match < 0) return;
	while (stack.length > match + 1) {
		tape.breakOff(stack.at(-1)!);
		closeElement(scan, from, from);
	}
	closeElement(scan, from, scan.at);
}

/** Reads a text onto its tape; returns the root element, or -1. */
export function scanXml(doc: OpenDocument): number {
	const { content: text, tape } = doc;
	const scan: Scan = {
		doc,
		text,
		at: 0,
		doctype: false,
		entities: new Set(['amp', 'lt', 'gt', 'quot', 'apos']),
		stack: [],
		runs: [],
		parents: [],
		root: -1
	};
	xmlDeclaration(scan);
	while (scan.at < text.length) {
		if (text.charCodeAt(scan.at) !== 60) {
			characters(scan);
			continue;
		}
		const next = text.charCodeAt(scan.at + 1);
		if (next === 47) closeTag(scan);
		else if ((next === 33 || next === 63) && passage(scan)) continue;
		else if (next === 33 && text.startsWith('<!DOCTYPE', scan.at)) doctype(scan);
		else {
			const before = scan.stack.length;
			openTag(scan);
			if (scan.stack.length === before && scan.stack.length > 0 && scan.at > 0 && text[scan.at - 1] === '>')
				scan.runs[scan.runs.length - 1] = scan.at;
			if (scan.stack.length > DEEPEST) {
				doc.problem(scan.at, `Elements here are nested more than ${DEEPEST} deep; the rest is not read.`);
				break;
			}
		}
	}
	const open = scan.stack.at(-1);
	if (open !== undefined) {
		doc.problem(
			text.length,
			`The file ends too early. The tag <${text.slice(tape.keyFrom(open), tape.keyTo(open))}> was opened on line ${lineAt(doc.lines, tape.from(open))} and never closed before it.`
		);
		for (const node of scan.stack) {
			tape.close(node, text.length);
			tape.breakOff(node);
		}
	} else if (scan.root < 0 && doc.problems.length === 0)
		doc.problem(text.length, 'There is no root element.');
	return scan.root;
}
