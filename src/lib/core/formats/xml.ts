import { lineAt, toEol } from '../text';
import {
	EditRefused,
	findField,
	startDocument,
	type Document,
	type FieldNode,
	type Format,
	type ReadHints,
	type RecordNode
} from './document';
import { contentEnd } from './lines';
import { readTree, type Element } from './xml-tree';

const KEYS = ['id', 'key', 'name'];

/** Fields of an element: attributes by name, then children; a child with parts of its own is an item of a list. */
function collect(element: Element, prefix: string, fields: FieldNode[]): void {
	for (const { name, value, from, to } of element.attributes)
		fields.push({ path: prefix + name, value, from, to });
	const seen = new Map<string, number>();
	for (const child of element.children) {
		const count = element.children.filter((other) => other.name === child.name).length;
		const leaf = child.attributes.length === 0 && child.children.length === 0;
		const nth = seen.get(child.name) ?? 0;
		seen.set(child.name, nth + 1);
		const path = prefix + (leaf && count === 1 ? child.name : `${child.name}[${nth}]`);
		if (leaf) {
			if (!child.mixed && !child.empty)
				fields.push({ path, value: child.text, from: child.openTo, to: child.closeFrom });
		} else collect(child, `${path}.`, fields);
	}
}

/** A comment that has the lines right above a record to itself belongs to the record. */
function commentAbove(text: string, at: number): { from: number; remark: string } | null {
	const before = text.slice(Math.max(0, at - 4000), at);
	const end = /-->[ \t]*(?:\r\n|\n|\r)[ \t]*$/.exec(before);
	const start = end ? before.lastIndexOf('<!--', end.index) : -1;
	if (!end || start < 0 || !/(?:^|[\r\n])[ \t]*$/.test(before.slice(0, start))) return null;
	return { from: at - before.length + start, remark: before.slice(start + 4, end.index).trim() };
}

function read(text: string, hints: ReadHints): Document {
	const doc = startDocument('xml', text);
	if (text.trim() === '') {
		doc.problem(0, 'The file is empty: there is no root element.');
		return doc;
	}
	const root = readTree(text, doc);
	if (!root) return doc;
	const elements: Element[] = [];
	const walk = (element: Element) => {
		for (const child of element.children) {
			if (hints.element === undefined || child.name === hints.element) elements.push(child);
			else walk(child);
		}
	};
	walk(root);
	for (const element of elements) {
		const keys = hints.key === undefined ? KEYS : [hints.key];
		const key = keys
			.map((name) => element.attributes.find((attribute) => attribute.name === name))
			.find(Boolean);
		if (key) doc.key ??= key.name;
		const above = commentAbove(text, element.from);
		const record: RecordNode = {
			id: key?.value || `#${doc.records.length + 1}`,
			idSpan: key?.value ? { from: key.from, to: key.to } : null,
			from: above?.from ?? element.from,
			to: element.to,
			line: lineAt(doc.lines, element.from),
			fields: []
		};
		if (above) record.remark = above.remark;
		collect(element, '', record.fields);
		doc.records.push(record);
	}
	return doc;
}

const NAMED: Record<string, string> = {
	'&': '&amp;',
	'<': '&lt;',
	'>': '&gt;',
	'"': '&quot;',
	"'": '&apos;',
	'\n': '&#10;',
	'\r': '&#13;',
	'\t': '&#9;'
};

function escape(value: string, attribute: boolean): string {
	const illegal = /[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]/.exec(value);
	if (illegal) throw new EditRefused('XML cannot hold this control character.');
	return value.replace(attribute ? /[&<>"'\n\r\t]/g : /[&<>\r]/g, (char) => NAMED[char]!);
}

function set(doc: Document, record: RecordNode, path: string, value: string) {
	const field = findField(record, path);
	if (field) {
		const attribute = /["']/.test(doc.text[field.from - 1] ?? '') && doc.text[field.from - 2] !== '>';
		return [{ from: field.from, to: field.to, insert: escape(value, attribute) }];
	}
	if (!/^[A-Za-z_][\w.-]*$/.test(path))
		throw new EditRefused(`“${path}” does not exist here, and only plain attributes can be added.`);
	const start = doc.text.indexOf(
		'<',
		record.from + (record.remark === undefined ? 0 : doc.text.slice(record.from).indexOf('-->'))
	);
	const behind = /^<[^\s/>]+(?:\s+[^\s=]+\s*=\s*(?:"[^"]*"|'[^']*'))*/.exec(doc.text.slice(start))!;
	const at = start + behind[0].length;
	return [{ from: at, to: at, insert: ` ${path}="${escape(value, true)}"` }];
}

const indentAt = (text: string, at: number) => /[ \t]*$/.exec(text.slice(0, at))![0];

/** Where the root's closing tag stands, or the place to open one up when the root is written `<root/>`. */
function rootEnd(doc: Document): number {
	const end = contentEnd(doc.text);
	const close = doc.text.lastIndexOf('</', end);
	if (close < 0) throw new EditRefused('The root of this file is empty; add the first record by hand.');
	return close;
}

/** XML: the children of the root (or the elements that the guide names) are records. */
export const xml: Format = {
	id: 'xml',
	endings: ['xml'],
	read,
	set,
	unset(doc, record, path) {
		const field = findField(record, path);
		if (!field) return [];
		const attribute = new RegExp(`\\s+${path.split('.').at(-1)}\\s*=\\s*["']$`).exec(
			doc.text.slice(0, field.from)
		);
		if (!attribute || path.includes('.')) return [{ from: field.from, to: field.to, insert: '' }];
		return [{ from: attribute.index, to: field.to + 1, insert: '' }];
	},
	rename(_doc, record, id) {
		if (!record.idSpan) throw new EditRefused('This record has no written id.');
		return [{ ...record.idSpan, insert: escape(id, true) }];
	},
	insert(doc, source, record) {
		const eol = toEol(doc.text);
		const raw = source.text.slice(record.from, record.to).replace(/\r\n|\n|\r/g, eol);
		const last = doc.records.at(-1);
		if (last) {
			const first = last.from;
			const onOwnLine = /(^|[\r\n])[ \t]*$/.test(doc.text.slice(0, first));
			return [
				{ from: last.to, to: last.to, insert: (onOwnLine ? eol + indentAt(doc.text, first) : '') + raw }
			];
		}
		const close = rootEnd(doc);
		const open = doc.text.slice(0, close).trimEnd().length;
		return [{ from: open, to: open, insert: `${eol}${indentAt(source.text, record.from)}${raw}` }];
	},
	remove(doc, record) {
		const lead = /(?:(?:\r\n|\n|\r)[ \t]*)?$/.exec(doc.text.slice(0, record.from))![0];
		return [{ from: record.from - lead.length, to: record.to, insert: '' }];
	},
	blank(doc) {
		const first = doc.records[0];
		const close = rootEnd(doc);
		const head = first
			? doc.text.slice(0, doc.text.lastIndexOf('>', first.from - 1) + 1)
			: doc.text.slice(0, close);
		return `${head.trimEnd()}${toEol(doc.text)}${doc.text.slice(close)}`;
	}
};
