import { lineAt } from '../text';
import { EditRefused, startDocument, type Document, type Format, type RecordNode } from './document';
import { insertLines, lineEnd, nextLine, removeLines } from './lines';

/** The one field of a line of text. */
const TEXT = 'text';

const ESCAPES: Record<string, string> = { t: '\t', n: '\n', r: '\r', f: '\f' };

/** Undoes escapes and joins continued lines, as `java.util.Properties.load` documents it. */
function unescape(raw: string): string {
	return raw
		.replace(/(?<!\\)((?:\\\\)*)\\(?:\r\n|\n|\r)[ \t\f]*/g, '$1')
		.replace(/\\u([0-9a-fA-F]{4})|\\([^])/g, (_, hex: string | undefined, char: string) =>
			hex ? String.fromCharCode(parseInt(hex, 16)) : (ESCAPES[char] ?? char)
		);
}

/** End of a logical line: an odd number of backslashes before the line end continues it. */
function logicalEnd(text: string, from: number): number {
	let end = lineEnd(text, from);
	while (end < text.length && /(?<!\\)(?:\\\\)*\\$/.test(text.slice(from, end)))
		end = lineEnd(text, nextLine(text, end));
	return end;
}

const LINE = /^([ \t\f]*)((?:\\[^]|[^\\\s=:])+)([ \t\f]*[=:]?[ \t\f]*)([^]*)$/;

function read(text: string): Document {
	const doc = startDocument('properties', text);
	let remarks: { from: number; text: string }[] = [];
	for (let at = 0; at < text.length;) {
		const end = logicalEnd(text, at);
		const line = text.slice(at, end);
		const comment = /^\s*[#!]\s?(.*)/.exec(line);
		if (line.trim() === '') remarks = [];
		else if (comment) remarks.push({ from: at, text: comment[1]! });
		else {
			const match = LINE.exec(line);
			if (!match) doc.problem(at, 'This line has a value but no key before the “=”.');
			else {
				const [, indent, key, mark, value] = match as unknown as [string, string, string, string, string];
				const keyFrom = at + indent.length;
				const from = keyFrom + key.length + mark.length;
				const record: RecordNode = {
					id: unescape(key),
					idSpan: { from: keyFrom, to: keyFrom + key.length },
					from: remarks[0]?.from ?? at,
					to: end,
					line: lineAt(doc.lines, at),
					fields: [{ path: TEXT, value: unescape(value), from, to: from + value.length }]
				};
				if (remarks.length) record.remark = remarks.map((remark) => remark.text).join('\n');
				doc.records.push(record);
			}
			remarks = [];
		}
		at = nextLine(text, end);
	}
	return doc;
}

const unicode = (text: string) =>
	text.replace(/[^\x20-\x7e]/g, (char) => `\\u${char.charCodeAt(0).toString(16).padStart(4, '0')}`);

/** Written as the file's other lines are: letters beyond ASCII as such, unless the file escapes all of them. */
function escape(doc: Document, value: string): string {
	const escaped = value
		.replaceAll('\\', '\\\\')
		.replaceAll('\n', '\\n')
		.replaceAll('\r', '\\r')
		.replaceAll('\t', '\\t')
		.replaceAll('\f', '\\f')
		.replace(/^ /, '\\ ');
	const ascii = /\\u[0-9a-fA-F]{4}/.test(doc.text) && !/[^\x00-\x7f]/.test(doc.text);
	return ascii ? unicode(escaped) : escaped;
}

const escapeKey = (doc: Document, key: string) => escape(doc, key).replace(/(?<!\\)[ =:]|^[#!]/g, '\\$&');

function set(doc: Document, record: RecordNode, path: string, value: string) {
	if (path !== TEXT) throw new EditRefused(`A line of text has one field, “${TEXT}”.`);
	const field = record.fields[0]!;
	// A key with nothing behind it has no mark either: without one the value would become part of the key.
	const bare = field.from === record.idSpan!.to;
	return [{ from: field.from, to: field.to, insert: (bare ? '=' : '') + escape(doc, value) }];
}

/** Java properties: one `key=text` a line. Each key is a record with the field `text`. */
export const properties: Format = {
	id: 'properties',
	endings: ['properties'],
	read: (text) => read(text),
	set,
	unset: (doc, record) => set(doc, record, TEXT, ''),
	rename: (doc, record, id) => [{ ...record.idSpan!, insert: escapeKey(doc, id) }],
	insert(doc, source, record) {
		if (/(?<!\\)(?:\\\\)*\\$/.test(doc.text.slice(0, doc.records.at(-1)?.to ?? 0)))
			throw new EditRefused(
				'The last line of this file ends in a backslash that continues nowhere; mend it first.'
			);
		return insertLines(doc, source.text.slice(record.from, record.to), 0);
	},
	remove: removeLines,
	blank: () => ''
};
