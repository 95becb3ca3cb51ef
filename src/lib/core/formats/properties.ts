import { EditRefused, startDocument, type TextDocument, type TextFormat, type ReadHints } from './document';
import { insertLines, lineEnd, moveLines, nextLine, NO_LISTS, removeLines } from './lines';
import { addRecord, type RecordShape } from './records';
import { remarkOf, TEXT as LEAF } from './tape';

/** The one field of a line of text. */
const TEXT = 'text';

const ESCAPES: Record<string, string> = { t: '\t', n: '\n', r: '\r', f: '\f' };

/** Undoes escapes and joins continued lines, as `java.util.Properties.load` documents it. */
function unescape(raw: string): string {
	if (!raw.includes('\\')) return raw;
	return raw
		.replace(/(?<!\\)((?:\\\\)*)\\(?:\r\n|\n|\r)[ \t\f]*/g, '$1')
		.replace(/\\u([0-9a-fA-F]{4})|\\([^])/g, (_, hex: string | undefined, char: string) =>
			hex ? String.fromCharCode(parseInt(hex, 16)) : (ESCAPES[char] ?? char)
		);
}

const isSpace = (code: number) => code === 32 || code === 9 || code === 12;

/** End of a logical line: an odd number of backslashes before the line end continues it. */
function logicalEnd(text: string, from: number): number {
	let end = lineEnd(text, from);
	while (end < text.length) {
		let slashes = 0;
		while (end - slashes > from && text.charCodeAt(end - 1 - slashes) === 92) slashes++;
		if (slashes % 2 === 0) break;
		end = lineEnd(text, nextLine(text, end));
	}
	return end;
}

/** Skips spaces, and a continued line end among them. */
function skip(text: string, at: number, end: number): number {
	for (;;) {
		while (at < end && isSpace(text.charCodeAt(at))) at++;
		if (text.charCodeAt(at) !== 92 || !/[\r\n]/.test(text[at + 1] ?? '') || at + 1 >= end) return at;
		at = nextLine(text, at + 1);
	}
}

const shape: RecordShape = {
	trail: false,
	idSpan: ({ tape }, node) => ({ from: tape.keyFrom(node), to: tape.keyTo(node) }),
	id: ({ tape, content: text }, node) => unescape(text.slice(tape.keyFrom(node), tape.keyTo(node))),
	fields({ tape, content: text }, node) {
		const [from, to] = [tape.from(node), tape.to(node)];
		const remark = remarkOf(tape, tape.keyFrom(node), to);
		return [{ path: TEXT, value: unescape(text.slice(from, to)), from, to, ...(remark ? { remark } : {}) }];
	}
};

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('properties', text, hints);
	const { tape } = doc;
	doc.named = true;
	for (let at = 0; at < text.length;) {
		const first = lineEnd(text, at);
		let from = at;
		while (from < first && isSpace(text.charCodeAt(from))) from++;
		const code = text.charCodeAt(from);
		if (from === first) {
			at = nextLine(text, first);
			continue;
		}
		if (code === 35 || code === 33) {
			tape.remark(from, first);
			at = nextLine(text, first);
			continue;
		}
		const end = logicalEnd(text, at);
		let keyTo = from;
		for (; keyTo < end; keyTo++) {
			const inside = text.charCodeAt(keyTo);
			if (inside === 92) keyTo++;
			else if (inside === 61 || inside === 58 || inside <= 32) break;
		}
		keyTo = Math.min(keyTo, end);
		if (keyTo === from) doc.problem(at, 'This line has a value but no key before the “=”.');
		else {
			let start = skip(text, keyTo, end);
			if (start < end && (text.charCodeAt(start) === 61 || text.charCodeAt(start) === 58))
				start = skip(text, start + 1, end);
			addRecord(doc, tape.leaf(LEAF, from, keyTo, start, end), doc.records.length + 1, shape);
		}
		at = nextLine(text, end);
	}
	tape.finish();
	return doc;
}

const unicode = (text: string) =>
	text.replace(/[^\x20-\x7e]/g, (char) => `\\u${char.charCodeAt(0).toString(16).padStart(4, '0')}`);

const escaping = new WeakMap<TextDocument, boolean>();

/** Whether a file has escapes for letters, and no letter beyond ASCII; looked at once for a document. */
function escapesAll(doc: TextDocument): boolean {
	let known = escaping.get(doc);
	if (known === undefined) {
		known = /\\u[0-9a-fA-F]{4}/.test(doc.content) && !/[^\x00-\x7f]/.test(doc.content);
		escaping.set(doc, known);
	}
	return known;
}

/** Written as the file's other lines are: letters beyond ASCII as such, unless the file escapes all of them. */
function escape(doc: TextDocument, value: string): string {
	const escaped = value
		.replaceAll('\\', '\\\\')
		.replaceAll('\n', '\\n')
		.replaceAll('\r', '\\r')
		.replaceAll('\t', '\\t')
		.replaceAll('\f', '\\f')
		.replace(/^ /, '\\ ');
	return escapesAll(doc) ? unicode(escaped) : escaped;
}

const escapeKey = (doc: TextDocument, key: string) => escape(doc, key).replace(/(?<!\\)[ =:]|^[#!]/g, '\\$&');

/** Java properties: one `key=text` a line. Each key is a record with the field `text`. */
export const properties: TextFormat = {
	id: 'properties',
	of: 'text',
	endings: ['properties'],
	traits: { fixedIds: true, texts: { one: 'x=', none: () => '' } },
	read,
	set(doc, record, path, value) {
		if (path !== TEXT) throw new EditRefused(`A line of text has one field, “${TEXT}”.`);
		const field = record.fields[0]!;
		// A key with nothing behind it has no mark either: without one the value would become part of the key.
		const bare = field.from === record.idSpan!.to;
		return [{ from: field.from, to: field.to, insert: (bare ? '=' : '') + escape(doc, value) }];
	},
	unset(doc, record) {
		return properties.set(doc, record, TEXT, '');
	},
	rename: (doc, record, id) => [{ ...record.idSpan!, insert: escapeKey(doc, id) }],
	renameKey() {
		throw new EditRefused('A line of text has one value, which has no name; rename the record itself.');
	},
	insert(doc, source, record) {
		if (/(?<!\\)(?:\\\\)*\\$/.test(doc.content.slice(0, doc.records.at(-1)?.to ?? 0)))
			throw new EditRefused(
				'The last line of this file ends in a backslash with nothing after it; fix that first.'
			);
		return insertLines(doc, source.content.slice(record.from, record.to), 0);
	},
	remove: removeLines,
	move: moveLines,
	...NO_LISTS,
	blank: () => ''
};
