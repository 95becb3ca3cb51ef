import { lineAt, toEol } from '../text';
import {
	EditRefused,
	findField,
	startDocument,
	type Document,
	type FieldNode,
	type Format,
	type RecordNode
} from './document';
import { insertLines, lineEnd, nextLine, removeLines } from './lines';

const COMMENT = /^\s*[;#]\s?(.*)$/;
const SECTION = /^\s*\[([^\]]*)\]\s*(?:[;#].*)?$/;
const PAIR = /^(\s*)([^=:]+?)(\s*[=:][ \t]*)(.*)$/;
/** Commentary behind a value starts at a mark with a space before it. */
const TRAILING = /(?:^|\s+)[;#]\s?(.*)$/;

function pair(line: string, from: number): FieldNode | null {
	const match = PAIR.exec(line);
	if (!match) return null;
	const [, indent, path, mark, rest] = match as unknown as [string, string, string, string, string];
	const trailing = TRAILING.exec(rest);
	const value = (trailing ? rest.slice(0, trailing.index) : rest).trimEnd();
	const start = from + indent.length + path.length + mark.length;
	return {
		path,
		value,
		from: start,
		to: start + value.length,
		...(trailing ? { remark: trailing[1]! } : {})
	};
}

function read(text: string): Document {
	const doc = startDocument('ini', text);
	let record: RecordNode | null = null;
	let remarks: { from: number; text: string }[] = [];
	for (let at = 0; at < text.length; at = nextLine(text, at)) {
		const end = lineEnd(text, at);
		const line = text.slice(at, end);
		const comment = COMMENT.exec(line);
		const section = SECTION.exec(line);
		if (line.trim() === '') {
			remarks = [];
		} else if (comment) {
			remarks.push({ from: at, text: comment[1]! });
		} else if (section) {
			const idFrom = at + line.indexOf('[') + 1;
			record = {
				id: section[1]!,
				idSpan: { from: idFrom, to: idFrom + section[1]!.length },
				from: remarks[0]?.from ?? at,
				to: end,
				line: lineAt(doc.lines, at),
				fields: []
			};
			if (remarks.length) record.remark = remarks.map((remark) => remark.text).join('\n');
			doc.records.push(record);
			remarks = [];
		} else {
			const field = pair(line, at);
			if (!field) {
				doc.problem(at, `This line is neither a section in brackets nor “name = value”.`);
				continue;
			}
			if (!record) {
				record = { id: '#1', idSpan: null, from: at, to: end, line: lineAt(doc.lines, at), fields: [] };
				doc.records.push(record);
			}
			if (remarks.length)
				field.remark = [...remarks.map((remark) => remark.text), field.remark ?? ''].join('\n').trim();
			record.fields.push(field);
			record.to = end;
			remarks = [];
		}
	}
	if (text.trim() === '') doc.problem(0, 'The file is empty: there is no section.');
	return doc;
}

function checked(value: string): string {
	if (/[\r\n]/.test(value)) throw new EditRefused('A value of this file cannot hold a line end.');
	if (value !== value.trim())
		throw new EditRefused('Spaces at the start or end of a value would be lost in this file.');
	if (/(^|\s)[;#]/.test(value))
		throw new EditRefused('A space with ; or # behind it would begin a comment in this file.');
	return value;
}

function set(doc: Document, record: RecordNode, path: string, value: string) {
	const field = findField(record, path);
	if (field) {
		// An empty value may stand right before the commentary, which needs a space before its mark.
		const gap = value !== '' && /[;#]/.test(doc.text[field.to] ?? '') ? ' ' : '';
		return [{ from: field.from, to: field.to, insert: checked(value) + gap }];
	}
	if (!/^[^\s=:;#[\]][^=:\r\n]*$/.test(path))
		throw new EditRefused(`“${path}” cannot be the name of a value in this file.`);
	const eol = toEol(doc.text);
	const last = record.fields.at(-1);
	const style = last
		? /[^=:]*?(\s*[=:][ \t]*)$/.exec(
				doc.text
					.slice(0, last.from)
					.split(/[\r\n]/)
					.at(-1)!
			)?.[1]
		: undefined;
	return [{ from: record.to, to: record.to, insert: `${eol}${path}${style ?? ' = '}${checked(value)}` }];
}

/** Sections in brackets with `name = value` lines. */
export const ini: Format = {
	id: 'ini',
	endings: ['ini', 'cfg', 'conf'],
	read: (text) => read(text),
	set,
	unset(doc, record, path) {
		const field = findField(record, path);
		if (!field) return [];
		let from = field.from;
		while (from > 0 && !/[\r\n]/.test(doc.text[from - 1]!)) from--;
		const before = doc.text.slice(from - 2, from) === '\r\n' ? from - 2 : Math.max(0, from - 1);
		return [{ from: before, to: lineEnd(doc.text, field.to), insert: '' }];
	},
	rename(_doc, record, id) {
		if (!record.idSpan) throw new EditRefused('This record has no written id.');
		if (/[\]\r\n]/.test(id) || id !== id.trim())
			throw new EditRefused(`“${id}” cannot be the name of a section.`);
		return [{ ...record.idSpan, insert: id }];
	},
	insert(doc, source, record) {
		return insertLines(doc, source.text.slice(record.from, record.to), 1);
	},
	remove: removeLines,
	blank: () => ''
};
