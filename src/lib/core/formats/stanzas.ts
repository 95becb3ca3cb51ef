// Records as paragraphs of `Name: value` lines with empty lines between them, as in the head of a mail: a line that begins
// with a space goes on with the value above it, and `#` begins commentary.
import type { Splice } from '../change';
import { toEol } from '../text';
import {
	EditRefused,
	startDocument,
	type OpenDocument,
	type ReadHints,
	type TextDocument,
	type TextFormat
} from './document';
import { lineEnd, nextLine } from './lines';
import { LIST, MAP, TEXT } from './tape';
import { addTreeRecords, type Syntax } from './tree';
import { treeFormat } from './tree-format';

const isBlank = (code: number) => code === 32 || code === 9;

/** End of a line without the spaces before it. */
function contentEnd(text: string, from: number): number {
	let end = lineEnd(text, from);
	while (end > from && isBlank(text.charCodeAt(end - 1))) end--;
	return end;
}

/** End of the value that begins in a line: also of the lines that go on with it. */
function valueEnd(text: string, at: number): { end: number; next: number } {
	let end = contentEnd(text, at);
	let next = nextLine(text, at);
	while (next < text.length && isBlank(text.charCodeAt(next)) && contentEnd(text, next) > next) {
		end = contentEnd(text, next);
		next = nextLine(text, next);
	}
	return { end, next };
}

function scan(doc: OpenDocument): number {
	const { content: text, tape } = doc;
	const root = tape.open(LIST, -1, -1, 0);
	let stanza = -1;
	let last = 0;
	const close = () => {
		if (stanza >= 0) tape.close(stanza, last);
		stanza = -1;
	};
	for (let at = 0; at < text.length;) {
		const end = contentEnd(text, at);
		if (end === at) {
			close();
			at = nextLine(text, at);
			continue;
		}
		if (text[at] === '#') {
			tape.remark(at, end);
			at = nextLine(text, at);
			continue;
		}
		const colon = text.indexOf(':', at);
		if (colon <= at || colon >= end || isBlank(text.charCodeAt(at)) || isBlank(text.charCodeAt(colon - 1))) {
			doc.problem(at, 'This line is neither “Name: value” nor goes on with the one above.');
			at = nextLine(text, at);
			continue;
		}
		if (stanza < 0) stanza = tape.open(MAP, -1, -1, at);
		let from = colon + 1;
		while (from < end && isBlank(text.charCodeAt(from))) from++;
		const value = valueEnd(text, at);
		// An empty value stands one space behind the colon, where the file has one.
		if (from >= value.end) from = Math.min(colon + 2, lineEnd(text, at));
		last = Math.max(from, value.end);
		tape.leaf(TEXT, at, colon, from, last);
		at = value.next;
	}
	close();
	tape.close(root, text.length);
	return root;
}

function checked(value: string): string {
	if (/[\r\n]/.test(value)) throw new EditRefused('A value is written in one line in this file.');
	if (value !== value.trim())
		throw new EditRefused('Spaces at the start or end of a value would be lost in this file.');
	return value;
}

const syntax: Syntax = {
	name: ({ tape, content: text }, node) => text.slice(tape.keyFrom(node), tape.keyTo(node)),
	value: ({ tape, content: text }, node) =>
		text.slice(tape.from(node), tape.to(node)).replace(/[ \t]*(?:\r\n|\n|\r)[ \t]+/g, '\n'),
	writeName(_, name) {
		if (!/^[^\s:#][^\s:]*$/.test(name)) throw new EditRefused(`“${name}” cannot be a name in this file.`);
		return name;
	},
	writeValue({ tape, content: text }, node, value) {
		// Right behind the colon a value would be read as part of nothing else, but it is not how these files look.
		const lead = node >= 0 && value !== '' && text[tape.from(node) - 1] === ':' ? ' ' : '';
		return lead + checked(value);
	},
	pair: ': ',
	inside: ({ tape, content: text }, node) => ({
		from: tape.from(node),
		to: Math.max(tape.from(node), tape.to(node)),
		separators: '',
		lead: toEol(text)
	}),
	repeats: true
};

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('stanzas', text, hints);
	const root = scan(doc);
	doc.tape.finish();
	addTreeRecords(doc, root, syntax);
	return doc;
}

const base = treeFormat('stanzas', ['stanza', 'stanzas'], read, syntax, { untyped: true });

/** Paragraphs of `Name: value` lines. */
export const stanzas: TextFormat = {
	...base,
	insert(doc, source, record) {
		const body = source.content.slice(record.from, record.to);
		const eol = toEol(/[\r\n]/.test(doc.content) ? doc.content : source.content);
		const last = doc.records.at(-1);
		if (last) {
			const at = lineEnd(doc.content, last.to);
			return [{ from: at, to: at, insert: eol + eol + body }];
		}
		const end = doc.content.length;
		const gap = end === 0 ? '' : /[\r\n]$/.test(doc.content) ? eol : eol + eol;
		return [{ from: end, to: end, insert: gap + body + eol }];
	},
	remove({ content: text }, record) {
		const to = lineEnd(text, record.to);
		// With the empty lines above it, from the end of the line that is none.
		let from = record.from;
		for (let at = from; at > 0 && /\s/.test(text[at - 1]!); at--)
			if (/[\r\n]/.test(text[at - 1]!)) from = at - 1;
		if (from > 0) return [{ from, to, insert: '' }];
		const behind = /^\s*/.exec(text.slice(to))![0].length;
		return [{ from: 0, to: to + behind, insert: '' }];
	},
	// Each paragraph goes into the place of another: what is between them stays.
	move(doc, record, to) {
		const order = [...doc.records];
		order.splice(order.indexOf(record), 1);
		order.splice(Math.min(to, order.length), 0, record);
		return doc.records.flatMap(({ from, to: end }, at): Splice[] => {
			const next = order[at]!;
			return next === doc.records[at]
				? []
				: [{ from, to: end, insert: doc.content.slice(next.from, next.to) }];
		});
	}
};
