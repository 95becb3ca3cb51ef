import {
	getLocation,
	modify,
	parseTree,
	printParseErrorCode,
	type Node,
	type ParseError
} from 'jsonc-parser';
import { lineAt, placeOf, toEol } from '../text';
import {
	EditRefused,
	findField,
	startDocument,
	type Document,
	type FieldNode,
	type Format,
	type ReadHints,
	type RecordNode,
	type Scalar
} from './document';

const PLAIN: Record<string, string> = {
	InvalidSymbol: 'This word is none that JSON knows; text needs double quotes.',
	InvalidNumberFormat: 'This number is not written as JSON wants it.',
	PropertyNameExpected:
		'A name in double quotes is missing here; perhaps the comma before it has nothing after it.',
	ValueExpected: 'A value is missing here; perhaps the comma before it has nothing after it.',
	ColonExpected: 'A colon is missing between the name and its value.',
	CommaExpected: 'A comma is missing before this.',
	CloseBraceExpected: 'A “{” opened above is never closed.',
	CloseBracketExpected: 'A “[” opened above is never closed.',
	EndOfFileExpected: 'Something stands behind the end of the data.',
	UnexpectedEndOfString: 'This text is never closed by a double quote.',
	InvalidEscapeCharacter: 'After the backslash stands a letter that JSON does not know.'
};

const scalar = (node: Node | undefined): node is Node =>
	node !== undefined && node.type !== 'object' && node.type !== 'array';

function collect(node: Node, prefix: string, fields: FieldNode[]): void {
	if (node.type === 'object') {
		for (const property of node.children ?? []) {
			const [name, value] = property.children ?? [];
			if (name && value) collect(value, prefix ? `${prefix}.${name.value}` : String(name.value), fields);
		}
	} else if (node.type === 'array') {
		node.children?.forEach((item, at) => collect(item, `${prefix}[${at}]`, fields));
	} else {
		fields.push({
			path: prefix,
			value: node.value as Scalar,
			from: node.offset,
			to: node.offset + node.length
		});
	}
}

const members = (node: Node) =>
	(node.children ?? []).filter((property) => property.children?.length === 2) as (Node & {
		children: [Node, Node];
	})[];

/** The node whose items are the records: the root, or the one list or map that the root wraps. */
function holder(root: Node): Node | null {
	const isMap = (node: Node) =>
		node.type === 'object' && members(node).every((m) => m.children[1].type === 'object');
	const isList = (node: Node) =>
		node.type === 'array' && (node.children ?? []).every((item) => item.type === 'object');
	if (isList(root)) return root;
	if (root.type === 'object' && members(root).length === 1) {
		const only = members(root)[0]!.children[1];
		if (isList(only) || (isMap(only) && !isMap(root))) return only;
	}
	return isMap(root) ? root : null;
}

function recordOf(doc: Document, whole: Node, value: Node, id: Node | undefined, nth: number): RecordNode {
	const written = id !== undefined && scalar(id) && String(id.value) !== '';
	const record: RecordNode = {
		id: written ? String(id.value) : `#${nth}`,
		idSpan: written ? { from: id.offset, to: id.offset + id.length } : null,
		from: whole.offset,
		to: whole.offset + whole.length,
		line: lineAt(doc.lines, whole.offset),
		fields: []
	};
	collect(value, '', record.fields);
	return record;
}

function read(text: string, hints: ReadHints): Document {
	const doc = startDocument('json', text);
	if (text.trim() === '') {
		doc.problem(0, 'The file is empty: there is no data.');
		return doc;
	}
	const errors: ParseError[] = [];
	const root = parseTree(text, errors, { allowTrailingComma: true });
	for (const error of errors.slice(0, 20))
		doc.problem(error.offset, PLAIN[printParseErrorCode(error.error)] ?? 'This is not JSON.');
	if (!root) return doc;
	const list = holder(root);
	if (!list) {
		doc.records.push(recordOf(doc, root, root, undefined, 1));
	} else if (list.type === 'array') {
		const [first] = list.children ?? [];
		const key =
			hints.key ??
			(first &&
				['id', 'key', 'name'].find((name) => members(first).some((m) => m.children[0].value === name)));
		doc.key = key ?? null;
		list.children?.forEach((item, at) => {
			const id = members(item).find((member) => member.children[0].value === key)?.children[1];
			doc.records.push(recordOf(doc, item, item, id, at + 1));
		});
	} else {
		members(list).forEach((member, at) =>
			doc.records.push(recordOf(doc, member, member.children[1], member.children[0], at + 1))
		);
	}
	return doc;
}

/** A value as the one it replaces is written: numbers and switches stay bare when the new text is one. */
function written(old: Scalar, value: string): string {
	if (typeof old === 'string') return JSON.stringify(value);
	if (/^-?(0|[1-9]\d*)(\.\d+)?([eE][-+]?\d+)?$/.test(value) || /^(true|false|null)$/.test(value))
		return value;
	if (old === null) return JSON.stringify(value);
	throw new EditRefused(
		`Here stands a ${typeof old === 'number' ? 'number' : 'switch (true or false)'}; “${value}” is none.`
	);
}

function set(doc: Document, record: RecordNode, path: string, value: string) {
	const field = findField(record, path);
	if (field) return [{ from: field.from, to: field.to, insert: written(field.value, value) }];
	if (!/^[\w-]+$/.test(path))
		throw new EditRefused(`“${path}” does not exist here, and only plain properties can be added.`);
	const inside = doc.text.indexOf(
		'{',
		record.idSpan && record.idSpan.from === record.from ? record.idSpan.to : record.from
	);
	const base = getLocation(doc.text, inside + 1).path.slice(0, -1);
	const edits = modify(
		doc.text,
		[...base, path],
		/^-?\d+(\.\d+)?$|^(true|false)$/.test(value) ? JSON.parse(value) : value,
		{
			formattingOptions: { insertSpaces: !/\n\t/.test(doc.text), tabSize: 2, eol: toEol(doc.text) }
		}
	);
	return edits.map((edit) => ({ from: edit.offset, to: edit.offset + edit.length, insert: edit.content }));
}

const isKeyed = (record: RecordNode) => record.idSpan !== null && record.idSpan.from === record.from;

/** JSON, with comments and trailing commas where they are there: a map or a list of objects, else one record. */
export const json: Format = {
	id: 'json',
	endings: ['json', 'jsonc'],
	read,
	set,
	unset(doc, record, path) {
		const field = findField(record, path);
		if (!field) return [];
		const at = getLocation(doc.text, field.from + 1).path;
		return modify(doc.text, at, undefined, {}).map((edit) => ({
			from: edit.offset,
			to: edit.offset + edit.length,
			insert: edit.content
		}));
	},
	rename(_doc, record, id) {
		if (!record.idSpan) throw new EditRefused('This record has no written id.');
		return [{ ...record.idSpan, insert: JSON.stringify(id) }];
	},
	insert(doc, source, record) {
		const last = doc.records.at(-1);
		const raw = source.text.slice(record.from, record.to).replace(/\r\n|\n|\r/g, toEol(doc.text));
		if (last && isKeyed(last) !== isKeyed(record))
			throw new EditRefused('One file holds a list and the other a map; the record does not fit.');
		if (last) {
			const column = placeOf(doc.lines, last.from).column - 1;
			const lineStart = last.from - column;
			const indent = doc.text.slice(lineStart, last.from);
			const gap = indent.trim() === '' ? toEol(doc.text) + indent : ' ';
			return [{ from: last.to, to: last.to, insert: `,${gap}${raw}` }];
		}
		const open = /[[{][\s]*[\]}]/.exec(doc.text);
		if (!open) throw new EditRefused('There is no place for a record in this file.');
		const eol = toEol(doc.text);
		const indent = /[ \t]*$/.exec(source.text.slice(0, record.from))![0];
		return [
			{ from: open.index + 1, to: open.index + open[0].length - 1, insert: `${eol}${indent}${raw}${eol}` }
		];
	},
	remove(doc, record) {
		const at = doc.records.indexOf(record);
		const previous = doc.records[at - 1];
		if (previous) return [{ from: previous.to, to: record.to, insert: '' }];
		const next = doc.records[at + 1];
		return [{ from: record.from, to: next ? next.from : record.to, insert: '' }];
	},
	blank(doc) {
		const first = doc.records[0];
		const last = doc.records.at(-1);
		if (!first || !last) return doc.text;
		return doc.text.slice(0, first.from).trimEnd() + doc.text.slice(last.to).trimStart();
	}
};
