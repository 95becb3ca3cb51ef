// What XML and HTML share: an element is a map of attributes, child elements and runs of text.
import type { Splice } from '../change';
import { toEol } from '../text';
import { EditRefused, type TextDocument } from './document';
import { insertAt } from './siblings';
import { itemsOf, MAP, OWN, TEXT } from './tape';
import { type Syntax } from './tree';
import { rowOf } from './tree-edits';

/** Text between tags. */
export const RUN = OWN;
/** The end of an element that is written `<a/>`: where a value would go. */
export const EMPTY = OWN + 1;
/** Name under which text stands that is not alone in its element. */
const TEXT_NAME = '#text';

const NAMED: Record<string, string> = {
	amp: '&',
	lt: '<',
	gt: '>',
	quot: '"',
	apos: "'"
};

/** Undoes entities; those that only a DTD knows stay as written. */
export function unescape(raw: string, names: Readonly<Record<string, string>> = NAMED): string {
	if (!raw.includes('&')) return raw;
	return raw.replace(
		/&(?:#x([0-9a-fA-F]{1,6})|#(\d{1,7})|(\w+));/g,
		(whole, hex?: string, number?: string, name?: string) => {
			if (name !== undefined) return Object.hasOwn(names, name) ? names[name]! : whole;
			const code = hex ? parseInt(hex, 16) : Number(number);
			return code <= 0x10ffff && (code < 0xd800 || code > 0xdfff) ? String.fromCodePoint(code) : whole;
		}
	);
}

const ESCAPED: Record<string, string> = {
	'&': '&amp;',
	'<': '&lt;',
	'>': '&gt;',
	'"': '&quot;',
	"'": '&apos;',
	'\n': '&#10;',
	'\r': '&#13;',
	'\t': '&#9;'
};

/** A value as text of an attribute or between tags. @throws EditRefused for what XML cannot hold */
export function escape(value: string, attribute: boolean): string {
	if (/[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]/.test(value))
		throw new EditRefused('This file cannot hold such a control character.');
	return value.replace(attribute ? /[&<>"'\n\r\t]/g : /[&<>\r]/g, (char) => ESCAPED[char]!);
}

/** Text between tags as meant: comments and instructions are not part of it. */
function meantText(raw: string): string {
	if (!raw.includes('<')) return unescape(raw.replace(/\r\n?/g, '\n'));
	return raw
		.split(/(<!\[CDATA\[[^]*?\]\]>|<!--[^]*?-->|<\?[^]*?\?>)/)
		.map((part) =>
			part.startsWith('<![CDATA[')
				? part.slice(9, -3).replace(/\r\n?/g, '\n')
				: part.startsWith('<!--') || part.startsWith('<?')
					? ''
					: unescape(part.replace(/\r\n?/g, '\n'))
		)
		.join('');
}

const CDATA = /^(\s*<!\[CDATA\[)[^]*(\]\]>\s*)$/;

/** A value between tags, in CDATA where the old one is. */
function writtenText(old: string, value: string): string {
	if (/<!--|<\?/.test(old.replace(/<!\[CDATA\[[^]*?\]\]>/g, '')))
		throw new EditRefused(
			'There is a comment inside this text, which would be lost; change it in the file itself.'
		);
	const cdata = CDATA.exec(old);
	if (cdata && !value.includes(']]>') && old.indexOf(']]>') === old.lastIndexOf(']]>'))
		return cdata[1]! + value + cdata[2]!;
	return escape(value, false);
}

const raw = ({ tape, content: text }: TextDocument, node: number) =>
	text.slice(tape.from(node), tape.to(node));

/** End of the opening tag of an element, behind its `>`. */
export function openEnd({ tape, content: text }: TextDocument, node: number): number {
	let at = tape.keyTo(node);
	for (let item = node + 1; item < tape.after(node) && tape.kind(item) === TEXT; item = tape.after(item)) {
		const to = Math.max(tape.to(item), tape.keyTo(item));
		at = /["']/.test(text[to] ?? '') ? to + 1 : to;
	}
	const end = text.indexOf('>', at);
	return end < 0 ? text.length : end + 1;
}

const closeFrom = ({ tape, content: text }: TextDocument, node: number): number => {
	const from = text.lastIndexOf('</', tape.to(node) - 1);
	return from > tape.from(node) &&
		text
			.slice(from + 2, tape.to(node))
			.trimStart()
			.startsWith(elementName(text, tape, node))
		? from
		: tape.to(node);
};

const elementName = (text: string, tape: TextDocument['tape'], node: number) =>
	text.slice(tape.keyFrom(node), tape.keyTo(node));

const isAttribute = ({ tape }: TextDocument, node: number) => tape.kind(node) === TEXT;

/** The quotes that an attribute's value is in; empty for none. */
const quoteOf = ({ tape, content: text }: TextDocument, node: number) => {
	const before = text[tape.from(node) - 1] ?? '';
	return /["']/.test(before) ? before : '';
};

function addAttribute(doc: TextDocument, node: number, name: string, value: string): Splice[] {
	const { tape, content: text } = doc;
	const last = itemsOf(tape, node).findLast((item) => isAttribute(doc, item));
	const end = last === undefined ? tape.keyTo(node) : Math.max(tape.to(last), tape.keyTo(last));
	const at = last !== undefined && quoteOf(doc, last) && /["']/.test(text[end] ?? '') ? end + 1 : end;
	return [{ from: at, to: at, insert: ` ${name}="${escape(value, true)}"` }];
}

/** The parts that reading and writing elements have in common; what is a record is said by each format. */
export const markup: Omit<Syntax, 'records'> = {
	name: ({ tape, content: text }, node) =>
		tape.keyFrom(node) < 0 ? TEXT_NAME : elementName(text, tape, node),
	value(doc, node) {
		const kind = doc.tape.kind(node);
		if (kind === EMPTY) return '';
		return kind === TEXT ? unescape(raw(doc, node).replace(/\r\n?|[\n\t]/g, ' ')) : meantText(raw(doc, node));
	},
	writeName(_doc, name) {
		if (!/^[A-Za-z_:\u00c0-\ufffd][\w:.\-\u00b7-\ufffd]*$/.test(name))
			throw new EditRefused(`“${name}” cannot be the name of an attribute or element.`);
		return name;
	},
	writeValue(doc, node, value) {
		const { tape, content: text } = doc;
		if (node < 0) return escape(value, false);
		if (tape.kind(node) === EMPTY) return `>${escape(value, false)}</${elementName(text, tape, node - 1)}>`;
		if (tape.kind(node) !== TEXT) return writtenText(raw(doc, node), value);
		if (quoteOf(doc, node)) return escape(value, true);
		const bare = tape.from(node) > tape.keyTo(node);
		if (bare && /^[\w.:#%+-]+$/.test(value)) return value;
		return `${bare ? '' : '='}"${escape(value, true)}"`;
	},
	pair: '=',
	inside: (doc, node) => ({ from: openEnd(doc, node), to: closeFrom(doc, node), separators: '' }),
	comment: (text, at) => {
		if (!text.startsWith('<!--', at)) return -1;
		const end = text.indexOf('-->', at + 4);
		return end < 0 ? text.length : end + 3;
	},
	repeats: true,
	touch: true,
	numbered: (doc, node) => doc.tape.kind(node) === MAP && markup.content!(doc, node) < 0,
	content({ tape }, node) {
		const only = node + 1;
		return only < tape.after(node) && tape.after(only) === tape.after(node) && tape.keyFrom(only) < 0
			? only
			: -1;
	},
	hidden: ({ tape }, node) => tape.kind(node) === EMPTY,
	inRow: ({ tape }, node) => tape.kind(node) === MAP,
	addMember(doc, node, name, value) {
		markup.writeName(doc, name, '');
		const items = itemsOf(doc.tape, node);
		const elements = items.filter((item) => doc.tape.kind(item) === MAP);
		const single = elements.filter((item) => markup.content!(doc, item) >= 0);
		const attributes = items.filter((item) => isAttribute(doc, item) && markup.name(doc, item) !== doc.key);
		if (single.length === 0 || attributes.length > 0) return addAttribute(doc, node, name, value);
		const place = elements.indexOf(single.at(-1)!) + 1;
		return insertAt(rowOf(doc, node, markup), place, `<${name}>${escape(value, false)}</${name}>`);
	},
	dropNode(doc, node) {
		const { tape, content: text } = doc;
		if (tape.kind(node) === MAP) return null;
		if (tape.kind(node) !== TEXT) return [{ from: tape.from(node), to: tape.to(node), insert: '' }];
		let from = tape.keyFrom(node);
		while (/\s/.test(text[from - 1] ?? '')) from--;
		const to = Math.max(tape.to(node), tape.keyTo(node));
		return [{ from, to: quoteOf(doc, node) ? to + 1 : to, insert: '' }];
	},
	renameNode(doc, node, name) {
		const { tape } = doc;
		const insert = markup.writeName(doc, name, '');
		const open = { from: tape.keyFrom(node), to: tape.keyTo(node), insert };
		if (tape.kind(node) !== MAP) return [open];
		const close = closeFrom(doc, node);
		if (close >= tape.to(node)) return [open];
		return [open, { from: close + 2, to: close + 2 + (open.to - open.from), insert }];
	}
};

/** Puts the first child into a root that is written `<a/>`. */
export function fillEmpty(doc: TextDocument, node: number, body: string, indent: string): Splice[] {
	const { tape, content: text } = doc;
	const eol = toEol(/[\r\n]/.test(text) ? text : body);
	const from = text.lastIndexOf('/', tape.to(node));
	const at = text.slice(0, from).trimEnd().length;
	return [
		{
			from: at,
			to: tape.to(node),
			insert: `>${eol}${indent}${body}${eol}</${elementName(text, tape, node)}>`
		}
	];
}
